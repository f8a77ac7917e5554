package lucid.server.intake;

import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.core.fleet.HostName;
import lucid.core.fleet.Ladder;
import lucid.core.update.Advisory;
import lucid.core.update.UpdateId;
import lucid.core.version.VersionOrdering;
import lucid.formats.Content;
import lucid.formats.Documents;
import lucid.formats.Format;
import lucid.formats.Problem;
import lucid.formats.ReadDocument;
import lucid.formats.ReadingHints;
import lucid.formats.RefusedDocumentException;
import lucid.formats.Texts;
import lucid.server.access.Bringer;
import lucid.server.audit.AuditEntry;
import lucid.server.intake.DocumentMapper.NewDocument;
import lucid.server.intake.DocumentMapper.Outcome;
import lucid.server.snapshot.RequestKey;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.Digests;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Service;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.json.JsonMapper;

/** Takes documents in: each by itself, so that the good ones of a batch are kept. */
@Service
public class IntakeService {

    private static final int MOST_PROBLEMS = 1_000;
    private static final int MOST_PROBLEMS_OF_A_HOST = 100;
    private static final int LONGEST_NAME = 500;
    private static final int LONGEST_HINT = 200;
    private static final TypeReference<Map<String, String>> COLUMNS = new TypeReference<>() {};

    private final SnapshotStore store;
    private final DocumentMapper documents;
    private final HostIntake hosts;
    private final EvidenceIntake evidence;
    private final RefusedQuota quota;
    private final NewProducts newProducts;
    private final HostPace pace;
    private final JsonMapper json;
    private final Clock clock;
    private final GroupCommit<Report, Result> reports = new GroupCommit<>(this::write);

    IntakeService(
            SnapshotStore store,
            DocumentMapper documents,
            HostIntake hosts,
            EvidenceIntake evidence,
            RefusedQuota quota,
            NewProducts newProducts,
            HostPace pace,
            JsonMapper json,
            Clock clock) {
        this.quota = quota;
        this.newProducts = newProducts;
        this.pace = pace;
        this.store = store;
        this.documents = documents;
        this.hosts = hosts;
        this.evidence = evidence;
        this.json = json;
        this.clock = clock;
    }

    /**
     * A document on its way in.
     *
     * @param columns what each column of a table is, by its heading; empty: as the headings suggest
     * @param signedBy fingerprint of the trusted key that signed it, where that was checked
     */
    public record Incoming(
            String name,
            byte[] content,
            Optional<String> namespace,
            Optional<String> distro,
            Map<String, String> columns,
            Optional<String> signedBy) {

        public Incoming(
                String name,
                byte[] content,
                Optional<String> namespace,
                Optional<String> distro,
                Map<String, String> columns) {
            this(name, content, namespace, distro, columns, Optional.empty());
        }

        public Incoming {
            name = cut(Texts.shown(name), LONGEST_NAME);
            namespace = hint("namespace", namespace);
            distro = hint("distro", distro);
        }
    }

    private static Optional<String> hint(String field, Optional<String> text) {
        try {
            return text.map(Texts::line).filter(line -> !line.isEmpty()).map(line -> {
                if (line.length() > LONGEST_HINT) {
                    throw new IllegalArgumentException("has at most " + LONGEST_HINT + " characters");
                }
                return line;
            });
        } catch (IllegalArgumentException e) {
            throw ProblemException.badField(field, "it " + e.getMessage());
        }
    }

    /**
     * How one document fared.
     *
     * @param number by which it is found again; none for a host report without any problem
     * @param subject the update's identifier, the host's name, or how many
     * @param problems what was left out, or why it was refused
     */
    public record Result(
            Optional<Long> number,
            String name,
            Optional<Format> format,
            String subject,
            Outcome outcome,
            List<Problem> problems) {}

    /**
     * Who brings a document, and by which key the same request is known again.
     *
     * @param refusedBefore number under which the same document was refused before, if it is tried again
     */
    private record Bringing(
            Incoming incoming,
            ReadingHints hints,
            Bringer sender,
            Optional<RequestKey> key,
            Optional<Long> refusedBefore) {
        String digest() {
            return Digests.sha256(incoming.content());
        }

        long length() {
            return incoming.content().length;
        }
    }

