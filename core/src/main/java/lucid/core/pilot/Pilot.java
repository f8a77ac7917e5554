package lucid.core.pilot;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import lucid.core.gate.PilotGate;
import org.roaringbitmap.RoaringBitmap;

/**
 * Some hosts that try an update while it is withheld from the others. Never changes; what happens to it makes the next.
 *
 * @param places the hosts that are or were in the sample, in the order in which they were drawn
 * @param signOffs departments that have signed it off
 * @param failedAt when its gate failed, if it did: from then on it is withheld from the sampled hosts, too
 * @param metAt when its gate was met and what was prepared for that was carried out
 */
public record Pilot(
        PilotNumber number,
        Terms terms,
        List<Place> places,
        Map<String, SignOff> signOffs,
        Optional<Instant> failedAt,
        Optional<Instant> metAt) {

    public static final Duration USUAL_SOAK = Duration.ofDays(3);

    /**
     * What was agreed when it started.
     *
     * @param gate with the size of the sample at the start, which fixes what it can show
     * @param soak how long a host must have had the update without failure
     * @param traits by which the sample was drawn
     * @param seed by which ties were broken; the same seed on the same hosts draws the same
     * @param alsoTier1 whether hosts of tier 1 may be drawn
     * @param departments whose sign-off is asked for
     * @param then what follows by itself once its gate is met; none: somebody is asked
     */
    public record Terms(
            PilotGate gate,
            Duration soak,
            List<String> traits,
            String seed,
            boolean alsoTier1,
            Set<String> departments,
            Optional<Then> then) {
        public Terms {
            traits = List.copyOf(traits);
            departments = Set.copyOf(departments);
        }
    }

    /**
     * The verdict that is prepared for all hosts that the pilot is for.
     *
     * @param forcedWithin days after which it is due there; none: it is let go
     */
    public record Then(Optional<Integer> forcedWithin) {}

    /**
     * A host in the sample.
     *
     * @param until when another took its place, or it left without one; none: it is in the sample
     */
    public record Place(int host, Instant since, Optional<Instant> until) {
        boolean isOpen() {
            return until.isEmpty();
        }

        boolean isOpenAt(Instant at) {
            return !since.isAfter(at) && until.filter(end -> !end.isAfter(at)).isEmpty();
        }
    }

    public record SignOff(String author, Instant at) {}

    /** @throws IllegalArgumentException if it has no hosts */
    public Pilot {
        if (places.isEmpty()) {
            throw new IllegalArgumentException("a pilot has hosts");
        }
        places = List.copyOf(places);
        signOffs = Map.copyOf(signOffs);
    }

    public static Pilot starting(PilotNumber number, Terms terms, List<Integer> hosts, Instant now) {
        return new Pilot(
                number,
                terms,
                hosts.stream()
                        .map(host -> new Place(host, now, Optional.empty()))
                        .toList(),
                Map.of(),
                Optional.empty(),
                Optional.empty());
    }

    public Instant startedAt() {
        return places.get(0).since();
    }

    /** The hosts that are in the sample at an instant. */
    public RoaringBitmap sampleAt(Instant at) {
        RoaringBitmap sample = new RoaringBitmap();
        places.stream().filter(place -> place.isOpenAt(at)).forEach(place -> sample.add(place.host()));
        return sample;
    }

    /** Every host that is or was in the sample. */
    public RoaringBitmap everSampled() {
        RoaringBitmap hosts = new RoaringBitmap();
        places.forEach(place -> hosts.add(place.host()));
        return hosts;
    }

    /** True if the update is offered to the host because it is in the sample. */
    public boolean offersTo(int host, Instant at) {
        return failedAt.filter(failed -> !failed.isAfter(at)).isEmpty()
                && places.stream().anyMatch(place -> place.host() == host && place.isOpenAt(at));
    }

    /** Departments whose sign-off is still asked for. */
    public Set<String> unsigned() {
        Set<String> unsigned = new TreeSet<>(terms.departments());
        unsigned.removeAll(signOffs.keySet());
        return unsigned;
    }

    public Pilot numbered(PilotNumber other) {
        return new Pilot(other, terms, places, signOffs, failedAt, metAt);
    }

    public Pilot failed(Instant now) {
        return new Pilot(number, terms, places, signOffs, Optional.of(now), metAt);
    }

    public Pilot met(Instant now) {
        return new Pilot(number, terms, places, signOffs, failedAt, Optional.of(now));
    }

    public Pilot signedOff(String department, SignOff signOff) {
        Map<String, SignOff> more = new HashMap<>(signOffs);
        more.put(department, signOff);
        return new Pilot(number, terms, places, more, failedAt, metAt);
    }

    /** With more hosts in the sample. What the gate asks for stays. */
    public Pilot extended(List<Integer> hosts, Instant now) {
        List<Place> more = new ArrayList<>(places);
        hosts.forEach(host -> more.add(new Place(host, now, Optional.empty())));
        return new Pilot(number, terms, more, signOffs, failedAt, metAt);
    }

    /** Without a host in the sample. */
    public Pilot without(int host, Instant now) {
        List<Place> fewer = places.stream()
                .map(place -> place.host() == host && place.isOpen()
                        ? new Place(host, place.since(), Optional.of(now))
                        : place)
                .toList();
        return new Pilot(number, terms, fewer, signOffs, failedAt, metAt);
    }
}
