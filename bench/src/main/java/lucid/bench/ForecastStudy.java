package lucid.bench;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SplittableRandom;
import java.util.TreeMap;
import java.util.stream.Collectors;
import lucid.core.carriage.Carriages;
import lucid.core.carriage.CarrierIndex;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostConditions;
import lucid.core.fleet.HostName;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Outcomes;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.fleet.Restraint;
import lucid.core.fleet.StandingRule;
import lucid.core.fleet.StartMode;
import lucid.core.fleet.Timing;
import lucid.core.fleet.Trait;
import lucid.core.fleet.WeekSpan;
import lucid.core.forecast.Forecast;
import lucid.core.forecast.HostForecast;
import lucid.core.forecast.Hours;
import lucid.core.forecast.Presence;
import lucid.core.order.HostOrders;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.AffectedRange;
import lucid.core.update.Catalogue;
import lucid.core.update.Fix;
import lucid.core.update.Kind;
import lucid.core.update.PackageReference;
import lucid.core.update.Removable;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.core.update.UpdateNotice;
import lucid.simulator.living.LivingHost;
import lucid.simulator.living.Nature;
import lucid.simulator.living.Orders;
import lucid.simulator.living.WeekHours;

/**
 * Whether forecasts come true: populations with random hours, one update and one decision each; what is forecast for
 * each host when the decision is made, against the day on which the living host then has it in effect. The hosts reckon
 * hours by code of their own, hear their orders only as they check in, and some of them go away, fail or are idle.
 */
public final class ForecastStudy {

    private static final int WORLDS = 240;
    private static final int HOSTS = 60;
    private static final int DAYS = 45;
    private static final Instant NOW = Instant.parse("2026-11-24T09:00:00Z");
    private static final UpdateId ID = new UpdateId("STUDY-1");
    private static final PopulationId POPULATION = new PopulationId("studied");
    private static final List<String> ZONES = List.of("UTC", "Europe/Vienna", "America/St_Johns", "Asia/Tokyo");

    /** How far a decision and the start mode let anybody foresee. */
    private static final class Tally {
        private int foreseen;
        private int inReach;
        private int onItsDay;
        private int onItsDayOfAll;
        private int notForeseen;
        private int notForeseenAndDone;
    }

    private ForecastStudy() {}

    public static void main(String[] arguments) {
        Map<String, Tally> tallies = new TreeMap<>();
        for (int seed = 0; seed < WORLDS; seed++) {
            new World(seed).play(tallies);
        }
        Tally all = new Tally();
        tallies.forEach((name, tally) -> {
            print(name, tally);
            all.foreseen += tally.foreseen;
            all.inReach += tally.inReach;
            all.onItsDay += tally.onItsDay;
            all.onItsDayOfAll += tally.onItsDayOfAll;
            all.notForeseen += tally.notForeseen;
            all.notForeseenAndDone += tally.notForeseenAndDone;
        });
        print("all", all);
    }

    private static void print(String name, Tally of) {
        System.out.printf(
                "%-24s foreseen %5d, of those in reach and sound %5d: on the day, or by it where a person begins,"
                        + " %5.1f %%; of all foreseen %5.1f %%;"
                        + " not foreseen %5d, of which done all the same %4d%n",
                name,
                of.foreseen,
                of.inReach,
                100.0 * of.onItsDay / Math.max(1, of.inReach),
                100.0 * of.onItsDayOfAll / Math.max(1, of.foreseen),
                of.notForeseen,
                of.notForeseenAndDone);
    }

    /** One population, one update, one decision. */
    private static final class World {
        private final SplittableRandom random;
        private final Population population;
        private final Update update;
        private final Decisions decisions;
        private final Forecast.Plan plan;
        private final String name;