    private Bringing bringing(
            Incoming incoming, Bringer sender, Optional<RequestKey> key, Optional<Long> refusedBefore) {
        Optional<String> namespace = incoming.namespace().or(this::onlyNamespace);
        return new Bringing(
                incoming,
                new ReadingHints(namespace, incoming.distro(), incoming.columns(), clock.instant()),
                sender,
                key,
                refusedBefore);
    }

    /** Where all rpm hosts report packages of one namespace, an updateinfo is of that. */
    private Optional<String> onlyNamespace() {
        List<String> namespaces = namespaces();
        return namespaces.size() == 1 ? Optional.of(namespaces.get(0)) : Optional.empty();
    }

    /** Namespaces of the rpm packages that hosts report. */
    List<String> namespaces() {
        return store.snapshot().carriages().installed().products().stream()
                .filter(product -> product.type().equals("rpm"))
                .map(product -> product.namespace())
                .filter(n -> !n.isEmpty())
                .distinct()
                .sorted()
                .toList();
    }

    /** Reads, stores and records one document. */
    public Result take(Incoming incoming, Bringer sender, Optional<RequestKey> key) {
        return take(bringing(incoming, sender, key, Optional.empty()));
    }

    /**
     * As {@link #take}, as a part of a change that somebody else makes.
     *
     * @throws RefusedDocumentException if it is refused; then nothing of it is kept
     */
    public SnapshotStore.Change<Result> within(Snapshot snapshot, Incoming incoming, Bringer sender) {
        Bringing bringing = bringing(incoming, sender, Optional.empty(), Optional.empty());
        return take(snapshot, Documents.read(incoming.content(), bringing.hints()), bringing);
    }

    private Result take(Bringing bringing) {
        ReadDocument document;
        try {
            document = Documents.read(bringing.incoming().content(), bringing.hints());
            if (document.content() instanceof Content.OfRepository) {
                throw new RefusedDocumentException(
                        "",
                        "this only says where the updateinfo of the repository lies; bring both together, or give this file to 'lucid import', which follows it");
            }
        } catch (RefusedDocumentException e) {
            return refuse(bringing, Optional.empty(), e.problems());
        }
        return take(bringing, document);
    }

    private Result take(Bringing bringing, ReadDocument document) {
        try {
            return store.writeOnce(
                    bringing.key(), bringing.length(), Result.class, snapshot -> take(snapshot, document, bringing));
        } catch (RefusedDocumentException e) {
            return refuse(bringing, Optional.of(document), e.problems());
        }
    }

    /**
     * Keeps a document that is not trusted, with the reason; it cannot be tried again, only fetched anew.
     *
     * @param reason why its hash or signature does not make it trustworthy
     */
    public Result hold(Incoming incoming, String reason, Bringer sender) {
        Bringing bringing = bringing(incoming, sender, Optional.empty(), Optional.empty());
        return store.write(snapshot -> {
            NewDocument row = row(bringing, Optional.empty(), Outcome.REJECTED, true);
            keep(row, List.of(new Problem("", reason)), bringing);
            documents.distrust(row.number);
            store.record(AuditEntry.Kind.IMPORT, "", sender, "Held: " + incoming.name() + ", " + reason + ".");
            return new SnapshotStore.Change<>(
                    snapshot, result(row, Optional.empty(), List.of(new Problem("", reason))));
        });
    }

    /** True if this very content came in before, whatever became of it. */
    public boolean isKnown(byte[] content) {
        return documents.timesSeen(Digests.sha256(content)) > 0;
    }

    private SnapshotStore.Change<Result> take(Snapshot snapshot, ReadDocument document, Bringing bringing) {
        Content content = document.content();
        // The one place that all documents pass, whichever way they come.
        requireMayBring(bringing.sender(), document.format());
        if (content instanceof Content.OfInventory inventory) {
            return ofHosts(hosts.take(snapshot, inventory, document.format() != Format.INVENTORY), document, bringing);
        }
        if (content instanceof Content.OfTraits traits) {
            return ofHosts(hosts.tell(snapshot, traits.rows()), document, bringing);
        }
        if (content instanceof Content.OfPopulations populations) {
            return new SnapshotStore.Change<>(snapshot, proposed(snapshot, populations.ladder(), document, bringing));
        }
        if (EvidenceIntake.takes(content)) {
            return ofEvidence(snapshot, document, bringing);
        }
        return ofUpdates(snapshot, document, bringing);
    }

