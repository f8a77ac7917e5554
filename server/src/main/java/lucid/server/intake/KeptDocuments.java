package lucid.server.intake;

import java.nio.charset.StandardCharsets;
import java.security.Principal;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.update.ProductMappings;
import lucid.core.update.UpdateId;
import lucid.formats.Documents;
import lucid.formats.document.Content;
import lucid.formats.document.Format;
import lucid.formats.document.Limits;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.RefusedDocumentException;
import lucid.server.audit.AuditEntry;
import lucid.server.audit.AuditLog;
import lucid.server.intake.DocumentMapper.NewDocument;
import lucid.server.mappings.StoredMappings;
import lucid.server.storage.DamagedDataException;
import lucid.server.web.Digests;
import lucid.server.web.ProblemException;
import org.springframework.dao.DataIntegrityViolationException;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Component;
import tools.jackson.databind.json.JsonMapper;

/**
 * Documents as they came in, kept as proof with what became of them. Everything that writes here stands within
 * {@link lucid.server.snapshot.SnapshotStore#write}.
 */
@Component
public class KeptDocuments {

    private static final int MOST_PROBLEMS = 1_000;
    private static final int MOST_PROBLEMS_OF_A_HOST = 100;

    private final DocumentMapper documents;
    private final RefusedQuota quota;
    private final AuditLog record;
    private final JsonMapper json;
    private final Clock clock;
    private final StoredMappings mappings;

    KeptDocuments(
            DocumentMapper documents,
            RefusedQuota quota,
            AuditLog record,
            JsonMapper json,
            Clock clock,
            StoredMappings mappings) {
        this.mappings = mappings;
        this.documents = documents;
        this.quota = quota;
        this.record = record;
        this.json = json;
        this.clock = clock;
    }

    /** Keeps a document that was read, and records what became of it. */
    public IntakeResult keep(ReadDocument document, Arrival arrival, ContentTaker.Taken taken) {
        boolean open = taken.outcome() == IntakeOutcome.REJECTED || taken.outcome() == IntakeOutcome.WAITING;
        NewDocument row = row(arrival, Optional.of(document), taken.outcome(), taken.provesItself() || open);
        add(row, taken.problems(), arrival);
        storeWhatWasRead(taken, row.number);
        if (taken.outcome() == IntakeOutcome.ACCEPTED) {
            record.append(
                    AuditEntry.Kind.IMPORT,
                    taken.update().or(document::update).map(UpdateId::value).orElse(""),
                    arrival.sender(),
                    document.format().title() + " taken: " + document.subject()
                            + (document.revision().isEmpty() ? "" : ", revision " + document.revision())
                            + (taken.problems().isEmpty()
                                    ? "."
                                    : "; " + taken.problems().size()
                                            + (taken.problems().size() == 1 ? " remark." : " remarks.")));
        }
        if (taken.outcome() == IntakeOutcome.WAITING) {
            record.append(
                    AuditEntry.Kind.IMPORT,
                    "",
                    arrival.sender(),
                    document.format().title() + " waiting to be looked at: " + document.subject() + ".");
        }
        return result(row, Optional.of(document), taken.problems());
    }

    private static void storeWhatWasRead(ContentTaker.Taken taken, long number) {
        try {
            taken.kept().accept(number);
        } catch (DataIntegrityViolationException e) {
            throw new RefusedDocumentException(
                    "", "what it says of one thing is longer than a million characters, which is more than is kept");
        }
    }

    /** Keeps a host report for the sake of what was noticed in it; the record stays as it is. */
    public IntakeResult keepRemarked(ReadDocument document, Arrival arrival, ContentTaker.Taken taken) {
        NewDocument row = row(arrival, Optional.of(document), taken.outcome(), true);
        add(row, taken.problems(), arrival);
        return result(row, Optional.of(document), taken.problems());
    }

    /** Keeps a document that was refused, as far as it is not too long. */
    public IntakeResult keepRefused(Arrival arrival, Optional<ReadDocument> document, List<Problem> problems) {
        NewDocument row = row(
                arrival,
                document,
                IntakeOutcome.REJECTED,
                arrival.incoming().content().length <= Limits.LONGEST_DOCUMENT);
        add(row, problems, arrival);
        // What a host sends of itself stands on Intake; a thousand such must not fill the record.
        if (arrival.sender().onlyHost().isEmpty()) {
            record.append(
                    AuditEntry.Kind.IMPORT,
                    "",
                    arrival.sender(),
                    "Refused: " + arrival.incoming().name() + ".");
        }
        return result(row, document, problems);
    }

    /** Keeps a document that is not trusted: it cannot be tried again, only fetched anew. */
    IntakeResult keepHeld(Arrival arrival, String reason) {
        NewDocument row = row(arrival, Optional.empty(), IntakeOutcome.REJECTED, true);
        List<Problem> problems = List.of(new Problem("", reason));
        add(row, problems, arrival);
        documents.distrust(row.number);
        record.append(
                AuditEntry.Kind.IMPORT,
                "",
                arrival.sender(),
                "Held: " + arrival.incoming().name() + ", " + reason + ".");
        return result(row, Optional.empty(), problems);
    }

