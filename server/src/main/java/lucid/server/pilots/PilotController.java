package lucid.server.pilots;

import java.security.Principal;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.UnaryOperator;
import lucid.core.causes.Proportion;
import lucid.core.evidence.TriedHosts;
import lucid.core.fleet.Fleet;
import lucid.core.pilot.Candidates;
import lucid.core.pilot.Pilot;
import lucid.core.pilot.PilotNumber;
import lucid.core.pilot.Progress;
import lucid.core.pilot.Sampling;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.Effect;
import lucid.core.ruling.RulingGroup;
import lucid.core.ruling.Timeline;
import lucid.core.ruling.Verdict;
import lucid.core.update.Update;
import lucid.server.audit.AuditEntry;
import lucid.server.decisions.Revocable;
import lucid.server.decisions.Undo;
import lucid.server.pilots.PilotViews.CoverageView;
import lucid.server.pilots.PilotViews.DepartmentView;
import lucid.server.pilots.PilotViews.GateView;
import lucid.server.pilots.PilotViews.OnceMetView;
import lucid.server.pilots.PilotViews.PilotHostView;
import lucid.server.pilots.PilotViews.PilotPopulationView;
import lucid.server.pilots.PilotViews.PilotRateView;
import lucid.server.pilots.PilotViews.PilotStepView;
import lucid.server.pilots.PilotViews.PilotView;
import lucid.server.pilots.PilotViews.SampledHostView;
import lucid.server.pilots.PilotViews.State;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.ProblemException;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** Pilots: how each goes, and what people do to one that runs. */
@RestController
@RequestMapping("/api/pilots")
class PilotController {

    private static final int MOST_MORE = 2_000;

    private final SnapshotStore store;
    private final StoredPilots pilots;
    private final Clock clock;

    PilotController(SnapshotStore store, StoredPilots pilots, Clock clock) {
        this.store = store;
        this.pilots = pilots;
        this.clock = clock;
    }

    /** A pilot with its verdicts, of which it has one for each of its populations. */
    private record Running(Pilot pilot, List<Verdict> verdicts) {
        Verdict first() {
            return verdicts.get(0);
        }
    }

    private static Running running(Decisions decisions, long number) {
        List<Verdict> verdicts = decisions.verdictsOf(new PilotNumber(number));
        if (verdicts.isEmpty()) {
            throw ProblemException.notFound("there is no pilot " + number);
        }
        return new Running(verdicts.get(0).pilot().orElseThrow(), verdicts);
    }

    /** All pilots, those that run first, among them the one that is to answer first. */
    @GetMapping
    List<PilotView> all(Snapshot snapshot) {
        Instant now = clock.instant();
        Map<PilotNumber, List<Verdict>> byPilot = new LinkedHashMap<>();
        snapshot.decisions().verdicts().forEach(verdict -> verdict.pilot()
                .ifPresent(pilot -> byPilot.computeIfAbsent(pilot.number(), number -> new ArrayList<>())
                        .add(verdict)));
        return byPilot.values().stream()
                .map(verdicts -> view(new Running(verdicts.get(0).pilot().orElseThrow(), verdicts), snapshot, now))
                .sorted(Comparator.comparing((PilotView view) -> view.ended().isPresent())
                        .thenComparing(view -> view.ended().isPresent()
                                ? -view.ended().get().toEpochMilli()
                                : view.answerDay().toEpochMilli()))
                .toList();
    }

    @GetMapping("/{number}")
    PilotView one(@PathVariable long number, Snapshot snapshot) {
        return view(running(snapshot.decisions(), number), snapshot, clock.instant());
    }