    static void requireMayBring(Bringer sender, Format format) {
        if (!sender.formats().contains(format)) {
            throw new RefusedDocumentException(
                    "",
                    sender.getName() + " may not bring this: " + format.title()
                            + ". Somebody who may can take it with 'Try again', or an administrator lets the sender bring it on the page Access");
        }
    }

    /**
     * Populations move hosts between rules: they count once somebody has seen what they would change, never as they
     * come in.
     */
    private Result proposed(Snapshot snapshot, Ladder ladder, ReadDocument document, Bringing bringing) {
        if (ladder.equals(snapshot.fleet().ladder())) {
            return keep(document, bringing, Outcome.DUPLICATE, document.problems(), List.of());
        }
        return keep(
                document,
                bringing,
                Outcome.WAITING,
                join(
                        document.problems(),
                        List.of(
                                new Problem(
                                        "",
                                        "it waits for somebody to see on Populations what it would change, and to save it there"))),
                List.of());
    }

    private SnapshotStore.Change<Result> ofEvidence(Snapshot snapshot, ReadDocument document, Bringing bringing) {
        if (evidence.isOlder(snapshot.evidence(), document.content())) {
            return new SnapshotStore.Change<>(
                    snapshot, keep(document, bringing, Outcome.STALE, document.problems(), List.of()));
        }
        List<Problem> problems = join(
                document.problems(),
                evidence.remarks(
                        snapshot, document.content(), bringing.refusedBefore().isPresent()));
        Snapshot next = evidence.with(snapshot, document.content());
        if (next.evidence().equals(snapshot.evidence())
                || documents
                        .newestDigest(document.format())
                        .filter(bringing.digest()::equals)
                        .isPresent()) {
            return new SnapshotStore.Change<>(
                    snapshot, keep(document, bringing, Outcome.DUPLICATE, problems, List.of()));
        }
        evidence.store(snapshot.evidence(), next.evidence());
        Result result = keep(document, bringing, Outcome.ACCEPTED, problems, List.of());
        if (EvidenceIntake.onlyNewestCounts(document.content())) {
            documents.forgetBefore(document.format(), result.number().orElseThrow());
        }
        return new SnapshotStore.Change<>(next, result);
    }

    private SnapshotStore.Change<Result> ofHosts(
            SnapshotStore.Change<HostIntake.Taken> taken, ReadDocument document, Bringing bringing) {
        List<Problem> problems = join(document.problems(), taken.answer().problems());
        return new SnapshotStore.Change<>(
                taken.next(), keep(document, bringing, outcomeOfHosts(taken.answer(), problems), problems, List.of()));
    }

    private static Outcome outcomeOfHosts(HostIntake.Taken taken, List<Problem> problems) {
        return taken.taken() > 0 ? Outcome.ACCEPTED : problems.isEmpty() ? Outcome.DUPLICATE : Outcome.REJECTED;
    }

    /** An update as a document tells it, whatever the format. */
    private record Part(UpdateId id, String revision) {}

    /** The same content twice changes nothing, and an older revision never replaces a newer one. */
    private SnapshotStore.Change<Result> ofUpdates(Snapshot snapshot, ReadDocument document, Bringing bringing) {
        if (documents.timesTaken(bringing.digest()) > 0) {
            return new SnapshotStore.Change<>(
                    snapshot, keep(document, bringing, Outcome.DUPLICATE, document.problems(), List.of()));
        }
        if (document.content() instanceof Content.OfNotice notice) {
            Part part = new Part(notice.notice().id(), notice.notice().revision());
            if (isOlder(document.format(), part)) {
                return new SnapshotStore.Change<>(
                        snapshot, keep(document, bringing, Outcome.STALE, document.problems(), List.of()));
            }
            Snapshot next = joined(
                    part.id(),
                    () -> snapshot.withNotice(notice.notice(), bringing.hints().received()));
            return new SnapshotStore.Change<>(
                    next, keep(document, bringing, Outcome.ACCEPTED, document.problems(), List.of(part)));
        }
        List<Problem> problems = new ArrayList<>(document.problems());
        List<Part> parts = new ArrayList<>();
        Snapshot next = snapshot;
        boolean older = false;
        for (Advisory advisory : ((Content.OfAdvisories) document.content()).advisories()) {
            Part part = new Part(advisory.id(), advisory.revision());
            if (isOlder(document.format(), part)) {
                older = true;
            } else if (!snapshot.advisories()
                    .getOrDefault(advisory.id(), List.of())
                    .contains(advisory)) {
                try {
                    Snapshot before = next;
                    next = joined(
                            advisory.id(),
                            () -> before.withAdvisories(
                                    List.of(advisory), id -> bringing.hints().received()));
                    parts.add(part);
                } catch (RefusedDocumentException e) {
                    problems.addAll(e.problems());
                }
            }
        }
        if (parts.isEmpty() && problems.size() > document.problems().size()) {
            throw new RefusedDocumentException(problems);
        }
        Outcome outcome = !parts.isEmpty() ? Outcome.ACCEPTED : older ? Outcome.STALE : Outcome.DUPLICATE;
        return new SnapshotStore.Change<>(next, keep(document, bringing, outcome, problems, parts));
    }

