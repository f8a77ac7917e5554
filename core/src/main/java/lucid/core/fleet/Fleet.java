package lucid.core.fleet;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Collections;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Stream;
import lucid.core.update.DistributionRelease;
import org.roaringbitmap.RoaringBitmap;
import org.roaringbitmap.RoaringBitmapWriter;

/**
 * All hosts and who owns them, as one immutable snapshot. Sets of hosts are bitmaps over host numbers.
 *
 * <p>{@link #with} makes the next snapshot: it copies the arrays of references (a few hundred kilobytes for 50,000
 * hosts, once for a whole batch of reports) and shares everything else, so readers keep a consistent snapshot without
 * locks.
 */
public final class Fleet {

    public static final Fleet EMPTY = new Fleet(Ladder.EMPTY, new Host[0], Map.of(), new RoaringBitmap());

    private static final RoaringBitmap NO_HOSTS = new RoaringBitmap();
    /** From here on most sets are kept bit by bit, and are intersected word by word. */
    private static final int DIVIDED_HOST_BY_HOST = 4096;

    /** As {@link Ladder#placeOf} says it. */
    private static final int NOWHERE = -1;

    private final Ladder ladder;
    /** By host number; null where a number is not in use. */
    private final Host[] hosts;

    private final Map<HostName, Integer> numbers;
    private final long[] unknownFrom;
    private final long[] silentFrom;
    private final RoaringBitmap all;
    /** By host number, the place on the ladder of the population that owns it, else {@link #NOWHERE}. */
    private final int[] places;

    private final List<RoaringBitmap> members;
    private final RoaringBitmap unowned;
    private final Map<String, RoaringBitmap> platforms;
    /** Hosts that a person retired: known by their names, but counted nowhere. */
    private final RoaringBitmap retired;
    /** By trait and value, for the traits that somebody asked for. */
    private final Map<String, Map<String, RoaringBitmap>> traitValues = new ConcurrentHashMap<>();
    /** Counted when first asked for. */
    private volatile Map<String, TraitUse> traits;
    /** A page asks of many updates at one instant. */
    private volatile Unknown lastUnknown;

    private record Unknown(long instant, RoaringBitmap hosts) {}

    private Fleet(Ladder ladder, Host[] hosts, Map<HostName, Integer> numbers, RoaringBitmap retired) {
        this.retired = retired;
        this.ladder = ladder;
        this.hosts = hosts;
        this.numbers = numbers;
        this.unknownFrom = new long[hosts.length];
        this.silentFrom = new long[hosts.length];
        this.all = new RoaringBitmap();
        this.places = new int[hosts.length];
        Arrays.fill(places, NOWHERE);
        this.members = new ArrayList<>();
        ladder.populations().forEach(p -> members.add(new RoaringBitmap()));
        this.unowned = new RoaringBitmap();
        this.platforms = new HashMap<>();
        for (Host host : hosts) {
            if (host != null) {
                enter(host);
            }
        }
    }

    private Fleet(Fleet before, Host[] hosts, Map<HostName, Integer> numbers) {
        this.retired = before.retired;
        this.ladder = before.ladder;
        this.hosts = hosts;
        this.numbers = numbers;
        this.unknownFrom = Arrays.copyOf(before.unknownFrom, hosts.length);
        this.silentFrom = Arrays.copyOf(before.silentFrom, hosts.length);
        this.all = before.all.clone();
        this.places = Arrays.copyOf(before.places, hosts.length);
        Arrays.fill(places, before.hosts.length, hosts.length, NOWHERE);
        this.members = before.members.stream().map(RoaringBitmap::clone).toList();
        this.unowned = before.unowned.clone();
        this.platforms = new HashMap<>();
        before.platforms.forEach((name, set) -> platforms.put(name, set.clone()));
    }

    private void enter(Host host) {
        int number = host.number();
        if (retired.contains(number)) {
            return;
        }
        all.add(number);
        owner(places[number]).remove(number);
        platforms.values().forEach(set -> set.remove(number));
        platforms.computeIfAbsent(host.platform(), name -> new RoaringBitmap()).add(number);
        int place = ladder.placeOf(host);
        places[number] = place;
        owner(place).add(number);
        unknownFrom[number] = host.unknownFrom(rhythm(place)).toEpochMilli();
        silentFrom[number] =
                host.silentAfterInstall(host.lastReport(), rhythm(place)).toEpochMilli();
    }

    private RoaringBitmap owner(int place) {
        return place < 0 ? unowned : members.get(place);
    }

    private Duration rhythm(int place) {
        return place < 0
                ? Host.DEFAULT_RHYTHM
                : ladder.populations().get(place).rhythm().orElse(Host.DEFAULT_RHYTHM);
    }

