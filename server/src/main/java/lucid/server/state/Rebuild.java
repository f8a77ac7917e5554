package lucid.server.state;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.fleet.Host;
import lucid.core.fleet.InstalledProduct;
import lucid.core.ruling.Decisions;
import lucid.formats.Content;
import lucid.formats.Documents;
import lucid.server.exceptions.ExceptionMapper;
import lucid.server.intake.DocumentMapper;
import lucid.server.intake.HostMapper;
import lucid.server.intake.InventoryText;
import lucid.server.verdicts.AnswerMapper;
import lucid.server.verdicts.VerdictMapper;
import org.springframework.stereotype.Component;

/** Makes the picture anew from what is stored, at start. */
@Component
class Rebuild {

    private final DocumentMapper documents;
    private final HostMapper hosts;
    private final VerdictMapper verdicts;
    private final ExceptionMapper exceptions;
    private final AnswerMapper answers;

    Rebuild(DocumentMapper documents, HostMapper hosts, VerdictMapper verdicts, ExceptionMapper exceptions, AnswerMapper answers) {
        this.documents = documents;
        this.hosts = hosts;
        this.verdicts = verdicts;
        this.exceptions = exceptions;
        this.answers = answers;
    }

    Picture fromStorage() {
        Picture picture = Picture.EMPTY;
        for (DocumentMapper.Taken taken : documents.latestTaken()) {
            Content content = Documents.read(taken.content()).content();
            if (content instanceof Content.OfAdvisory advisory) {
                picture = picture.withUpdate(Optional.of(advisory.advisory()), Optional.empty(), taken.firstReceived());
            } else if (content instanceof Content.OfNotice notice) {
                picture = picture.withUpdate(Optional.empty(), Optional.of(notice.notice()), taken.firstReceived());
            } else if (content instanceof Content.OfPopulations populations) {
                picture = picture.with(populations.ladder());
            }
        }
        return picture.withHosts(storedHosts()).with(decisions());
    }

    private List<Host> storedHosts() {
        Map<String, List<InstalledProduct>> inventories = new HashMap<>();
        hosts.inventories().forEach(row -> inventories.put(row.digest(), InventoryText.read(row.content())));
        List<Host> all = new ArrayList<>();
        hosts.all().forEach(row -> all.add(row.host(inventories.get(row.inventory()))));
        return all;
    }

    private Decisions decisions() {
        return new Decisions(
                verdicts.all().stream().map(VerdictMapper.Row::verdict).toList(),
                exceptions.all().stream().map(ExceptionMapper.Row::exception).toList(),
                answers.all());
    }
}