    private boolean isOlder(Format format, Part part) {
        return documents
                .newestRevision(format, part.id().value())
                .filter(newest -> VersionOrdering.DOTTED.compare(part.revision(), newest) < 0)
                .isPresent();
    }

    private interface Joining {
        Snapshot join();
    }

    private static Snapshot joined(UpdateId id, Joining joining) {
        try {
            return joining.join();
        } catch (IllegalArgumentException e) {
            // Advisory and notice are sound by themselves, but say different things of one product.
            throw new RefusedDocumentException("", "it contradicts what is known of " + id + ": " + e.getMessage());
        }
    }

    private Result keep(
            ReadDocument document, Bringing bringing, Outcome outcome, List<Problem> problems, List<Part> parts) {
        boolean ofHosts =
                document.content() instanceof Content.OfInventory || document.content() instanceof Content.OfTraits;
        NewDocument row = row(
                bringing,
                Optional.of(document),
                outcome,
                !ofHosts || outcome == Outcome.REJECTED || outcome == Outcome.WAITING);
        keep(row, problems, bringing);
        parts.forEach(part ->
                documents.addPart(row.number, document.format(), part.id().value(), part.revision()));
        if (outcome == Outcome.ACCEPTED) {
            String update = (parts.size() == 1 ? Optional.of(parts.get(0).id()) : document.update())
                    .map(UpdateId::value)
                    .orElse("");
            store.record(
                    AuditEntry.Kind.IMPORT,
                    update,
                    bringing.sender(),
                    document.format().title() + " taken: " + document.subject()
                            + (document.revision().isEmpty() ? "" : ", revision " + document.revision())
                            + (problems.isEmpty()
                                    ? "."
                                    : "; " + problems.size() + (problems.size() == 1 ? " remark." : " remarks.")));
        }
        if (outcome == Outcome.WAITING) {
            store.record(
                    AuditEntry.Kind.IMPORT,
                    "",
                    bringing.sender(),
                    document.format().title() + " waiting to be looked at: " + document.subject() + ".");
        }
        return result(row, Optional.of(document), problems);
    }

    private Result refuse(Bringing bringing, Optional<ReadDocument> document, List<Problem> problems) {
        return store.writeOnce(bringing.key(), bringing.length(), Result.class, snapshot -> {
            NewDocument row = row(
                    bringing, document, Outcome.REJECTED, bringing.incoming().content().length <= Documents.LONGEST);
            keep(row, problems, bringing);
            // What a host sends of itself stands on Intake; a thousand such must not fill the record.
            if (bringing.sender().onlyHost().isEmpty()) {
                store.record(
                        AuditEntry.Kind.IMPORT,
                        "",
                        bringing.sender(),
                        "Refused: " + bringing.incoming().name() + ".");
            }
            return new SnapshotStore.Change<>(snapshot, result(row, document, problems));
        });
    }

    private NewDocument row(Bringing bringing, Optional<ReadDocument> document, Outcome outcome, boolean withContent) {
        Map<String, String> columns = bringing.hints().columns();
        return new NewDocument(
                bringing.incoming().name(),
                bringing.digest(),
                document.map(ReadDocument::format).orElse(null),
                document.map(ReadDocument::subject).orElse(""),
                document.map(ReadDocument::revision).orElse(""),
                outcome,
                bringing.sender().getName(),
                bringing.hints(),
                columns.isEmpty() ? null : json.writeValueAsString(columns),
                withContent ? bringing.incoming().content() : null,
                bringing.incoming().signedBy().orElse(null));
    }