        private World(int seed) {
            random = new SplittableRandom(seed * 7919L + 5);
            StandingRule.Offer offer = StandingRule.Offer.afterDays(random.nextInt(6));
            population = population(random.nextInt(3) == 0 ? offer : offer.dueAfterDays(2 + random.nextInt(8)));
            boolean restart = random.nextInt(10) < 7;
            update = update(restart);
            VerdictType type = List.of(VerdictType.FORCE, VerdictType.DEFER).get(random.nextInt(2));
            boolean byRule = random.nextInt(3) == 0;
            Optional<Duration> ruleDeadline = population.rule().otherwise().deadline();
            Timing timing = population.timing();
            if (byRule) {
                decisions = Decisions.NONE;
                Instant offered = NOW.plus(population.rule().otherwise().delay().orElseThrow());
                plan = new Forecast.Plan(
                        offered,
                        ruleDeadline.map(offered::plus).map(timing::atDueHour),
                        timing.allowance(),
                        restart,
                        false);
            } else {
                Instant end = Hours.dueOn(
                        LocalDate.ofInstant(NOW, population.zone()).plusDays(6 + random.nextInt(6)), population, NOW);
                Verdict.Delivery delivery = type == VerdictType.FORCE
                        ? new Verdict.Delivery(Duration.ofDays(random.nextInt(3)), random.nextInt(6) == 0)
                        : Verdict.Delivery.USUAL;
                decisions = Decisions.NONE.with(new Verdict(
                                new DecisionNumber.OfVerdict(1),
                                new Verdict.Subject(ID, "1", POPULATION, Optional.empty()),
                                type,
                                end,
                                new Verdict.Reason(Set.of(), "study"),
                                new Verdict.Origin("study", NOW),
                                new Verdict.Overrides(Set.of(), Set.of()),
                                Optional.empty())
                        .with(delivery));
                plan = type == VerdictType.FORCE
                        ? new Forecast.Plan(
                                NOW, Optional.of(end), delivery.allowance(), restart, delivery.outsideWindows())
                        : new Forecast.Plan(
                                end,
                                ruleDeadline.map(end::plus).map(timing::atDueHour),
                                timing.allowance(),
                                restart,
                                false);
            }
            name = (byRule ? "rule" : type.name().toLowerCase()) + ", "
                    + timing.start().name().toLowerCase().replace('_', ' ');
        }

        private Population population(StandingRule.Offer offer) {
            List<WeekSpan> busy = random.nextInt(4) == 0
                    ? List.of()
                    : List.of(WeekSpan.parse((random.nextBoolean() ? "mon-fri " : "daily ") + "0"
                            + (4 + random.nextInt(5)) + ":30-" + (16 + random.nextInt(8)) + ":00"));
            List<WeekSpan> windows = random.nextInt(4) == 0
                    ? List.of(WeekSpan.parse(List.of("sun 02:00-05:00", "tue,thu 20:00-23:30", "daily 01:00-03:00")
                            .get(random.nextInt(3))))
                    : List.of();
            Timing timing = new Timing(
                    ZoneId.of(ZONES.get(random.nextInt(ZONES.size()))),
                    Optional.empty(),
                    busy,
                    windows,
                    random.nextBoolean() ? Optional.of(LocalTime.NOON) : Optional.empty(),
                    Duration.ofDays(random.nextInt(4)),
                    random.nextInt(3) < 2
                            ? StartMode.BY_ITSELF
                            : random.nextBoolean() ? StartMode.BY_PERSON : StartMode.AT_SHUTDOWN,
                    random.nextInt(4) > 0,
                    Restraint.USUAL);
            return new Population(
                    POPULATION,
                    "Studied",
                    HostConditions.parse("role = studied"),
                    Set.of(),
                    Set.of(),
                    3,
                    "nobody",
                    Set.of(),
                    Optional.empty(),
                    timing,
                    new StandingRule(List.of(), offer));
        }

        private static Update update(boolean restart) {
            Fix fix = new Fix(PackageReference.parse("pkg:generic/desk").build(), List.of(AffectedRange.below("2")));
            return Update.join(
                    List.of(),
                    Optional.of(new UpdateNotice(
                            ID,
                            "Study",
                            "Nobody",
                            "",
                            "1",
                            NOW,
                            Kind.BUGFIX,
                            Optional.empty(),
                            Optional.of(restart ? RestartNeed.HOST : RestartNeed.NONE),
                            Removable.NOT_TOLD,
                            List.of(),
                            List.of(),
                            List.of(),
                            List.of(),
                            List.of(fix))),
                    Optional.empty(),
                    NOW);
        }

        private void play(Map<String, Tally> tallies) {
            Tally tally = tallies.computeIfAbsent(name, any -> new Tally());
            Hours hours = Hours.of(population, NOW.minus(Duration.ofDays(8)), NOW.plus(Duration.ofDays(DAYS + 30)));
            Forecast forecast = new Forecast(population.timing(), hours, plan);
            for (int number = 0; number < HOSTS; number++) {
                Instant lastReport = NOW.minus(Duration.ofMinutes(random.nextInt(24 * 60)));
                HostForecast foreseen =
                        forecast.of(Presence.of(host(number, lastReport, "1"), Host.DEFAULT_RHYTHM, List.of(), NOW));
                Optional<Instant> inEffect = plan.restart() ? foreseen.restarted() : foreseen.installed();
                int nature = random.nextInt(100);
                boolean sound = nature >= 12;
                Optional<Instant> done = live(number, lastReport, nature);
                if (inEffect.isEmpty()) {
                    tally.notForeseen++;
                    tally.notForeseenAndDone += done.isPresent() ? 1 : 0;
                    continue;
                }
                // Before it is due, a person may begin, or start the host anew, on any day.
                boolean byThen = population.timing().start() != StartMode.BY_ITSELF
                        || plan.restart() && !population.timing().earlyRestart();
                boolean onItsDay = done.filter(
                                at -> day(at).equals(day(inEffect.get())) || byThen && at.isBefore(inEffect.get()))
                        .isPresent();
                tally.foreseen++;
                tally.onItsDayOfAll += onItsDay ? 1 : 0;
                tally.inReach += sound ? 1 : 0;
                tally.onItsDay += sound && onItsDay ? 1 : 0;
            }
        }

