package lucid.server.hosts;

import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.core.fleet.HostName;
import lucid.formats.Documents;
import lucid.formats.document.Content;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.RefusedDocumentException;
import lucid.server.access.Bringer;
import lucid.server.intake.Arrival;
import lucid.server.intake.ContentTaker;
import lucid.server.intake.Incoming;
import lucid.server.intake.IntakeOutcome;
import lucid.server.intake.IntakeResult;
import lucid.server.intake.IntakeService;
import lucid.server.intake.KeptDocuments;
import lucid.server.snapshot.GroupCommit;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Service;

/**
 * The reports that hosts send by themselves, all day long: many of them share one commit, and one without any problem
 * leaves no line on the Intake page.
 */
@Service
class HostReports {

    private final SnapshotStore store;
    private final KeptDocuments documents;
    private final HostIntake hosts;
    private final NewProducts newProducts;
    private final HostPace pace;
    private final Clock clock;
    private final GroupCommit<Report, IntakeResult> reports = new GroupCommit<>(this::write);

    HostReports(
            SnapshotStore store,
            KeptDocuments documents,
            HostIntake hosts,
            NewProducts newProducts,
            HostPace pace,
            Clock clock) {
        this.store = store;
        this.documents = documents;
        this.hosts = hosts;
        this.newProducts = newProducts;
        this.pace = pace;
        this.clock = clock;
    }

    /** @param problems what was noticed before it was written */
    private record Report(
            Arrival arrival, ReadDocument document, Content.OfInventory inventory, List<Problem> problems) {}

    /**
     * Takes one report; answers after it is committed.
     *
     * @param sent what time it was for the sender, where it says so
     */
    IntakeResult take(byte[] content, Bringer sender, Optional<Instant> sent) {
        Arrival arrival = new Arrival(
                new Incoming("host report", content, Optional.empty(), Optional.empty(), Map.of()),
                ReadingHints.none(clock.instant()),
                sender,
                Optional.empty(),
                Optional.empty());
        ReadDocument document;
        try {
            document = Documents.read(content, arrival.hints());
        } catch (RefusedDocumentException e) {
            return refuse(arrival, Optional.empty(), e.problems());
        }
        if (!(document.content() instanceof Content.OfInventory inventory)) {
            return refuse(
                    arrival,
                    Optional.of(document),
                    List.of(new Problem(
                            "", "only host inventories are taken here; send other documents to /api/documents")));
        }
        try {
            IntakeService.requireMayBring(sender, document.format());
        } catch (RefusedDocumentException e) {
            return refuse(arrival, Optional.of(document), e.problems());
        }
        sender.onlyHost().ifPresent(host -> requireOnly(host, inventory));
        Optional<Problem> tooNew = sender.onlyHost()
                .flatMap(host -> newProducts.tooMany(
                        host, inventory, store.snapshot().carriages().installed()));
        if (tooNew.isPresent()) {
            return store.write(snapshot -> new SnapshotStore.Change<>(
                    snapshot,
                    documents.keep(
                            document,
                            arrival,
                            ContentTaker.Taken.nothing(snapshot, IntakeOutcome.WAITING, List.of(tooNew.get())))));
        }
        List<Problem> problems = new ArrayList<>(document.problems());
        Content.OfInventory corrected = hosts.corrected(inventory, sent, problems);
        sender.onlyHost().ifPresent(host -> pace.changes(host, hosts.changes(store.snapshot(), inventory)));
        return reports.submit(new Report(arrival, document, corrected, problems));
    }

    private IntakeResult refuse(Arrival arrival, Optional<ReadDocument> document, List<Problem> problems) {
        return store.write(
                snapshot -> new SnapshotStore.Change<>(snapshot, documents.keepRefused(arrival, document, problems)));
    }

    private List<IntakeResult> write(List<Report> together) {
        return store.write(snapshot -> {
            HostIntake.Batch batch = hosts.batch(snapshot);
            List<IntakeResult> results =
                    together.stream().map(report -> write(report, batch)).toList();
            return new SnapshotStore.Change<>(batch.next(), results);
        });
    }

    private IntakeResult write(Report report, HostIntake.Batch batch) {
        ReadDocument document = report.document();
        ContentTaker.Taken taken = HostDocuments.taken(
                batch.before(),
                document,
                batch.take(report.inventory(), HostDocuments.isPartial(document.format())),
                report.problems());
        if (taken.problems().isEmpty()) {
            return new IntakeResult(
                    Optional.empty(),
                    "host report",
                    Optional.of(document.format()),
                    document.subject(),
                    taken.outcome(),
                    List.of());
        }
        return documents.keepRemarked(document, report.arrival(), taken);
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
}