    private static Result result(NewDocument row, Optional<ReadDocument> document, List<Problem> problems) {
        return new Result(
                Optional.of(row.number),
                row.name,
                document.map(ReadDocument::format),
                row.subject,
                row.outcome,
                problems);
    }

    private void keep(NewDocument document, List<Problem> problems, Bringing bringing) {
        documents.add(document);
        if (document.signedBy != null) {
            documents.settleHeld(document.digest, document.number);
        }
        // The newer try takes the place of the older, also if it was refused for another reason.
        bringing.refusedBefore().ifPresent(number -> documents.triedAgain(number, document.number));
        int most = bringing.sender().onlyHost().isPresent() ? MOST_PROBLEMS_OF_A_HOST : MOST_PROBLEMS;
        for (int i = 0; i < Math.min(problems.size(), most); i++) {
            documents.addProblem(
                    document.number,
                    i,
                    cut(problems.get(i).place(), 1000),
                    cut(problems.get(i).reason(), 4000));
        }
        if (document.outcome == Outcome.REJECTED || document.outcome == Outcome.WAITING) {
            quota.keep(bringing.sender());
        }
    }

    /** Files that came together: the index of a repository tells whether the updateinfo beside it is whole. */
    List<Result> takeBatch(List<Incoming> files, Bringer sender, List<Optional<RequestKey>> keys) {
        RepositoryBatch repository = RepositoryBatch.of(files);
        List<Result> results = new ArrayList<>();
        for (int i = 0; i < files.size(); i++) {
            Incoming file = files.get(i);
            Optional<RequestKey> key = keys.get(i);
            results.add(repository
                    .problem(file)
                    .map(problem ->
                            refuse(bringing(file, sender, key, Optional.empty()), Optional.empty(), List.of(problem)))
                    .or(() -> repository
                            .index(file)
                            .map(index -> store.writeOnce(
                                    key,
                                    file.content().length,
                                    Result.class,
                                    snapshot -> new SnapshotStore.Change<>(
                                            snapshot,
                                            keep(
                                                    index,
                                                    bringing(file, sender, key, Optional.empty()),
                                                    Outcome.ACCEPTED,
                                                    List.of(),
                                                    List.of())))))
                    .orElseGet(() -> take(file, sender, key)));
        }
        return results;
    }

    /**
     * As {@link #take}, for the reports of hosts: one without any problem leaves no line on the Intake page.
     *
     * @param sent what time it was for the sender, where it says so
     */
    Result takeReport(byte[] content, Bringer sender, Optional<Instant> sent) {
        Bringing bringing = new Bringing(
                new Incoming("host report", content, Optional.empty(), Optional.empty(), Map.of()),
                ReadingHints.none(clock.instant()),
                sender,
                Optional.empty(),
                Optional.empty());
        ReadDocument document;
        try {
            document = Documents.read(content, bringing.hints());
        } catch (RefusedDocumentException e) {
            return refuse(bringing, Optional.empty(), e.problems());
        }
        if (!(document.content() instanceof Content.OfInventory inventory)) {
            return refuse(
                    bringing,
                    Optional.of(document),
                    List.of(new Problem(
                            "", "only host inventories are taken here; send other documents to /api/documents")));
        }
        try {
            requireMayBring(sender, document.format());
        } catch (RefusedDocumentException e) {
            return refuse(bringing, Optional.of(document), e.problems());
        }
        sender.onlyHost().ifPresent(host -> requireOnly(host, inventory));
        Optional<Problem> tooNew = sender.onlyHost()
                .flatMap(host -> newProducts.tooMany(
                        host, inventory, store.snapshot().carriages().installed()));
        if (tooNew.isPresent()) {
            return store.write(snapshot -> new SnapshotStore.Change<>(
                    snapshot, keep(document, bringing, Outcome.WAITING, List.of(tooNew.get()), List.of())));
        }
        List<Problem> problems = new ArrayList<>(document.problems());
        Content.OfInventory corrected = hosts.corrected(inventory, sent, problems);
        sender.onlyHost().ifPresent(host -> pace.changes(host, hosts.changes(store.snapshot(), inventory)));
        return reports.submit(new Report(bringing, document, corrected, problems));
    }

