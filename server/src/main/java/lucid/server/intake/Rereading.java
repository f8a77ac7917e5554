package lucid.server.intake;

import java.util.ArrayList;
import java.util.Collection;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Set;
import java.util.function.Function;
import lucid.core.update.ProductMappings;
import lucid.formats.document.Content;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.RefusedDocumentException;
import lucid.server.intake.DocumentMapper.Accepted;
import lucid.server.snapshot.Snapshot;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.dao.DataIntegrityViolationException;
import org.springframework.stereotype.Component;

/** Lets kept documents count as they are read now. */
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

    /** What a kept document says, read otherwise than it counts. */
    record ReadOtherwise(long document, Content content) {}

    /**
     * Those of the documents that are read otherwise than they count. What cannot be read any more is none of them: it
     * counts on as it was read. Nothing is changed, so that it need not keep writers waiting.
     */
    List<ReadOtherwise> compared(Collection<Accepted> again, ProductMappings mappings) {
        return compared(again, document -> documents.read(document, mappings));
    }

    /** As {@link #compared(Collection, ProductMappings)}, with the mappings in use. */
    List<ReadOtherwise> compared(Collection<Accepted> again) {
        return compared(again, documents::read);
    }

    private List<ReadOtherwise> compared(Collection<Accepted> again, Function<Accepted, ReadDocument> reader) {
        List<ReadOtherwise> otherwise = new ArrayList<>();
        for (Accepted document : again) {
            try {
                Content content = reader.apply(document).content();
                if (!taker(content).differences(document.number(), content).isEmpty()) {
                    otherwise.add(new ReadOtherwise(document.number(), content));
                }
            } catch (RefusedDocumentException | DataIntegrityViolationException e) {
                LOG.warn("Document {} counts on as it was read: {}", document.number(), e.getMessage());
            }
        }
        return otherwise;
    }

    /** Lets them count so; within {@link lucid.server.snapshot.SnapshotStore#write}. */
    Snapshot count(Snapshot snapshot, Collection<ReadOtherwise> otherwise) {
        Set<ReadingTaker> changed = new LinkedHashSet<>();
        otherwise.forEach(one -> {
            ReadingTaker taker = taker(one.content());
            taker.store(one.document(), one.content());
            changed.add(taker);
        });
        Snapshot next = snapshot;
        for (ReadingTaker taker : changed) {
            next = taker.load().apply(next);
        }
        return next;
    }

    /**
     * Lets a document count as it is read now; within {@link lucid.server.snapshot.SnapshotStore#write}.
     *
     * @throws RefusedDocumentException if it cannot be read any more
     */
    Snapshot count(Snapshot snapshot, Accepted document) {
        Content content = documents.read(document).content();
        ReadingTaker taker = taker(content);
        taker.store(document.number(), content);
        return taker.load().apply(snapshot);
    }
}
