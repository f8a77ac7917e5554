package lucid.server.intake;

import java.security.Principal;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import lucid.formats.document.Content;
import lucid.formats.document.Format;
import lucid.formats.document.RefusedDocumentException;
import lucid.server.audit.AuditEntry;
import lucid.server.intake.DocumentMapper.Accepted;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotPart;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.ProblemException;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.boot.context.event.ApplicationReadyEvent;
import org.springframework.context.event.EventListener;
import org.springframework.dao.DataIntegrityViolationException;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionTemplate;

/**
 * Reads kept documents again when their reader has learned. What was read of a document counts on; where the newer
 * reader reads it otherwise, that is shown, and counts once somebody says so.
 */
@Component
class DocumentReadings {

    private static final Logger LOG = LoggerFactory.getLogger(DocumentReadings.class);
    private static final int MOST_SHOWN = 50;

    private final SnapshotStore store;
    private final DocumentMapper mapper;
    private final KeptDocuments documents;
    private final Rereading rereading;

    DocumentReadings(SnapshotStore store, DocumentMapper mapper, KeptDocuments documents, Rereading rereading) {
        this.store = store;
        this.mapper = mapper;
        this.documents = documents;
        this.rereading = rereading;
    }

    /** Everything that was accepted is compared once with each newer reader; others work meanwhile. */
    @EventListener(ApplicationReadyEvent.class)
    void compareInBackground() {
        Thread thread = new Thread(this::compare, "documents-read-again");
        thread.setDaemon(true);
        thread.start();
    }

    private void compare() {
        for (Format format : Format.values()) {
            if (format.reader() > 0) {
                mapper.notReadBy(format, format.reader()).forEach(this::compare);
            }
        }
    }

    private void compare(Accepted document) {
        try {
            boolean same = again(document).isTheSame();
            store.write(snapshot -> {
                if (same) {
                    mapper.readBy(document.number(), document.format().reader());
                } else {
                    mapper.comparedBy(document.number(), document.format().reader());
                }
                return new SnapshotStore.Change<>(snapshot, true);
            });
        } catch (RuntimeException e) {
            LOG.warn("Document {} could not be read again", document.number(), e);
        }
    }

    /**
     * A document that the newer reader reads otherwise than it counts.
     *
     * @param refused why the newer reader refuses it, where it does
     * @param differences at most 50
     * @param more how many there are beside these
     */
    record ReadOtherwise(
            long number,
            String name,
            String formatTitle,
            String subject,
            Optional<String> refused,
            List<ReadingDifference> differences,
            int more) {

        boolean isTheSame() {
            return refused.isEmpty() && differences.isEmpty();
        }
    }

    /** The first of them: each is read again for it. */
    List<ReadOtherwise> readOtherwise() {
        return mapper.readOtherwise().stream()
                .limit(MOST_SHOWN)
                .map(this::again)
                .toList();
    }

    /** Lets all of them count as they are read now; those that cannot be read any more count on as they were read. */
    void settleAll(Principal who) {
        List<Accepted> known = mapper.readOtherwise();
        List<Rereading.ReadOtherwise> otherwise = rereading.compared(known);
        store.write(snapshot -> {
            List<Accepted> all =
                    mapper.readOtherwise().stream().filter(known::contains).toList();
            Set<Long> open = all.stream().map(Accepted::number).collect(Collectors.toSet());
            Snapshot next = rereading.count(
                    snapshot,
                    otherwise.stream()
                            .filter(one -> open.contains(one.document()))
                            .toList());
            all.forEach(document ->
                    mapper.readBy(document.number(), document.format().reader()));
            store.record(
                    AuditEntry.Kind.IMPORT, "", who, "All " + all.size() + " documents count as they are read now.");
            return new SnapshotStore.Change<>(next, true);
        });
    }

    private ReadOtherwise again(Accepted document) {
        Optional<String> refused = Optional.empty();
        List<ReadingDifference> differences = List.of();
        try {
            Content content = documents.read(document).content();
            differences = rereading.taker(content).differences(document.number(), content);
        } catch (RefusedDocumentException e) {
            refused = Optional.of(e.getMessage());
        }
        int shown = Math.min(MOST_SHOWN, differences.size());
        return new ReadOtherwise(
                document.number(),
                document.name(),
                document.format().title(),
                document.subject(),
                refused,
                differences.subList(0, shown),
                differences.size() - shown);
    }

    /**
     * Settles how a document counts: as it is read now, or as it was.
     *
     * @throws ProblemException 409 if it is not read otherwise, or cannot be read any more
     */
    void settle(long number, boolean asReadNow, Principal who) {
        store.write(snapshot -> {
            Accepted document = mapper.readOtherwise().stream()
                    .filter(other -> other.number() == number)
                    .findFirst()
                    .orElseThrow(() -> new ProblemException(
                            HttpStatus.CONFLICT, "number", "document " + number + " is not read otherwise any more"));
            Snapshot next = asReadNow ? counted(snapshot, document) : snapshot;
            mapper.readBy(number, document.format().reader());
            store.record(
                    AuditEntry.Kind.IMPORT,
                    "",
                    who,
                    "Document " + number + ", " + document.name() + ", counts "
                            + (asReadNow ? "as it is read now." : "as it was read before."));
            return new SnapshotStore.Change<>(next, true);
        });
    }

    private Snapshot counted(Snapshot snapshot, Accepted document) {
        try {
            return rereading.count(snapshot, document);
        } catch (RefusedDocumentException e) {
            throw new ProblemException(HttpStatus.CONFLICT, "number", "it cannot be read any more: " + e.getMessage());
        }
    }

    /** Reads what older versions kept only as documents, before the first snapshot is made of it. */
    @Component
    static class FirstReading implements SnapshotPart.Preparation {

        /** So many take more than a moment. */
        private static final int MANY = 100;

        private final DocumentMapper mapper;
        private final KeptDocuments documents;
        private final List<ReadingTaker> takers;

        private final TransactionTemplate transaction;

        FirstReading(
                DocumentMapper mapper,
                KeptDocuments documents,
                List<ReadingTaker> takers,
                TransactionTemplate transaction) {
            this.transaction = transaction;
            this.mapper = mapper;
            this.documents = documents;
            this.takers = takers;
        }

        @Override
        public void prepare() {
            mapper.withoutContent().stream().findFirst().ifPresent(number -> {
                throw KeptDocuments.contentGone(number);
            });
            List<Accepted> unread = mapper.neverRead(Stream.of(Format.values())
                    .filter(format -> format.reader() > 0)
                    .toList());
            if (unread.size() > MANY) {
                System.out.println(
                        "What " + unread.size() + " documents say is read once more and kept from now on ...");
            }
            unread.forEach(this::read);
        }

        private void read(Accepted document) {
            try {
                Content content = documents.read(document).content();
                transaction.executeWithoutResult(status -> {
                    takers.stream()
                            .filter(taker -> taker.takes(content))
                            .forEach(taker -> taker.store(document.number(), content));
                    mapper.readBy(document.number(), document.format().reader());
                });
            } catch (RefusedDocumentException | DataIntegrityViolationException e) {
                LOG.warn("Document {} was taken once and cannot be read now: {}", document.number(), e.getMessage());
                mapper.comparedBy(document.number(), document.format().reader());
            }
        }
    }
}