    private static PilotView view(Running running, Snapshot snapshot, Instant now) {
        Pilot pilot = running.pilot();
        Verdict first = running.first();
        Update update = snapshot.update(first.updateId());
        Fleet fleet = snapshot.fleet();
        TriedHosts tried = DrawnPilot.tried(update, snapshot, now);
        Progress progress =
                Progress.of(pilot, update, tried, snapshot.carriages().outcomes(), fleet);
        Candidates candidates =
                DrawnPilot.candidates(running.verdicts(), pilot.terms().alsoTier1(), update, snapshot, now);
        Optional<Instant> ended = ended(running, now);
        Proportion failed =
                new Proportion(progress.tally().failed(), progress.tally().tried());
        return new PilotView(
                pilot.number(),
                update.id(),
                update.title(),
                first.revision(),
                running.verdicts().stream()
                        .flatMap(verdict -> fleet.ladder().entry(verdict.populationId()).stream())
                        .map(PilotPopulationView::of)
                        .toList(),
                first.narrowing().map(Object::toString),
                state(running, progress, ended),
                running.verdicts().stream().map(Verdict::number).toList(),
                first.reasons(),
                first.words(),
                first.author(),
                pilot.startedAt(),
                first.end(),
                ended,
                pilot.failedAt(),
                GateView.of(pilot.terms().gate()),
                pilot.terms().soak().toDays(),
                progress.tally(),
                progress.furtherClean(pilot),
                failed.of() == 0
                        ? Optional.empty()
                        : Optional.of(new PilotRateView(failed.rate(), failed.low(), failed.high())),
                withheld(running, update, snapshot, now),
                RoaringBitmap.andNotCardinality(candidates.eligible(), pilot.everSampled()),
                pilot.terms().departments().stream()
                        .sorted()
                        .map(name -> department(name, pilot))
                        .toList(),
                CoverageView.of(Sampling.of(
                        pilot.places().stream().map(Pilot.Place::host).toList(),
                        withSampled(candidates, pilot),
                        pilot.terms().traits(),
                        fleet)),
                hosts(pilot, progress, fleet),
                progress.path().stream()
                        .map(step -> new PilotStepView(step.at(), step.tried(), step.failed()))
                        .toList(),
                OnceMetView.of(pilot),
                Undo.of(
                        Revocable.Kind.VERDICT,
                        running.verdicts().stream()
                                .map(verdict -> verdict.number().value())
                                .toList()));
    }

    /** Hosts that carry it now stand for others as before. */
    private static Candidates withSampled(Candidates candidates, Pilot pilot) {
        return new Candidates(
                RoaringBitmap.or(candidates.lacking(), pilot.everSampled()),
                candidates.eligible(),
                candidates.leftOut());
    }

    private static DepartmentView department(String name, Pilot pilot) {
        Optional<Pilot.SignOff> signOff = Optional.ofNullable(pilot.signOffs().get(name));
        return new DepartmentView(name, signOff.map(Pilot.SignOff::author), signOff.map(Pilot.SignOff::at));
    }

    private static List<PilotHostView> hosts(Pilot pilot, Progress progress, Fleet fleet) {
        List<PilotHostView> hosts = new ArrayList<>();
        for (int place = 0; place < progress.hosts().size(); place++) {
            Progress.OfHost one = progress.hosts().get(place);
            hosts.add(new PilotHostView(
                    SampledHostView.of(one.host(), fleet, pilot.terms().traits()),
                    one.state(),
                    pilot.places().get(place).since(),
                    one.at(),
                    one.failure().map(TriedHosts.Failure::code),
                    one.failure().map(TriedHosts.Failure::failureClass)));
        }
        return hosts;
    }

    private static Optional<Instant> ended(Running running, Instant now) {
        return running.verdicts().stream().anyMatch(verdict -> verdict.standsAt(now))
                ? Optional.empty()
                : Optional.of(running.first()
                        .revokedAt()
                        .filter(at -> at.isBefore(running.first().end()))
                        .orElse(running.first().end()));
    }

    private static State state(Running running, Progress progress, Optional<Instant> ended) {
        if (ended.isPresent()) {
            return ended.get().isBefore(running.first().end()) ? State.STOPPED : State.ENDED;
        }
        return State.valueOf(progress.state().name());
    }