    private NewDocument row(
            Arrival arrival, Optional<ReadDocument> document, IntakeOutcome outcome, boolean withContent) {
        Map<String, String> columns = arrival.hints().columns();
        return new NewDocument(
                arrival.incoming().name(),
                arrival.digest(),
                document.map(ReadDocument::format).orElse(null),
                document.map(ReadDocument::subject).orElse(""),
                document.map(ReadDocument::revision).orElse(""),
                outcome,
                arrival.sender().getName(),
                arrival.hints(),
                columns.isEmpty() ? null : json.writeValueAsString(columns),
                withContent ? arrival.incoming().content() : null,
                arrival.incoming().signedBy().orElse(null));
    }

    private static IntakeResult result(NewDocument row, Optional<ReadDocument> document, List<Problem> problems) {
        return new IntakeResult(
                Optional.of(row.number),
                row.name,
                document.map(ReadDocument::format),
                row.subject,
                row.outcome,
                problems);
    }

    private void add(NewDocument document, List<Problem> problems, Arrival arrival) {
        documents.add(document);
        if (document.signedBy != null) {
            documents.settleHeld(document.digest, document.number);
        }
        // The newer try takes the place of the older, also if it was refused for another reason.
        arrival.refusedBefore().ifPresent(number -> documents.triedAgain(number, document.number));
        int most = arrival.sender().onlyHost().isPresent() ? MOST_PROBLEMS_OF_A_HOST : MOST_PROBLEMS;
        for (int i = 0; i < Math.min(problems.size(), most); i++) {
            documents.addProblem(
                    document.number,
                    i,
                    cut(problems.get(i).place(), 1000),
                    cut(problems.get(i).reason(), 4000));
        }
        if (document.outcome == IntakeOutcome.REJECTED || document.outcome == IntakeOutcome.WAITING) {
            quota.keep(arrival.sender());
        }
    }

    static String cut(String text, int longest) {
        return text.length() <= longest ? text : text.substring(0, longest - 1) + "…";
    }

    /** A document that counts or counted. */
    public record Kept(long number, Instant createdAt, String author) {}

    /** Accepted documents of a format, the newest first. */
    public List<Kept> accepted(Format format) {
        return documents.accepted(format);
    }

    /**
     * Keeps a document that was written here as one that came in.
     *
     * @param proposal number of the document that it takes the place of, which waits no longer
     * @return its number
     * @throws ProblemException 409 if the proposal does not wait any more
     */
    public long keepOwn(
            String name, Format format, String subject, String content, Optional<Long> proposal, Principal author) {
        byte[] bytes = content.getBytes(StandardCharsets.UTF_8);
        NewDocument kept = new NewDocument(
                name,
                Digests.sha256(bytes),
                format,
                subject,
                "",
                IntakeOutcome.ACCEPTED,
                author.getName(),
                ReadingHints.none(clock.instant()),
                null,
                bytes,
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

    /** True if this very content was accepted before. */
    public boolean wasAccepted(Arrival arrival) {
        return documents.timesTaken(arrival.digest()) > 0;
    }

    /** True if this very content is the newest of its format that was accepted. */
    public boolean isNewest(Format format, Arrival arrival) {
        return documents.newestDigest(format).filter(arrival.digest()::equals).isPresent();
    }

    /** Forgets the content of all documents of a format before this one; only that one counts. */
    public void forgetBefore(Format format, long newest) {
        documents.forgetBefore(format, newest);
    }

    /** Fingerprint of the trusted key that signed a document; empty if it was not checked. */
    public Optional<String> signedBy(long number) {
        return Optional.ofNullable(documents.signedBy(number));
    }

    /** What the newest accepted document of a format says. */
    public Optional<Content> newest(Format format) {
        return documents.newest(format).map(newest -> read(newest).content());
    }

    /** What a document that was kept says, by its number. */
    public Content content(long number) {
        return Documents.read(bytes(number), ReadingHints.none(clock.instant())).content();
    }

    /**
     * What a kept document says, as it is read now.
     *
     * @throws RefusedDocumentException if it cannot be read any more
     */
    public Content readAgain(long document) {
        return read(documents.asAccepted(document)).content();
    }

    /** A kept document, read with other mappings than those in use. */
    ReadDocument read(DocumentMapper.Accepted document, ProductMappings others) {
        return Documents.read(bytes(document.number()), document.hints(others));
    }

    ReadDocument read(DocumentMapper.Accepted document) {
        return Documents.read(bytes(document.number()), document.hints(mappings.inUse()));
    }

    static DamagedDataException contentGone(long number) {
        return new DamagedDataException("the content of document " + number + " is gone");
    }

    /** What was taken keeps its content as long as it counts. */
    private byte[] bytes(long number) {
        byte[] content = documents.content(number).get(0);
        if (content == null) {
            throw contentGone(number);
        }
        return content;
    }
}
