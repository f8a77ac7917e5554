package lucid.core.fleet;

import java.time.Instant;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * All populations in one order: the first that matches owns a host, so each host is in exactly one or in none.
 *
 * @param fleetRule the standing rule for hosts in no population
 * @param holidays of the places where people work with the hosts
 * @param ruleSince since when the rule of an entry, and the releases that it stays at, are what they are; missing:
 *     nobody knows, for ever
 */
public record Ladder(
        List<Population> populations,
        StandingRule fleetRule,
        List<HolidayCalendar> holidays,
        Map<PopulationId, Instant> ruleSince) {

    /** No populations, and nothing is offered without a verdict. */
    public static final Ladder EMPTY = new Ladder(List.of(), new StandingRule(List.of(), StandingRule.Offer.NEVER));

    /** Identifier of the built-in last entry, for the hosts that no population matches; no population is called so. */
    public static final PopulationId NO_POPULATION = new PopulationId("none");

    private static final int TIER_OF_NO_POPULATION = 3;
    private static final HostCondition EVERY_HOST = HostConditions.parse("name is set");

    /** @throws IllegalArgumentException if two populations have the same id or name, or two calendars the same name */
    public Ladder {
        populations = List.copyOf(populations);
        holidays = List.copyOf(holidays);
        ruleSince = Map.copyOf(ruleSince);
        Set<String> seen = new HashSet<>();
        for (Population population : populations) {
            if (!seen.add("id " + population.id()) || !seen.add("name " + population.name())) {
                throw new IllegalArgumentException(
                        "two populations are called " + population.name() + " (" + population.id() + ")");
            }
        }
        for (HolidayCalendar calendar : holidays) {
            if (!seen.add("holidays " + calendar.name())) {
                throw new IllegalArgumentException("two calendars of holidays are called " + calendar.name());
            }
        }
    }

    /** No holidays are known, and nobody knows since when its rules are what they are. */
    public Ladder(List<Population> populations, StandingRule fleetRule) {
        this(populations, fleetRule, List.of(), Map.of());
    }

    /** The same, with other holidays. */
    public Ladder withHolidays(List<HolidayCalendar> others) {
        return new Ladder(populations, fleetRule, others, ruleSince);
    }

    /** The same, but that it takes the place of another at an instant: what that says too is older. */
    public Ladder following(Ladder before, Instant at) {
        Map<PopulationId, Instant> since = new HashMap<>();
        for (Population entry : entries()) {
            if (before.entry(entry.id())
                    .filter(known ->
                            known.rule().equals(entry.rule()) && known.staysAt().equals(entry.staysAt()))
                    .isEmpty()) {
                since.put(entry.id(), at);
            } else if (before.ruleSince().containsKey(entry.id())) {
                since.put(entry.id(), before.ruleSince().get(entry.id()));
            }
        }
        return new Ladder(populations, fleetRule, holidays, since);
    }

    /** True if it says the same, whenever that began. */
    public boolean saysTheSameAs(Ladder other) {
        return populations.equals(other.populations)
                && fleetRule.equals(other.fleetRule)
                && holidays.equals(other.holidays);
    }

    /**
     * As somebody sees it who knows of these populations only: others are not named, also not by the holidays that
     * count for them.
     */
    Ladder only(Set<PopulationId> some) {
        return new Ladder(
                populations.stream()
                        .filter(population -> some.contains(population.id()))
                        .toList(),
                fleetRule,
                holidays.stream()
                        .filter(calendar -> some.stream().anyMatch(calendar::countsFor))
                        .map(calendar -> new HolidayCalendar(
                                calendar.name(),
                                calendar.populations().stream()
                                        .filter(some::contains)
                                        .collect(Collectors.toSet()),
                                calendar.days()))
                        .toList(),
                ruleSince);
    }

    /** Place on the ladder of the population that owns the host, from 0, or -1 for none. */
    int placeOf(Host host) {
        for (int place = 0; place < populations.size(); place++) {
            if (populations.get(place).matches(host)) {
                return place;
            }
        }
        return -1;
    }

    /**
     * The populations in their order, and last the built-in entry for hosts in none of them: they are judged like any
     * other.
     */
    public List<Population> entries() {
        return Stream.concat(populations.stream(), Stream.of(unassigned())).toList();
    }

    private Population unassigned() {
        return new Population(
                NO_POPULATION,
                "In no population",
                EVERY_HOST,
                Set.of(),
                Set.of(),
                TIER_OF_NO_POPULATION,
                "",
                Set.of(),
                Optional.empty(),
                Timing.ANY_TIME,
                fleetRule);
    }

    /** The entry of that identifier, also the built-in one. */
    public Optional<Population> entry(PopulationId id) {
        return id.equals(NO_POPULATION) ? Optional.of(unassigned()) : find(id);
    }

    /** The entry to which a host belongs. */
    public Population entryOf(Host host) {
        return owner(host).orElseGet(this::unassigned);
    }

    public Optional<Population> owner(Host host) {
        int place = placeOf(host);
        return place < 0 ? Optional.empty() : Optional.of(populations.get(place));
    }

    /** The populations below the owner that match the host too. */
    public List<Population> overlaps(Host host) {
        return populations.stream().filter(p -> p.matches(host)).skip(1).toList();
    }

    public Optional<Population> find(PopulationId id) {
        return populations.stream().filter(p -> p.id().equals(id)).findFirst();
    }
}