    private static int withheld(Running running, Update update, Snapshot snapshot, Instant now) {
        return Timeline.of(update, snapshot.decisions(), snapshot.fleet(), snapshot.catalogue())
                .groups(snapshot.carriage(update, now).lacking(), now)
                .stream()
                .filter(group -> group.match().effect() == Effect.WITHHELD
                        && running.verdicts().stream()
                                .anyMatch(verdict -> group.match().source().equals(Optional.of(verdict.number()))))
                .map(RulingGroup::hosts)
                .mapToInt(RoaringBitmap::getCardinality)
                .sum();
    }

    /** @param hosts how many more */
    record Extension(int hosts) {}

    /** Draws more hosts into the sample. What the gate asks for stays. */
    @PostMapping("/{number}/extensions")
    PilotView extend(@PathVariable long number, @RequestBody Extension extension, Principal who) {
        if (extension.hosts() < 1 || extension.hosts() > MOST_MORE) {
            throw ProblemException.badField("hosts", "choose 1 to " + MOST_MORE + " more hosts");
        }
        return change(number, (snapshot, running, now) -> {
            Pilot pilot = running.pilot();
            Update update = snapshot.update(running.first().updateId());
            Candidates candidates =
                    DrawnPilot.candidates(running.verdicts(), pilot.terms().alsoTier1(), update, snapshot, now);
            List<Integer> more = Sampling.drawMore(
                            candidates,
                            pilot.everSampled(),
                            extension.hosts(),
                            pilot.terms().traits(),
                            pilot.terms().seed(),
                            snapshot.fleet())
                    .hosts();
            if (more.size() < extension.hosts()) {
                throw ProblemException.badField("hosts", "only " + more.size() + " more hosts can try it");
            }
            store.record(
                    AuditEntry.Kind.VERDICT,
                    update.id().value(),
                    who,
                    "Extended the pilot of " + update.id() + " by " + more.size()
                            + (more.size() == 1 ? " host: " : " hosts: ") + PilotCare.names(more, snapshot) + ".");
            return pilot.extended(more, now);
        });
    }

    /** @param department one of those whose sign-off was asked for */
    record SignOff(String department) {}

    /** Keeps that a department has signed it off. */
    @PostMapping("/{number}/sign-offs")
    PilotView signOff(@PathVariable long number, @RequestBody SignOff signOff, Principal who) {
        return change(number, (snapshot, running, now) -> {
            Pilot pilot = running.pilot();
            if (!pilot.terms().departments().contains(signOff.department())) {
                throw ProblemException.badField("department", "its sign-off was not asked for");
            }
            if (pilot.signOffs().containsKey(signOff.department())) {
                throw new ProblemException(
                        HttpStatus.CONFLICT, "department", signOff.department() + " has signed it off before");
            }
            store.record(
                    AuditEntry.Kind.VERDICT,
                    running.first().updateId().value(),
                    who,
                    signOff.department() + " signed off the pilot of "
                            + running.first().updateId() + ".");
            return pilot.signedOff(signOff.department(), new Pilot.SignOff(who.getName(), now));
        });
    }

    private interface ChangeOf {
        Pilot after(Snapshot snapshot, Running running, Instant now);
    }

    private PilotView change(long number, ChangeOf change) {
        return store.write(snapshot -> {
            Instant now = clock.instant();
            Running running = running(snapshot.decisions(), number);
            if (ended(running, now).isPresent()) {
                throw new ProblemException(HttpStatus.CONFLICT, "", "this pilot has ended");
            }
            Pilot after = change.after(snapshot, running, now);
            pilots.change(running.pilot(), after);
            UnaryOperator<Verdict> changed = verdict -> verdict.with(after);
            List<Verdict> verdicts = running.verdicts().stream().map(changed).toList();
            Snapshot next = snapshot.with(snapshot.decisions().withAll(verdicts));
            return new SnapshotStore.Change<>(next, view(new Running(after, verdicts), next, now));
        });
    }
}