    /** Place on the ladder of the population that owns the host, from 0, or -1 for none. */
    public int populationOf(Host host) {
        return ladder.placeOf(host);
    }

    /** How often a host is expected to report: as its population says, else {@link Host#DEFAULT_RHYTHM}. */
    public Duration rhythmOf(Host host) {
        return rhythm(ladder.placeOf(host));
    }

    /** The snapshot after these hosts have reported; a host with a known number replaces its earlier self. */
    public Fleet with(List<Host> reported) {
        int highest = reported.stream().mapToInt(Host::number).max().orElse(-1);
        Host[] next = Arrays.copyOf(hosts, Math.max(hosts.length, highest + 1));
        Map<HostName, Integer> nextNumbers = numbers;
        if (reported.stream().anyMatch(h -> !numbers.containsKey(h.name()))) {
            nextNumbers = new HashMap<>(numbers);
        }
        Fleet fleet = new Fleet(this, next, nextNumbers);
        for (Host host : reported) {
            next[host.number()] = host;
            if (nextNumbers != numbers) {
                nextNumbers.put(host.name(), host.number());
            }
            fleet.enter(host);
        }
        RoaringBitmap changed = new RoaringBitmap();
        reported.forEach(host -> changed.add(host.number()));
        traitValues.forEach((trait, values) -> fleet.traitValues.put(trait, moved(trait, values, fleet, changed)));
        return fleet;
    }

    /** The hosts by value of a trait in the snapshot that follows this one; what did not change is shared. */
    private Map<String, RoaringBitmap> moved(
            String trait, Map<String, RoaringBitmap> values, Fleet following, RoaringBitmap reported) {
        Map<String, RoaringBitmap> next = new HashMap<>(values);
        for (int number : reported) {
            Optional<String> before =
                    knows(number) && !isRetired(number) ? valueOf(hosts[number], trait) : Optional.empty();
            Optional<String> after =
                    following.isRetired(number) ? Optional.empty() : valueOf(following.hosts[number], trait);
            if (!before.equals(after)) {
                before.ifPresent(value -> next.computeIfPresent(value, (v, set) -> without(set, number)));
                after.ifPresent(value -> next.compute(value, (v, set) -> with(set, number)));
            }
        }
        return next;
    }

    private static RoaringBitmap without(RoaringBitmap set, int number) {
        RoaringBitmap next = set.clone();
        next.remove(number);
        return next.isEmpty() ? null : next;
    }

    private static RoaringBitmap with(RoaringBitmap set, int number) {
        RoaringBitmap next = set == null ? new RoaringBitmap() : set.clone();
        next.add(number);
        return next;
    }

    private static Optional<String> valueOf(Host host, String trait) {
        return host.trait(trait).map(Trait::toString);
    }

    /** The same hosts under other populations. */
    public Fleet with(Ladder other) {
        return new Fleet(other, hosts, numbers, retired);
    }

    /**
     * The same hosts, of which these are retired: they belong to no population and are counted nowhere, but keep their
     * numbers and are found by their names.
     */
    public Fleet retiring(RoaringBitmap numbersOfRetired) {
        return new Fleet(ladder, hosts, numbers, numbersOfRetired.clone());
    }

    public RoaringBitmap retired() {
        return retired.clone();
    }

    public boolean isRetired(int number) {
        return retired.contains(number);
    }

    /** The number of the next host that nobody knows yet. */
    public int nextNumber() {
        return hosts.length;
    }

    /** A fleet of one of these hosts, under the same populations. */
    public Fleet only(Host host) {
        Host[] one = new Host[host.number() + 1];
        one[host.number()] = host;
        return new Fleet(ladder, one, Map.of(host.name(), host.number()), new RoaringBitmap());
    }

    /** The fleet as somebody sees it who knows of these populations and their hosts only. */
    public Fleet only(Set<PopulationId> populations) {
        Ladder seen = ladder.only(populations);
        Host[] some = new Host[hosts.length];
        Map<HostName, Integer> names = new HashMap<>();
        seen.populations().forEach(population -> members(population.id()).forEach((int number) -> {
            some[number] = hosts[number];
            names.put(hosts[number].name(), number);
        }));
        return new Fleet(seen, some, names, new RoaringBitmap());
    }

    public Ladder ladder() {
        return ladder;
    }

    public Host host(int number) {
        return hosts[number];
    }

    public Optional<Host> host(HostName name) {
        return Optional.ofNullable(numbers.get(name)).map(number -> hosts[number]);
    }

