package lucid.core.ruling;

import static lucid.core.TestFleet.NOW;
import static lucid.core.TestIds.acknowledgementNumber;
import static lucid.core.TestIds.exceptionNumber;
import static lucid.core.TestIds.populationId;
import static lucid.core.TestIds.updateId;
import static lucid.core.TestIds.verdictNumber;
import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.LongFunction;
import java.util.stream.Stream;
import lucid.core.TestFleet;
import lucid.core.TestPilots;
import lucid.core.carriage.Carriage;
import lucid.core.carriage.CarriageState;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostCondition;
import lucid.core.fleet.HostConditions;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Population;
import lucid.core.fleet.Spread;
import lucid.core.fleet.StandingRule;
import lucid.core.pilot.Pilot;
import lucid.core.update.Catalogue;
import lucid.core.update.Kind;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.roaringbitmap.RoaringBitmap;

/**
 * Random decisions on an update, on the one that it supersedes and on one that supersedes it, played against
 * {@link RulingTable}; and many hosts at once against one at a time.
 */
class TimelineFuzzTest {

    private static final Duration LAST_DECIDED = Duration.ofHours(100);
    private static final Instant REVISED = NOW.plus(Duration.ofDays(4));
    private static final Ladder LADDER = new Ladder(
            List.of(
                    withLine(TestFleet.population("kiosks", "role = kiosk", 5), "reader = R2", 8),
                    TestFleet.population("tablets", "role = tablet", 12)),
            new StandingRule(List.of(), StandingRule.Offer.NEVER));
    private static final List<HostCondition> CONDITIONS = Stream.of(
                    "reader = R1", "reader = R2", "spool < 300", "role is set", "name in (host-1, host-4)")
            .map(HostConditions::parse)
            .toList();
    private static final Update FIRST = TestFleet.update("FTM-1", "pkg:deb/fathom/libtls@2.0");
    private static final Update SECOND =
            TestFleet.update("FTM-2", RestartNeed.NONE, List.of("FTM-1"), "pkg:deb/fathom/libtls@2.1");
    /** Contains the second as well, but does not supersede it. */
    private static final Update THIRD_BRINGING =
            TestFleet.bringing("FTM-3", List.of("FTM-2"), "pkg:deb/fathom/libtls@2.2");

    private static final Update THIRD =
            TestFleet.update("FTM-3", RestartNeed.NONE, List.of("FTM-2"), "pkg:deb/fathom/libtls@2.2");
    /** The second with other fixes; they were published when they were read. */
    private static final Update SECOND_REVISED = TestFleet.update(
            TestFleet.notice(
                    "FTM-2",
                    "2",
                    RestartNeed.NONE,
                    List.of("FTM-1"),
                    List.of(),
                    TestFleet.update("X", "pkg:deb/fathom/libtls@2.1.5").fixes()),
            Optional.of(SECOND),
            REVISED);

    private static Population withLine(Population population, String where, int days) {
        return TestFleet.with(
                population,
                new StandingRule(
                        List.of(new StandingRule.Line(
                                Set.of(),
                                Set.of(),
                                Optional.of(HostConditions.parse(where)),
                                StandingRule.Offer.afterDays(days))),
                        population.rule().otherwise()));
    }

    @ParameterizedTest
    @ValueSource(longs = {11, 12, 13})
    void agreesWithTheTable(long seed) {
        Random random = new Random(seed);
        for (int round = 0; round < 250; round++) {
            List<Host> hosts = hosts(random);
            Fleet fleet = Fleet.EMPTY.with(LADDER).with(hosts);
            boolean revised = random.nextInt(3) == 0;
            Update second = revised ? SECOND_REVISED : SECOND;
            Update third = random.nextBoolean() ? THIRD : THIRD_BRINGING;
            Catalogue catalogue = Catalogue.EMPTY.with(List.of(FIRST, second, third));
            Decisions decisions = decisions(random);
            RulingTable table = table(decisions, hosts, second, revised);
            for (Update update : List.of(FIRST, second, third)) {
                Timeline timeline = Timeline.of(update, decisions, fleet, catalogue);
                Carriage carriage = TestFleet.carriages(fleet, List.of(FIRST, second, third))
                        .of(update, NOW);
                Instant at = NOW.plus(Duration.ofHours(random.nextInt(24 * 20)));
                for (Host host : hosts) {
                    CarriageState state = carriage.lastKnown(host.number());
                    Ruling ruling = timeline.ruling(host, state, at);
                    assertThat(ruling.effect())
                            .as(
                                    "seed %d, round %d, %s on %s at %s under %s",
                                    seed, round, update.id(), host.traits(), at, decisions)
                            .isEqualTo(table.effect(host, update.id().value(), state.lacks(), at));
                    assertThat(ruling.chain().get(0)).isEqualTo(ruling.holds());
                    // Nobody foresees a revision, or what is still to be decided.
                    if (!at.isBefore(NOW.plus(LAST_DECIDED))) {
                        requireUntilIsTheFirstChange(table, host, update, state, at, ruling, decisions);
                    }
                }
                requireGroupsToAddUp(timeline, carriage, fleet, at);
            }
        }
    }

