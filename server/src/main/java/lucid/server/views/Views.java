package lucid.server.views;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.carriage.CarriageState;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostName;
import lucid.core.fleet.PopulationId;
import lucid.core.fleet.Trait;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.Effect;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.ruling.RuleMatch;
import lucid.core.ruling.RulingGroup;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.server.web.ProblemException;
import org.roaringbitmap.RoaringBitmap;

/** Shapes of the API that several places share. */
public final class Views {

    private static final int MOST_NAMES = 500;

    private Views() {}

    /** Hosts by state; they add up to the population. */
    public record StateCounts(
            int carries,
            int restartOutstanding,
            int claimed,
            int partly,
            int failed,
            int missing,
            int unknown,
            int notApplicable) {

        /** In the order of the states, as {@link #numbers} gives them. */
        public static StateCounts of(int[] numbers) {
            return new StateCounts(
                    numbers[0], numbers[1], numbers[2], numbers[3], numbers[4], numbers[5], numbers[6], numbers[7]);
        }

        public int[] numbers() {
            return new int[] {carries, restartOutstanding, claimed, partly, failed, missing, unknown, notApplicable};
        }

        public StateCounts plus(StateCounts more) {
            int[] sum = numbers();
            for (int place = 0; place < sum.length; place++) {
                sum[place] += more.numbers()[place];
            }
            return of(sum);
        }

        public static StateCounts of(Map<CarriageState, Integer> counts) {
            return new StateCounts(
                    counts.get(CarriageState.CARRIES),
                    counts.get(CarriageState.RESTART_OUTSTANDING),
                    counts.get(CarriageState.CLAIMED),
                    counts.get(CarriageState.PARTLY),
                    counts.get(CarriageState.FAILED),
                    counts.get(CarriageState.MISSING),
                    counts.get(CarriageState.UNKNOWN),
                    counts.get(CarriageState.NOT_APPLICABLE));
        }
    }

    /**
     * A trait that hosts have, which a condition may name.
     *
     * @param values that hosts have, where they are few
     */
    public record TraitView(String name, Trait.Type type, List<String> values) {
        public static List<TraitView> all(Fleet fleet) {
            return fleet.traits().entrySet().stream()
                    .map(e -> new TraitView(
                            e.getKey(), e.getValue().type(), e.getValue().values()))
                    .toList();
        }
    }

    /** @param names at most 500 of them, in order */
    public record HostList(int count, List<HostName> names) {
        public static HostList of(Fleet fleet, RoaringBitmap hosts) {
            return new HostList(
                    hosts.getCardinality(),
                    fleet.hosts(hosts).limit(MOST_NAMES).map(Host::name).toList());
        }
    }

    /** @param verdict type of the verdict that is the source, if one is */
    public record RuleMatchView(
            RuleMatch.Clause clause,
            Effect effect,
            Optional<DecisionNumber> source,
            Optional<VerdictType> verdict,
            Optional<Instant> end,
            Optional<Instant> due) {
        public static RuleMatchView of(RuleMatch match, Decisions decisions) {
            Optional<Verdict> verdict = match.source()
                    .filter(DecisionNumber.OfVerdict.class::isInstance)
                    .map(DecisionNumber.OfVerdict.class::cast)
                    .flatMap(decisions::verdict);
            return new RuleMatchView(
                    match.clause(),
                    match.effect(),
                    match.source(),
                    verdict.map(Verdict::type),
                    match.end(),
                    match.due());
        }
    }

    public record RulingGroupView(RuleMatchView match, HostList hosts) {
        public static RulingGroupView of(RulingGroup group, Fleet fleet, Decisions decisions) {
            return new RulingGroupView(RuleMatchView.of(group.match(), decisions), HostList.of(fleet, group.hosts()));
        }
    }

    /** @param about identifier of the update, package URL of the product, or the kind that it is about */
    public record ExceptionView(
            DecisionNumber.OfException number,
            String about,
            String hosts,
            Effect effect,
            Instant until,
            String reason,
            String owner,
            String measure,
            String author,
            Instant createdAt,
            Optional<Instant> revokedAt,
            boolean stands) {
        /** The update's identifier, the product's package URL, or the kind. */
        public static String about(ExceptionGrant e) {
            return e.scope() instanceof ExceptionGrant.Scope.OfUpdate u
                    ? u.updateId().value()
                    : e.scope() instanceof ExceptionGrant.Scope.OfProduct p
                            ? p.product().purl()
                            : "kind "
                                    + ((ExceptionGrant.Scope.OfKind) e.scope())
                                            .kind()
                                            .word();
        }

        public static ExceptionView of(ExceptionGrant e, Instant now) {
            return new ExceptionView(
                    e.number(),
                    about(e),
                    e.hosts().toString(),
                    e.effect(),
                    e.until(),
                    e.reason(),
                    e.owner(),
                    e.measure(),
                    e.author(),
                    e.createdAt(),
                    e.revokedAt(),
                    e.standsAt(now));
        }
    }

    /**
     * The hosts of a population, or of none.
     *
     * @throws ProblemException 404 if there is no such population
     */
    public static RoaringBitmap members(Fleet fleet, PopulationId population) {
        try {
            return fleet.members(population);
        } catch (IllegalArgumentException e) {
            throw ProblemException.notFound(e.getMessage());
        }
    }

    /** The hosts of any of these populations. */
    public static RoaringBitmap members(Fleet fleet, List<PopulationId> populations) {
        return RoaringBitmap.or(populations.stream()
                .map(population -> members(fleet, population))
                .iterator());
    }

    /** The end of a local day: the first instant of the next one. */
    public static Instant endOfDay(LocalDate day, ZoneId zone) {
        return day.plusDays(1).atStartOfDay(zone).toInstant();
    }
}