    /** The hosts of a set, in the order of their names. */
    public Stream<Host> hosts(RoaringBitmap set) {
        return set.stream().mapToObj(number -> hosts[number]).sorted(Comparator.comparing(Host::name));
    }

    public RoaringBitmap all() {
        return all.clone();
    }

    /**
     * The hosts of an entry of the ladder, also of {@link Ladder#NO_POPULATION}.
     *
     * @throws IllegalArgumentException if there is no population of that id
     */
    public RoaringBitmap members(PopulationId populationId) {
        if (populationId.equals(Ladder.NO_POPULATION)) {
            return inNoPopulation();
        }
        for (int place = 0; place < members.size(); place++) {
            if (ladder.populations().get(place).id().equals(populationId)) {
                return members.get(place).clone();
            }
        }
        throw new IllegalArgumentException("there is no population " + populationId);
    }

    public RoaringBitmap inNoPopulation() {
        return unowned.clone();
    }

    /**
     * These hosts by the entry of the ladder that owns them, in its order; entries that own none of them are left out,
     * and so are retired hosts. A small set is divided host by host, which is faster than to intersect it with each
     * population; for a large one it is the other way round.
     */
    public Map<PopulationId, RoaringBitmap> byEntry(RoaringBitmap set) {
        List<RoaringBitmap> parts = set.getCardinality() <= DIVIDED_HOST_BY_HOST ? hostByHost(set) : intersected(set);
        Map<PopulationId, RoaringBitmap> byEntry = new LinkedHashMap<>();
        for (int place = 0; place < parts.size(); place++) {
            if (!parts.get(place).isEmpty()) {
                byEntry.put(
                        place < members.size() ? ladder.populations().get(place).id() : Ladder.NO_POPULATION,
                        parts.get(place));
            }
        }
        return byEntry;
    }

    /** The last part is of those in no population. */
    private List<RoaringBitmap> hostByHost(RoaringBitmap set) {
        List<RoaringBitmapWriter<RoaringBitmap>> parts = new ArrayList<>();
        for (int place = 0; place <= members.size(); place++) {
            parts.add(RoaringBitmapWriter.writer().get());
        }
        set.forEach((int number) -> {
            if (!retired.contains(number)) {
                parts.get(places[number] < 0 ? members.size() : places[number]).add(number);
            }
        });
        return parts.stream().map(RoaringBitmapWriter::get).toList();
    }

    private List<RoaringBitmap> intersected(RoaringBitmap set) {
        return Stream.concat(members.stream(), Stream.of(unowned))
                .map(owned -> RoaringBitmap.and(owned, set))
                .toList();
    }

    /** Hosts whose trait has this value in words. */
    public RoaringBitmap withTrait(String trait, String value) {
        return traitValues
                .computeIfAbsent(trait, this::byValue)
                .getOrDefault(value, NO_HOSTS)
                .clone();
    }

    private Map<String, RoaringBitmap> byValue(String trait) {
        Map<String, RoaringBitmap> values = new HashMap<>();
        all.forEach((int number) -> valueOf(hosts[number], trait)
                .ifPresent(value ->
                        values.computeIfAbsent(value, v -> new RoaringBitmap()).add(number)));
        return values;
    }

    /** Hosts of any of these platforms. */
    public RoaringBitmap onPlatforms(Set<String> names) {
        RoaringBitmap set = new RoaringBitmap();
        names.forEach(name -> set.or(platforms.getOrDefault(name, new RoaringBitmap())));
        return set;
    }

    /** Hosts of a release of a distribution, however it and their platforms are spelled. */
    public RoaringBitmap onRelease(String release) {
        RoaringBitmap set = new RoaringBitmap();
        platforms.forEach((platform, hosts) -> {
            if (DistributionRelease.covers(release, platform)) {
                set.or(hosts);
            }
        });
        return set;
    }

    /** Hosts whose last report is too old, at {@code now}, to tell their state. */
    public RoaringBitmap unknownAt(Instant now) {
        long instant = now.toEpochMilli();
        Unknown known = lastUnknown;
        if (known == null || known.instant() != instant) {
            known = new Unknown(instant, unknownAt(instant));
            lastUnknown = known;
        }
        return known.hosts().clone();
    }

    private RoaringBitmap unknownAt(long instant) {
        RoaringBitmap unknown = new RoaringBitmap();
        all.forEach((int number) -> {
            if (unknownFrom[number] < instant) {
                unknown.add(number);
            }
        });
        return unknown;
    }

    /** Hosts that have not reported since an instant. */
    public RoaringBitmap silentSince(Instant instant) {
        RoaringBitmap silent = new RoaringBitmap();
        all.forEach((int number) -> {
            if (hosts[number].lastReport().isBefore(instant)) {
                silent.add(number);
            }
        });
        return silent;
    }

