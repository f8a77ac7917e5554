package lucid.server.intake;

import java.util.Collection;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import lucid.formats.document.Content;
import lucid.formats.document.RefusedDocumentException;
import lucid.server.intake.DocumentMapper.Accepted;
import lucid.server.snapshot.Snapshot;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.DataIntegrityViolationException;
import org.springframework.stereotype.Component;

/** Lets kept documents count as they are read now; within {@link lucid.server.snapshot.SnapshotStore#write}. */
@Component
class Rereading {

    private static final Logger LOG = LoggerFactory.getLogger(Rereading.class);

    private final KeptDocuments documents;
    private final List<ReadingTaker> takers;

    Rereading(KeptDocuments documents, List<ReadingTaker> takers) {
        this.documents = documents;
        this.takers = takers;
    }

    ReadingTaker taker(Content content) {
        return takers.stream().filter(taker -> taker.takes(content)).findFirst().orElseThrow();
    }

    /** Those that cannot be read any more count on as they were read. */
    Snapshot count(Snapshot snapshot, Collection<Accepted> again) {
        Set<ReadingTaker> changed = new LinkedHashSet<>();
        for (Accepted document : again) {
            try {
                Content content = documents.read(document).content();
                ReadingTaker taker = taker(content);
                if (!taker.differences(document.number(), content).isEmpty()) {
                    taker.store(document.number(), content);
                    changed.add(taker);
                }
            } catch (RefusedDocumentException | DataIntegrityViolationException e) {
                LOG.warn("Document {} counts on as it was read: {}", document.number(), e.getMessage());
            }
        }
        Snapshot next = snapshot;
        for (ReadingTaker taker : changed) {
            next = taker.load().apply(next);
        }
        return next;
    }

    /** @throws RefusedDocumentException if it cannot be read any more */
    Snapshot count(Snapshot snapshot, Accepted document) {
        Content content = documents.read(document).content();
        ReadingTaker taker = taker(content);
        taker.store(document.number(), content);
        return taker.load().apply(snapshot);
    }
}