        private LocalDate day(Instant at) {
            return LocalDate.ofInstant(at, population.zone());
        }

        /** @param nature below 2: idle; below 5: the update fails; below 12: goes away now and then */
        private Optional<Instant> live(int number, Instant lastReport, int nature) {
            List<Instant> done = new ArrayList<>();
            boolean[] has = new boolean[1];
            LivingHost living = new LivingHost(
                    "host-" + number + "-" + name + random.nextInt(1_000_000),
                    new Nature(
                            Duration.ofDays(1),
                            Duration.ofMinutes(20),
                            nature < 2,
                            List.of(),
                            Optional.empty(),
                            nature >= 5 && nature < 12 ? 15 : 0,
                            100,
                            false,
                            (any, revision) -> nature >= 2 && nature < 5
                                    ? Optional.of(new Nature.Fault("0x1", "refused"))
                                    : Optional.empty()),
                    Map.of("pkg:generic/desk", "1"),
                    NOW.minus(Duration.ofDays(3)),
                    lastReport,
                    report -> {
                        boolean restarted = has[0] && report.lastStart().equals(report.at());
                        has[0] |= report.versions().containsValue("2");
                        if (has[0] && (restarted || !plan.restart())) {
                            done.add(report.at());
                        }
                    });
            Instant end = NOW.plus(Duration.ofDays(DAYS));
            for (Optional<Instant> asks = living.liveUntil(end); asks.isPresent(); asks = living.liveUntil(end)) {
                living.hear(told(host(number, asks.get(), has[0] ? "2" : "1"), asks.get()), asks.get());
            }
            return done.stream().findFirst();
        }

        private Host host(int number, Instant at, String version) {
            List<InstalledProduct> products = List.of(new InstalledProduct(
                    PackageReference.parse("pkg:generic/desk").build(), version));
            return new Host(
                    number,
                    new HostName("host-" + number),
                    "Study 1",
                    Map.of("role", new Trait.Text("studied")),
                    products,
                    products,
                    Optional.empty(),
                    Optional.empty(),
                    at,
                    at,
                    List.of(),
                    Optional.empty());
        }

        private Orders told(Host host, Instant at) {
            Host alone = new Host(
                    0,
                    host.name(),
                    host.platform(),
                    host.traits(),
                    host.products(),
                    host.running(),
                    host.supply(),
                    host.lastStart(),
                    host.firstReport(),
                    host.lastReport(),
                    host.absences(),
                    host.lists());
            CarrierIndex index =
                    CarrierIndex.EMPTY.with(List.of(new CarrierIndex.Change(0, List.of(), alone.products())));
            Carriages carriages = new Carriages(
                    Catalogue.EMPTY.with(List.of(update)),
                    Fleet.EMPTY
                            .with(new Ladder(
                                    List.of(population), new StandingRule(List.of(), StandingRule.Offer.NEVER)))
                            .with(List.of(alone)),
                    index,
                    index,
                    Outcomes.NONE);
            return read(HostOrders.of(alone, carriages, decisions, at));
        }

        /** As a host reads what it is told. */
        private static Orders read(HostOrders told) {
            Timing timing = told.population().timing();
            return new Orders(
                    new WeekHours(timing.zone(), spans(timing.busy()), spans(timing.windows()), timing.dueHour()),
                    Orders.Start.valueOf(timing.start().name()),
                    timing.earlyRestart(),
                    timing.restraint().leastBattery(),
                    timing.restraint().overPaidLine(),
                    List.of(),
                    told.orders().stream()
                            .map(order -> new Orders.Order(
                                    order.update().value(),
                                    order.revision(),
                                    Orders.What.valueOf(order.effect().name()),
                                    order.due(),
                                    Optional.empty(),
                                    order.allowance(),
                                    order.outsideWindows(),
                                    order.restart() == RestartNeed.HOST,
                                    order.packages().stream()
                                            .collect(Collectors.toMap(
                                                    wanted -> wanted.installed()
                                                            .build()
                                                            .product()
                                                            .purl(),
                                                    HostOrders.Package::version))))
                            .toList());
        }

        private static List<WeekHours.Span> spans(List<WeekSpan> spans) {
            return spans.stream()
                    .map(span -> WeekHours.Span.parse(span.toString()))
                    .toList();
        }
    }
}