    /**
     * From when on a host is silent for longer than it usually is, if it does not report before: milliseconds since the
     * epoch. Had it installed something right after its last report, that would count as followed by silence then.
     */
    public long silentFrom(int number) {
        return silentFrom[number];
    }

    public boolean knows(int number) {
        return number < hosts.length && hosts[number] != null;
    }

    /** Hosts of this fleet that reported, were told of, were retired or came back since the earlier one. */
    public List<Host> changedSince(Fleet earlier) {
        RoaringBitmap changed = RoaringBitmap.xor(earlier.retired, retired);
        for (int number = 0; number < hosts.length; number++) {
            if (number >= earlier.hosts.length || earlier.hosts[number] != hosts[number]) {
                changed.add(number);
            }
        }
        return changed.stream()
                .mapToObj(number -> hosts[number])
                .filter(Objects::nonNull)
                .toList();
    }

    /**
     * Hosts whose last report became too old, or is no longer, between an earlier fleet at an earlier instant and this
     * one.
     */
    public RoaringBitmap freshnessChanged(Fleet earlier, Instant then, Instant now) {
        return RoaringBitmap.xor(earlier.unknownAt(then), unknownAt(now));
    }

    /** The hosts of {@code among} for which the condition holds. */
    public RoaringBitmap matching(HostCondition condition, RoaringBitmap among) {
        RoaringBitmap matching = new RoaringBitmap();
        among.forEach((int number) -> {
            if (condition.test(hosts[number])) {
                matching.add(number);
            }
        });
        return matching;
    }

    /** Hosts among these that told to take updates from elsewhere than their population should. */
    public RoaringBitmap onAnotherSupply(RoaringBitmap among) {
        RoaringBitmap elsewhere = new RoaringBitmap();
        for (Population population : ladder.populations()) {
            if (population.supply().isPresent()) {
                RoaringBitmap.and(members(population.id()), among).forEach((int number) -> {
                    if (population.isOnAnotherSupply(hosts[number])) {
                        elsewhere.add(number);
                    }
                });
            }
        }
        return elsewhere;
    }

    /**
     * How hosts use a trait.
     *
     * @param type that most hosts give it
     * @param values that hosts have, the most frequent first; none where they are more than {@value #MOST_VALUES}
     */
    public record TraitUse(Trait.Type type, List<String> values) {
        private static final int MOST_VALUES = 40;

        private static TraitUse of(Map<Trait, Integer> hosts) {
            Map<Trait.Type, Integer> byType = new EnumMap<>(Trait.Type.class);
            hosts.forEach((value, count) -> byType.merge(value.type(), count, Integer::sum));
            List<String> values = hosts.size() > MOST_VALUES
                    ? List.of()
                    : hosts.entrySet().stream()
                            .sorted(Map.Entry.<Trait, Integer>comparingByValue()
                                    .reversed()
                                    .thenComparing(e -> e.getKey().toString()))
                            .map(e -> e.getKey().toString())
                            .toList();
            return new TraitUse(
                    Collections.max(
                                    byType.entrySet(),
                                    Map.Entry.<Trait.Type, Integer>comparingByValue()
                                            .thenComparing(e -> -e.getKey().ordinal()))
                            .getKey(),
                    values);
        }
    }

    /** All traits in use, by name; counted once for a fleet. */
    public Map<String, TraitUse> traits() {
        Map<String, TraitUse> known = traits;
        if (known == null) {
            Map<String, Map<Trait, Integer>> counts = new TreeMap<>();
            all.forEach((int number) -> hosts[number].traits().forEach((name, value) -> counts.computeIfAbsent(
                            name, n -> new HashMap<>())
                    .merge(value, 1, Integer::sum)));
            Map<String, TraitUse> uses = new TreeMap<>();
            counts.forEach((name, byValue) -> uses.put(name, TraitUse.of(byValue)));
            uses.put("name", new TraitUse(Trait.Type.TEXT, List.of()));
            uses.put(
                    "platform",
                    new TraitUse(
                            Trait.Type.TEXT,
                            platforms.keySet().stream().sorted().toList()));
            uses.put("supply", new TraitUse(Trait.Type.TEXT, List.of()));
            known = Collections.unmodifiableMap(uses);
            traits = known;
        }
        return known;
    }

    /** The type that most hosts give each trait in use. */
    public Map<String, Trait.Type> traitTypes() {
        Map<String, Trait.Type> types = new TreeMap<>();
        traits().forEach((name, use) -> types.put(name, use.type()));
        return types;
    }
}
