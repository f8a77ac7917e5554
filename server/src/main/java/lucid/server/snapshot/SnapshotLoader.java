package lucid.server.snapshot;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.concurrent.CompletableFuture;
import java.util.stream.Collectors;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostName;
import lucid.core.fleet.Trait;
import lucid.core.ruling.Decisions;
import lucid.core.update.Advisory;
import lucid.core.update.UpdateId;
import lucid.formats.Content;
import lucid.formats.Documents;
import lucid.formats.RefusedDocumentException;
import lucid.server.evidence.StoredWeights;
import lucid.server.exceptions.ExceptionMapper;
import lucid.server.intake.DocumentMapper;
import lucid.server.intake.EvidenceIntake;
import lucid.server.intake.HostColumns;
import lucid.server.intake.HostMapper;
import lucid.server.intake.ProductDictionary;
import lucid.server.storage.DamagedDataException;
import lucid.server.verdicts.AcknowledgementMapper;
import lucid.server.verdicts.VerdictMapper;
import org.roaringbitmap.RoaringBitmap;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;

/** Makes the snapshot anew from what is stored, at start. */
@Component
class SnapshotLoader {

    private static final Logger LOG = LoggerFactory.getLogger(SnapshotLoader.class);

    private final DocumentMapper documents;
    private final HostMapper hosts;
    private final ProductDictionary dictionary;
    private final EvidenceIntake evidence;
    private final StoredWeights weights;
    private final VerdictMapper verdicts;
    private final ExceptionMapper exceptions;
    private final AcknowledgementMapper answers;

    SnapshotLoader(
            DocumentMapper documents,
            HostMapper hosts,
            ProductDictionary dictionary,
            EvidenceIntake evidence,
            StoredWeights weights,
            VerdictMapper verdicts,
            ExceptionMapper exceptions,
            AcknowledgementMapper answers) {
        this.documents = documents;
        this.hosts = hosts;
        this.dictionary = dictionary;
        this.evidence = evidence;
        this.weights = weights;
        this.verdicts = verdicts;
        this.exceptions = exceptions;
        this.answers = answers;
    }

    /**
     * Documents are played again in the order in which they were taken, since each revision of an update builds on the
     * one before. Advisories in a row are joined together, until one is a revision of another. What hosts have is read
     * meanwhile: both take about as long.
     */
    Snapshot fromStorage() {
        Map<HostName, Map<String, Trait>> told = importedTraits();
        CompletableFuture<Snapshot> withHosts =
                CompletableFuture.supplyAsync(() -> Snapshot.EMPTY.withHosts(storedHosts(told)));
        Snapshot withDocuments = withDocuments();
        return withDocuments
                .with(evidence.since(withDocuments.evidence()))
                .withImportedTraits(told)
                .withHostsOf(withHosts.join())
                .withOutcomes(hosts.outcomes(dictionary))
                .withRetired(retired())
                .with(decisions());
    }

    private Snapshot withDocuments() {
        Map<Long, Set<UpdateId>> parts = documents.parts().stream()
                .collect(Collectors.groupingBy(
                        DocumentMapper.Part::document,
                        Collectors.mapping(part -> new UpdateId(part.subject()), Collectors.toSet())));
        Snapshot snapshot = Snapshot.EMPTY.with(evidence.stored()).with(weights.stored());
        Map<UpdateId, Advisory> row = new LinkedHashMap<>();
        Map<UpdateId, Instant> readAt = new HashMap<>();
        for (DocumentMapper.Taken taken : documents.taken()) {
            Content content;
            try {
                content = Documents.read(contentOf(taken), taken.hints()).content();
            } catch (RefusedDocumentException e) {
                // An earlier version read what this one does not; the document is still kept.
                LOG.warn("Document {} was taken once and does not count any more: {}", taken.number(), e.getMessage());
                continue;
            }
            List<Advisory> counted = content instanceof Content.OfAdvisories advisories
                    ? counted(advisories, parts.getOrDefault(taken.number(), Set.of()))
                    : List.of();
            if (counted.isEmpty() || counted.stream().anyMatch(advisory -> row.containsKey(advisory.id()))) {
                snapshot = snapshot.withAdvisories(row.values(), readAt::get);
                row.clear();
            }
            for (Advisory advisory : counted) {
                row.put(advisory.id(), advisory);
                readAt.put(advisory.id(), taken.received());
            }
            if (content instanceof Content.OfNotice notice) {
                snapshot = snapshot.withNotice(notice.notice(), taken.received());
            } else if (content instanceof Content.OfPopulations populations) {
                snapshot = snapshot.with(populations.ladder());
            } else if (!(content instanceof Content.OfAdvisories)) {
                snapshot = evidence.with(snapshot, content);
            }
        }
        return snapshot.withAdvisories(row.values(), readAt::get);
    }

    /** What was taken keeps its content as long as it counts. */
    private byte[] contentOf(DocumentMapper.Taken taken) {
        byte[] content = documents.content(taken.number()).get(0);
        if (content == null) {
            throw new DamagedDataException("the content of document " + taken.number() + " is gone");
        }
        return content;
    }

    private static List<Advisory> counted(Content.OfAdvisories advisories, Set<UpdateId> ids) {
        return advisories.advisories().stream()
                .filter(advisory -> ids.contains(advisory.id()))
                .toList();
    }

    private RoaringBitmap retired() {
        RoaringBitmap retired = new RoaringBitmap();
        hosts.retired().forEach(row -> retired.add(row.host()));
        return retired;
    }

    private Map<HostName, Map<String, Trait>> importedTraits() {
        Map<HostName, Map<String, Trait>> told = new HashMap<>();
        hosts.importedTraits().forEach(row -> told.put(new HostName(row.host()), HostColumns.readTraits(row.traits())));
        return told;
    }

    private List<Host> storedHosts(Map<HostName, Map<String, Trait>> told) {
        List<Host> all = new ArrayList<>();
        hosts.all()
                .forEach(row -> all.add(row.host(
                        dictionary.products(row.inventory()), told.getOrDefault(new HostName(row.name()), Map.of()))));
        return all;
    }

    private Decisions decisions() {
        return new Decisions(
                verdicts.all().stream().map(VerdictMapper.Row::verdict).toList(),
                exceptions.all().stream().map(ExceptionMapper.Row::exception).toList(),
                answers.all());
    }
}