    private static RulingTable table(Decisions decisions, List<Host> hosts, Update second, boolean revised) {
        Map<Integer, String> entries = new HashMap<>();
        hosts.forEach(host -> entries.put(
                host.number(),
                switch (host.traits().get("role").toString()) {
                    case "kiosk" -> "kiosks";
                    case "tablet" -> "tablets";
                    default -> "none";
                }));
        Map<String, Instant> rule = new HashMap<>();
        for (Update update : List.of(FIRST, second, THIRD)) {
            rule.put("kiosks " + update.id(), update.published().plus(Duration.ofDays(5)));
            rule.put("kiosks R2 " + update.id(), update.published().plus(Duration.ofDays(8)));
            rule.put("tablets " + update.id(), update.published().plus(Duration.ofDays(12)));
        }
        return new RulingTable(
                decisions,
                entries,
                rule,
                Map.of("kiosks", 5, "kiosks R2", 8, "tablets", 12),
                Map.of("FTM-2", List.of("FTM-1"), "FTM-3", List.of("FTM-2", "FTM-1")),
                Map.of("FTM-1", NOW, "FTM-2", NOW, "FTM-3", NOW),
                revised ? Map.of("FTM-2", REVISED) : Map.of());
    }

    /**
     * Between now and the until the answer stays; at the until it is another one; without an until it stays for good.
     */
    private static void requireUntilIsTheFirstChange(
            RulingTable table,
            Host host,
            Update update,
            CarriageState state,
            Instant at,
            Ruling ruling,
            Decisions decisions) {
        Set<Instant> moments = new TreeSet<>();
        decisions.verdicts().forEach(v -> v.ends().forEach(moments::add));
        decisions.exceptions().forEach(e -> moments.add(e.until()));
        decisions.freezes().forEach(f -> moments.addAll(List.of(f.from(), f.endFor(host.number()))));
        decisions.cautions().forEach(c -> moments.addAll(List.of(c.createdAt(), c.until())));
        for (int days : List.of(5, 8, 10, 12, 16, 24)) {
            moments.add(update.published().plus(Duration.ofDays(days)));
        }
        Optional<Instant> expected = moments.stream()
                .filter(m -> m.isAfter(at))
                .filter(m -> table.effect(host, update.id().value(), state.lacks(), m) != ruling.effect())
                .findFirst();
        assertThat(ruling.until())
                .as("%s of %s at %s under %s", host.traits(), update.id(), at, decisions)
                .isEqualTo(expected);
    }

    private static void requireGroupsToAddUp(Timeline timeline, Carriage carriage, Fleet fleet, Instant at) {
        RoaringBitmap gathered = new RoaringBitmap();
        for (RulingGroup group : timeline.groups(carriage.lacking(), at)) {
            assertThat(RoaringBitmap.andCardinality(gathered, group.hosts()))
                    .as("each host once")
                    .isZero();
            gathered.or(group.hosts());
            group.hosts().forEach((int number) -> assertThat(
                            timeline.ruling(fleet.host(number), carriage.lastKnown(number), at)
                                    .holds())
                    .isEqualTo(group.match()));
        }
        assertThat(gathered).isEqualTo(carriage.lacking());
    }

    private static List<Host> hosts(Random random) {
        List<Host> hosts = new ArrayList<>();
        for (int number = 0; number < 8; number++) {
            hosts.add(TestFleet.host(
                    number,
                    Map.of(
                            "role",
                                    TestFleet.text(
                                            List.of("kiosk", "tablet", "loan").get(random.nextInt(3))),
                            "reader", TestFleet.text("R" + (1 + random.nextInt(2))),
                            "spool", TestFleet.number(random.nextInt(600))),
                    "pkg:deb/fathom/libtls@" + (random.nextInt(5) == 0 ? "2.0" : "1.0")));
        }
        return hosts;
    }

    private static UpdateId update(Random random) {
        return updateId(List.of("FTM-1", "FTM-2", "FTM-3", "OTHER").get(random.nextInt(4)));
    }

