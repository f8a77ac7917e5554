package lucid.server.intake;

import java.nio.charset.StandardCharsets;
import java.security.Principal;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.fleet.Ladder;
import lucid.formats.Content;
import lucid.formats.Documents;
import lucid.formats.Format;
import lucid.formats.ReadingHints;
import lucid.formats.populations.PopulationsWriter;
import lucid.server.intake.DocumentMapper.NewDocument;
import lucid.server.intake.DocumentMapper.Outcome;
import lucid.server.web.Digests;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Component;

/**
 * A ladder that is changed here is kept as one that came in: as a document, so that every earlier one can be had again.
 */
@Component
public class LadderDocuments {

    private final DocumentMapper documents;
    private final Clock clock;

    LadderDocuments(DocumentMapper documents, Clock clock) {
        this.documents = documents;
        this.clock = clock;
    }

    /** @param number of the document, whose content can be had */
    public record Kept(long number, Instant createdAt, String author) {}

    /**
     * Within {@link lucid.server.snapshot.SnapshotStore#write}.
     *
     * @param proposal number of the document that proposed it, which waits no longer
     * @return number of the document
     */
    public long keep(Ladder ladder, Optional<Long> proposal, Principal author) {
        byte[] content = PopulationsWriter.write(ladder).getBytes(StandardCharsets.UTF_8);
        NewDocument kept = new NewDocument(
                "populations.json",
                Digests.sha256(content),
                Format.POPULATIONS,
                ladder.populations().size() + " populations",
                "",
                Outcome.ACCEPTED,
                author.getName(),
                new ReadingHints(Optional.empty(), Optional.empty(), Map.of(), clock.instant()),
                null,
                content,
                null);
        documents.add(kept);
        proposal.ifPresent(number -> {
            if (documents.isSettled(number)) {
                throw new ProblemException(
                        HttpStatus.CONFLICT, "document", "document " + number + " does not wait any more");
            }
            documents.triedAgain(number, kept.number);
        });
        return kept.number;
    }

    /** The ladder that held before the present one; empty if the present one is not that of this document. */
    public Optional<Ladder> before(long document) {
        List<Kept> all = documents.ladders();
        if (all.isEmpty() || all.get(0).number() != document) {
            return Optional.empty();
        }
        return Optional.of(all.size() < 2 ? Ladder.EMPTY : ladder(all.get(1).number()));
    }

    private Ladder ladder(long document) {
        Content content = Documents.read(documents.content(document).get(0), ReadingHints.none(clock.instant()))
                .content();
        return ((Content.OfPopulations) content).ladder();
    }

    /** The newest first. */
    public List<Kept> all() {
        return documents.ladders();
    }
}
