package lucid.server.pilots;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeSet;
import java.util.stream.Collectors;
import lucid.core.evidence.TriedHosts;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostName;
import lucid.core.gate.Gate;
import lucid.core.gate.PilotGate;
import lucid.core.pilot.Candidates;
import lucid.core.pilot.Pilot;
import lucid.core.pilot.Sample;
import lucid.core.pilot.Sampling;
import lucid.core.ruling.PilotHosts;
import lucid.core.ruling.Verdict;
import lucid.core.update.Update;
import lucid.server.snapshot.Snapshot;
import lucid.server.web.ProblemException;
import org.roaringbitmap.RoaringBitmap;

/**
 * A pilot as it is worded, with the sample that was drawn or named for it.
 *
 * @param pilot as it would start
 */
public record DrawnPilot(Pilot pilot, Candidates candidates, Sample sample) {

    private static final int LONGEST_SOAK_DAYS = 60;
    private static final int MOST_HOSTS = 2_000;
    private static final int USUAL_DAYS_TO_FORCE = 3;
    private static final int LONGEST_DAYS_TO_FORCE = 90;

    /**
     * @param verdicts of its populations, as they are worded, with numbers that no other has
     * @throws ProblemException 422 if no host can be drawn, or one that is named cannot be
     */
    public static DrawnPilot of(
            PilotDraft draft, List<Verdict> verdicts, Update update, Snapshot snapshot, Instant now) {
        int soakDays = draft.soakDays().orElse((int) Pilot.USUAL_SOAK.toDays());
        if (soakDays < 0 || soakDays > LONGEST_SOAK_DAYS) {
            throw ProblemException.badField("pilot.soakDays", "choose 0 to " + LONGEST_SOAK_DAYS + " days");
        }
        double limit = draft.limit().orElse(Gate.USUAL_LIMIT);
        if (!(limit >= .001 && limit <= .5)) {
            throw ProblemException.badField("pilot.limit", "choose a failure rate of 0.1 to 50 %");
        }
        boolean alsoTier1 = draft.alsoTier1().orElse(false);
        Candidates candidates =
                candidates(verdicts, alsoTier1, update, snapshot, now).without(numbers(draft.without(), snapshot));
        if (candidates.eligible().isEmpty()) {
            throw ProblemException.badField("pilot", "no host can try it first: " + words(candidates));
        }
        Update drawnLike = draft.drawnLike().map(snapshot::update).orElse(update);
        String seed = drawnLike.id() + " " + drawnLike.revision();
        Sample sample = draft.hosts().isPresent()
                ? Sampling.of(
                        named(draft.hosts().get(), candidates, snapshot),
                        candidates,
                        Sampling.USUAL_TRAITS,
                        snapshot.fleet())
                : Sampling.draw(
                        candidates, size(draft, limit, candidates), Sampling.USUAL_TRAITS, seed, snapshot.fleet());
        Pilot pilot = Pilot.starting(
                snapshot.decisions().nextPilot(),
                new Pilot.Terms(
                        new PilotGate(limit, sample.hosts().size()),
                        Duration.ofDays(soakDays),
                        Sampling.USUAL_TRAITS,
                        seed,
                        alsoTier1,
                        new TreeSet<>(draft.departments()),
                        then(draft)),
                sample.hosts(),
                now);
        return new DrawnPilot(pilot, candidates, sample);
    }

    private static Optional<Pilot.Then> then(PilotDraft draft) {
        int days = draft.onceMetDays().orElse(USUAL_DAYS_TO_FORCE);
        if (days < 1 || days > LONGEST_DAYS_TO_FORCE) {
            throw ProblemException.badField("pilot.onceMetDays", "choose 1 to " + LONGEST_DAYS_TO_FORCE + " days");
        }
        return draft.onceMet()
                .map(prepared ->
                        new Pilot.Then(prepared == PilotDraft.Prepared.FORCE ? Optional.of(days) : Optional.empty()));
    }

    static Candidates candidates(
            List<Verdict> verdicts, boolean alsoTier1, Update update, Snapshot snapshot, Instant now) {
        return PilotHosts.of(
                        verdicts,
                        update,
                        snapshot.carriage(update, now),
                        snapshot.fleet(),
                        snapshot.decisions(),
                        snapshot.catalogue(),
                        now)
                .candidates(tried(update, snapshot, now), alsoTier1, snapshot.fleet(), now);
    }

    static TriedHosts tried(Update update, Snapshot snapshot, Instant now) {
        return TriedHosts.of(update, snapshot.carriages().outcomes(), snapshot.evidence(), snapshot.fleet(), now);
    }

    /** Hosts that nobody knows any more are not drawn either. */
    private static RoaringBitmap numbers(List<HostName> names, Snapshot snapshot) {
        RoaringBitmap numbers = new RoaringBitmap();
        names.forEach(name -> snapshot.fleet().host(name).ifPresent(host -> numbers.add(host.number())));
        return numbers;
    }

    private static int size(PilotDraft draft, double limit, Candidates candidates) {
        int eligible = candidates.eligible().getCardinality();
        int size = draft.size()
                .orElseGet(() -> Sampling.usualSize(eligible, new PilotGate(limit, 1).hostsForAskedLimit()));
        if (size < 1 || size > MOST_HOSTS) {
            throw ProblemException.badField("pilot.size", "choose 1 to " + MOST_HOSTS + " hosts");
        }
        if (size > eligible) {
            throw ProblemException.badField(
                    "pilot.size",
                    "only " + eligible + " hosts can try it first"
                            + (candidates.leftOut().isEmpty() ? "" : ": " + words(candidates)));
        }
        return size;
    }

    private static List<Integer> named(List<HostName> names, Candidates candidates, Snapshot snapshot) {
        if (names.isEmpty() || names.size() > MOST_HOSTS) {
            throw ProblemException.badField("pilot.hosts", "name 1 to " + MOST_HOSTS + " hosts");
        }
        List<Integer> hosts = new ArrayList<>();
        for (HostName name : new LinkedHashSet<>(names)) {
            Host host = snapshot.fleet()
                    .host(name)
                    .orElseThrow(() -> ProblemException.badField("pilot.hosts", "there is no host " + name));
            if (!candidates.eligible().contains(host.number())) {
                Optional<Candidates.LeftOut> why = candidates.leftOut().entrySet().stream()
                        .filter(one -> one.getValue().contains(host.number()))
                        .map(Map.Entry::getKey)
                        .findFirst();
                throw ProblemException.badField(
                        "pilot.hosts",
                        name + " cannot try it first: "
                                + why.map(DrawnPilot::words).orElse("it does not lack it"));
            }
            hosts.add(host.number());
        }
        return hosts;
    }

    private static String words(Candidates candidates) {
        return candidates.lacking().isEmpty()
                ? "no host that it names lacks it"
                : candidates.leftOut().entrySet().stream()
                        .map(one -> hosts(one.getValue()) + ": " + words(one.getKey()))
                        .collect(Collectors.joining("; "));
    }

    private static String hosts(RoaringBitmap hosts) {
        return hosts.getCardinality() == 1 ? "1 host" : hosts.getCardinality() + " hosts";
    }

    private static String words(Candidates.LeftOut why) {
        return switch (why) {
            case TRIED -> "tried it before";
            case PROTECTED -> "protected by its population";
            case DECIDED_OTHERWISE -> "another decision holds there, which is not named as overridden";
            case SILENT -> "not heard of for too long";
            case BY_HAND -> "left out here";
            case TIER_1 -> "tier 1, which is never sampled unless asked for";
        };
    }
}