    /** @param problems what was noticed before it was written */
    private record Report(
            Bringing bringing, ReadDocument document, Content.OfInventory inventory, List<Problem> problems) {}

    private List<Result> write(List<Report> together) {
        return store.write(snapshot -> {
            HostIntake.Batch batch = hosts.batch(snapshot);
            List<Result> results =
                    together.stream().map(report -> write(report, batch)).toList();
            return new SnapshotStore.Change<>(batch.next(), results);
        });
    }

    private Result write(Report report, HostIntake.Batch batch) {
        ReadDocument document = report.document();
        HostIntake.Taken taken = batch.take(report.inventory(), document.format() != Format.INVENTORY);
        List<Problem> problems = join(report.problems(), taken.problems());
        Outcome outcome = outcomeOfHosts(taken, problems);
        if (problems.isEmpty()) {
            return new Result(
                    Optional.empty(),
                    "host report",
                    Optional.of(document.format()),
                    document.subject(),
                    outcome,
                    problems);
        }
        NewDocument row = row(report.bringing(), Optional.of(document), outcome, true);
        keep(row, problems, report.bringing());
        return result(row, Optional.of(document), problems);
    }

    private static void requireOnly(HostName host, Content.OfInventory inventory) {
        Stream.concat(
                        inventory.reports().stream().map(r -> r.name()),
                        inventory.events().stream().map(e -> e.host()))
                .filter(name -> !name.equals(host))
                .findFirst()
                .ifPresent(other -> {
                    throw new ProblemException(
                            HttpStatus.FORBIDDEN, "host", "this token may report " + host + " only, not " + other);
                });
    }

    /**
     * Takes a refused document once more, after what was missing has come or is told now.
     *
     * @throws ProblemException 404 if it is not kept, 409 if it was taken since
     */
    Result tryAgain(
            long number,
            Optional<String> namespace,
            Optional<String> distro,
            Map<String, String> columns,
            Bringer sender) {
        DocumentMapper.Kept kept = documents
                .kept(number)
                .orElseThrow(() -> ProblemException.notFound("document " + number + " is not kept"));
        if (documents.isSettled(number)) {
            throw new ProblemException(
                    HttpStatus.CONFLICT, "number", "document " + number + " is not waiting to be tried again");
        }
        if (kept.format() == Format.POPULATIONS) {
            throw new ProblemException(
                    HttpStatus.CONFLICT, "number", "populations are looked at on Populations, and saved there");
        }
        if (documents.isDistrusted(number)) {
            throw new ProblemException(
                    HttpStatus.CONFLICT,
                    "number",
                    "document " + number
                            + " is held because it is not trusted; it is fetched anew when its provider or the trusted keys have changed");
        }
        Map<String, String> told =
                columns.isEmpty() && kept.columns() != null ? json.readValue(kept.columns(), COLUMNS) : columns;
        Incoming again = new Incoming(
                kept.name(),
                kept.content(),
                namespace.or(() -> Optional.ofNullable(kept.namespace())),
                distro.or(() -> Optional.ofNullable(kept.distro())),
                told);
        return take(bringing(again, sender, Optional.empty(), Optional.of(number)));
    }

    /**
     * Puts a document aside that was refused or waits: it no longer counts as open, and its content is forgotten.
     *
     * @throws ProblemException 409 if it does not wait for anything
     */
    void dismiss(long number, Bringer who) {
        store.write(snapshot -> {
            if (documents.dismiss(number, who.getName(), clock.instant()) == 0) {
                throw new ProblemException(
                        HttpStatus.CONFLICT, "number", "document " + number + " is not open any more");
            }
            store.record(
                    AuditEntry.Kind.IMPORT,
                    "",
                    who,
                    "Put aside: document " + number + ", " + documents.name(number) + ".");
            return new SnapshotStore.Change<>(snapshot, true);
        });
    }

    private static List<Problem> join(List<Problem> first, List<Problem> second) {
        List<Problem> all = new ArrayList<>(first);
        all.addAll(second);
        return all;
    }

    private static String cut(String text, int longest) {
        return text.length() <= longest ? text : text.substring(0, longest - 1) + "…";
    }
}