    private static Decisions decisions(Random random) {
        Decisions decisions = Decisions.NONE;
        int verdicts = random.nextInt(7);
        for (long number = 1; number <= verdicts; number++) {
            VerdictType type = VerdictType.values()[random.nextInt(VerdictType.values().length)];
            Instant day = day(random);
            Verdict.Delivery delivery = delivery(type, day, random);
            decisions = decisions.with(new Verdict(
                    verdictNumber(number),
                    new Verdict.Subject(
                            update(random),
                            "1",
                            populationId(List.of("kiosks", "tablets", "none").get(random.nextInt(3))),
                            condition(random)),
                    type,
                    delivery.spread().map(Spread::last).orElse(day),
                    new Verdict.Reason(Set.of(), ""),
                    new Verdict.Origin("a", NOW.plus(Duration.ofHours(number))),
                    new Verdict.Overrides(
                            numbers(random, DecisionNumber.OfVerdict::new),
                            numbers(random, DecisionNumber.OfException::new),
                            numbers(random, DecisionNumber.OfFreeze::new)),
                    delivery,
                    Verdict.Moment.UNKNOWN,
                    revokedAt(random),
                    Optional.empty(),
                    type == VerdictType.PILOT ? Optional.of(pilot(random)) : Optional.empty()));
        }
        int exceptions = random.nextInt(3);
        for (long number = 1; number <= exceptions; number++) {
            ExceptionGrant.Scope scope =
                    switch (random.nextInt(4)) {
                        case 0 -> new ExceptionGrant.Scope.OfUpdate(updateId("FTM-1"));
                        case 1 -> new ExceptionGrant.Scope.OfUpdate(updateId("FTM-2"));
                        case 2 ->
                            new ExceptionGrant.Scope.OfProduct(
                                    FIRST.fixes().get(0).build().product());
                        default -> new ExceptionGrant.Scope.OfKind(Kind.BUGFIX);
                    };
            decisions = decisions.with(new ExceptionGrant(
                    exceptionNumber(number),
                    scope,
                    CONDITIONS.get(random.nextInt(CONDITIONS.size())),
                    List.of(Effect.WITHHELD, Effect.OFFERED, Effect.BY_OPERATOR).get(random.nextInt(3)),
                    day(random),
                    "",
                    "",
                    "",
                    "a",
                    NOW,
                    revokedAt(random)));
        }
        if (random.nextInt(3) == 0) {
            Instant from = day(random);
            Freeze freeze = new Freeze(
                    new DecisionNumber.OfFreeze(1),
                    random.nextBoolean() ? Set.of() : Set.of(populationId("kiosks")),
                    from,
                    from.plus(Duration.ofDays(1 + random.nextInt(6))),
                    "",
                    "a",
                    NOW,
                    revokedAt(random));
            decisions = decisions.with(
                    random.nextBoolean()
                            ? freeze
                            : freeze.spreadOver(new Spread(List.of(
                                    new Spread.Part(
                                            freeze.until(),
                                            RoaringBitmap.bitmapOf(random.nextInt(8), random.nextInt(8))),
                                    new Spread.Part(freeze.until().plus(Duration.ofDays(2)), new RoaringBitmap())))));
        }
        for (long number = 1; number <= random.nextInt(3); number++) {
            Instant from = NOW.plus(Duration.ofHours(random.nextInt((int) LAST_DECIDED.toHours())));
            decisions = decisions.with(new Caution(
                    new DecisionNumber.OfCaution(number),
                    random.nextBoolean() ? Caution.Level.WATCHFUL : Caution.Level.JUDGED_ONLY,
                    from.plus(Duration.ofDays(1 + random.nextInt(16))),
                    "",
                    "",
                    "a",
                    from,
                    revokedAt(random).map(taken -> from)));
        }
        int answers = random.nextInt(3);
        for (long number = 1; number <= answers; number++) {
            decisions = decisions.with(new Acknowledgement(
                    acknowledgementNumber(number),
                    update(random),
                    random.nextBoolean() ? Set.of() : Set.of(populationId(random.nextBoolean() ? "kiosks" : "none")),
                    Optional.empty(),
                    "a",
                    NOW.plus(Duration.ofHours(random.nextInt((int) LAST_DECIDED.toHours()))),
                    revokedAt(random)));
        }
        return decisions;
    }

    private static Verdict.Delivery delivery(VerdictType type, Instant day, Random random) {
        Verdict.Delivery delivery = Verdict.Delivery.USUAL;
        if (type == VerdictType.BLOCK && random.nextBoolean()) {
            return delivery.removing();
        }
        if (type != VerdictType.DEFER && type != VerdictType.FORCE) {
            return delivery;
        }
        if (random.nextInt(3) == 0) {
            delivery = delivery.by(new Verdict.ByOperator(List.of("tell the bridge"), List.of()));
        }
        return random.nextInt(3) > 0
                ? delivery
                : delivery.spreadOver(new Spread(List.of(
                        new Spread.Part(day, RoaringBitmap.bitmapOf(random.nextInt(8), random.nextInt(8))),
                        new Spread.Part(day.plus(Duration.ofDays(2)), new RoaringBitmap()))));
    }

    /** Three of the hosts; some have failed, before anything else happens. */
    private static Pilot pilot(Random random) {
        Pilot started = TestPilots.of(random.ints(3, 0, 8).distinct().boxed().toList(), NOW);
        return random.nextInt(4) == 0 ? started.failed(NOW) : started;
    }

    private static Optional<HostCondition> condition(Random random) {
        return random.nextBoolean() ? Optional.empty() : Optional.of(CONDITIONS.get(random.nextInt(CONDITIONS.size())));
    }

    private static Instant day(Random random) {
        return NOW.plus(Duration.ofDays(random.nextInt(16)));
    }

    private static <N> Set<N> numbers(Random random, LongFunction<N> number) {
        return random.nextInt(3) > 0 ? Set.of() : Set.of(number.apply(1 + random.nextInt(3)));
    }

    /** Long before everything else, so that it is not one more instant at which something changes. */
    private static Optional<Instant> revokedAt(Random random) {
        return random.nextInt(5) > 0 ? Optional.empty() : Optional.of(NOW);
    }
}
