package lucid.server.pilots;

import java.time.Clock;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import lucid.core.evidence.TriedHosts;
import lucid.core.fleet.HostName;
import lucid.core.pilot.Pilot;
import lucid.core.pilot.PilotNumber;
import lucid.core.pilot.PilotStep;
import lucid.core.pilot.Progress;
import lucid.core.ruling.PilotHosts;
import lucid.core.ruling.Verdict;
import lucid.core.update.Update;
import lucid.server.audit.AuditEntry;
import lucid.server.audit.ByItself;
import lucid.server.clock.ClockMoved;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.ProblemException;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.event.EventListener;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/**
 * Carries out what follows by itself from how pilots go: a gate that fails withholds the update from everybody, one
 * that is met brings what was prepared, a host that leaves or does not try is replaced. Looks once a second, and is
 * done at once where nothing has changed.
 */
@Component
class PilotCare {

    private static final Logger LOG = LoggerFactory.getLogger(PilotCare.class);
    private static final long MINUTE = 60;

    private final SnapshotStore store;
    private final StoredPilots pilots;
    private final PreparedVerdicts prepared;
    private final TriesForRules tries;
    private final Clock clock;
    private Snapshot seen;
    private long seenMinute;

    PilotCare(SnapshotStore store, StoredPilots pilots, PreparedVerdicts prepared, TriesForRules tries, Clock clock) {
        this.store = store;
        this.pilots = pilots;
        this.prepared = prepared;
        this.tries = tries;
        this.clock = clock;
    }

    /** Nobody sees the demo at a later hour before what that hour brings. */
    @EventListener
    void onMoved(ClockMoved moved) {
        look();
    }

    @Scheduled(fixedDelay = 1_000)
    synchronized void look() {
        Snapshot snapshot = store.snapshot();
        Instant now = clock.instant();
        long minute = now.getEpochSecond() / MINUTE;
        if (snapshot == seen && minute == seenMinute) {
            return;
        }
        try {
            carryOut(snapshot, now);
            if (minute != seenMinute) {
                tries.look(snapshot, ByItself.AUTHOR, now);
            }
            seen = snapshot;
            seenMinute = minute;
        } catch (ProblemException e) {
            LOG.warn("What follows from a pilot could not be written, and is tried again: {}", e.getMessage());
        }
    }

    private void carryOut(Snapshot snapshot, Instant now) {
        Map<PilotNumber, List<Verdict>> standing = snapshot.decisions().verdicts().stream()
                .filter(verdict -> verdict.pilot().isPresent() && verdict.standsAt(now))
                .collect(Collectors.groupingBy(
                        verdict -> verdict.pilot().orElseThrow().number(), LinkedHashMap::new, Collectors.toList()));
        standing.forEach((number, verdicts) -> {
            Pilot pilot = verdicts.get(0).pilot().orElseThrow();
            List<PilotStep> steps = due(pilot, verdicts, snapshot, now);
            if (!steps.isEmpty()) {
                write(number, pilot, steps);
            }
        });
    }

    private static List<PilotStep> due(Pilot pilot, List<Verdict> verdicts, Snapshot snapshot, Instant now) {
        Update update = snapshot.update(verdicts.get(0).updateId());
        TriedHosts tried = DrawnPilot.tried(update, snapshot, now);
        Progress progress =
                Progress.of(pilot, update, tried, snapshot.carriages().outcomes(), snapshot.fleet());
        PilotHosts hosts = PilotHosts.of(
                verdicts,
                update,
                snapshot.carriage(update, now),
                snapshot.fleet(),
                snapshot.decisions(),
                snapshot.catalogue(),
                now);
        return PilotStep.due(
                pilot,
                progress,
                hosts.named(),
                hosts.candidates(tried, pilot.terms().alsoTier1(), snapshot.fleet(), now),
                snapshot.fleet(),
                now);
    }

    private void write(PilotNumber number, Pilot pilot, List<PilotStep> steps) {
        store.write(snapshot -> {
            List<Verdict> verdicts = snapshot.decisions().verdictsOf(number);
            // Somebody was faster: what follows from that is looked at next.
            if (!verdicts.get(0).pilot().orElseThrow().equals(pilot)) {
                return new SnapshotStore.Change<>(snapshot, false);
            }
            Pilot after = steps.get(steps.size() - 1).after();
            pilots.change(pilot, after);
            String update = verdicts.get(0).updateId().value();
            steps.forEach(step ->
                    store.record(AuditEntry.Kind.VERDICT, update, ByItself.AUTHOR, sentence(step, update, snapshot)));
            Snapshot next = snapshot.with(snapshot.decisions()
                    .withAll(verdicts.stream()
                            .map(verdict -> verdict.with(after))
                            .toList()));
            for (PilotStep step : steps) {
                if (step instanceof PilotStep.Met met) {
                    next = prepared.handDown(next, verdicts, met.then(), clock.instant());
                }
            }
            return new SnapshotStore.Change<>(next, true);
        });
    }

    private static String sentence(PilotStep step, String update, Snapshot snapshot) {
        if (step instanceof PilotStep.Replaced replaced) {
            String host = names(List.of(replaced.host()), snapshot);
            return "In the pilot of " + update + ", " + host
                    + (replaced.left() ? " is no longer among its hosts" : " has not tried it for 7 days")
                    + replaced.by()
                            .map(by -> ": " + names(List.of(by), snapshot) + " took its place.")
                            .orElse("; no other host could take its place.");
        }
        if (step instanceof PilotStep.Met) {
            return "The gate of the pilot of " + update + " was met: what was prepared holds from now on.";
        }
        return "The pilot of " + update + " failed: it is withheld from all hosts that the pilot is for.";
    }

    static String names(List<Integer> hosts, Snapshot snapshot) {
        return hosts.stream()
                .map(number -> snapshot.fleet().host(number).name())
                .map(HostName::value)
                .collect(Collectors.joining(", "));
    }
}
