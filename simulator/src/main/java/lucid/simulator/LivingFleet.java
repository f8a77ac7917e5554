package lucid.simulator;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.Comparator;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SplittableRandom;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import lucid.simulator.living.LivingHost;
import lucid.simulator.living.Nature;
import lucid.simulator.living.Orders;
import lucid.simulator.living.WeekHours;

/** The hosts of Skerry Line after the history: from then on they do what they are told, each in its own way. */
final class LivingFleet {

    private static final int FULL = 100;
    private static final Set<String> COME_BACK = Set.of("tablet", "desktop");
    /** In one office the machines are switched off at the weekend. */
    private static final String OFFICE = "mill-bay";

    private static final List<WeekHours.Span> WEEKEND = List.of(WeekHours.Span.parse("sat-sun 00:00-24:00"));
    private static final Duration LATEST = Duration.ofMinutes(20);
    private static final int TABLET_AT_HOME_DAYS = 40;
    /** Of a hundred updaters so many have stopped. */
    private static final int IDLE = 3;

    private final Api api;
    private final Map<SimulatedHost, LivingHost> hosts = new LinkedHashMap<>();
    /** What is still to be sent, by host. */
    private final Map<SimulatedHost, Deque<String>> reports = new LinkedHashMap<>();

    /** @param end of the history */
    LivingFleet(Api api, List<SimulatedHost> fleet, List<Release> releases, Instant end) {
        this.api = api;
        Map<List<String>, Release> failing = releases.stream()
                .filter(release -> release.failure().isPresent())
                .collect(Collectors.toMap(release -> List.of(release.id(), release.revision()), release -> release));
        for (SimulatedHost host : fleet) {
            int lastDay =
                    IntStream.range(0, 100).filter(host::reportsOn).findFirst().orElseThrow();
            Instant lastReport = host.reportedAt(end.minus(Duration.ofDays(lastDay)));
            hosts.put(
                    host,
                    new LivingHost(
                            host.name(),
                            nature(host, lastReport, end, failing),
                            host.versionsOn(releases, lastDay),
                            host.startedAt(releases, lastDay, end.minus(Duration.ofDays(lastDay))),
                            lastReport,
                            report -> reports.computeIfAbsent(host, any -> new ArrayDeque<>())
                                    .add(host.lines(report, List.of(), end))));
        }
    }

    private static Nature nature(
            SimulatedHost host, Instant lastReport, Instant end, Map<List<String>, Release> failing) {
        SplittableRandom chance = host.random("nature");
        boolean comesBack = COME_BACK.contains(host.role());
        Instant back = end.plus(Duration.ofHours(24 + chance.nextInt(11 * 24)));
        return new Nature(
                Duration.ofDays(host.everyDays()),
                LATEST,
                chance.nextInt(100) < IDLE,
                host.role().equals("desktop") && OFFICE.equals(host.traits().get("site")) ? WEEKEND : List.of(),
                host.silentDays() == 0
                        ? Optional.empty()
                        : Optional.of(new Nature.Voyage(
                                lastReport.plusSeconds(1), Optional.of(back).filter(at -> comesBack))),
                host.role().equals("tablet") ? TABLET_AT_HOME_DAYS : 0,
                (int) host.traits().getOrDefault("battery_percent", FULL),
                host.traits().containsKey("paid_line"),
                (update, revision) -> Optional.ofNullable(failing.get(List.of(update, revision)))
                        .flatMap(Release::failure)
                        .filter(failure -> failure.hits(host.traits()))
                        .map(Release.Failure::fault));
    }

    private Orders orders(SimulatedHost host) {
        return api.orders(host.name(), !hosts.get(host).isIdle());
    }

    /** Whoever reported on the last day has heard what holds. */
    void hearFirst() {
        hosts.keySet().parallelStream().filter(host -> host.reportsOn(0)).forEach(this::orders);
        api.acknowledge();
    }

    /** All live on; whoever checks in reports first and then hears what it is told. */
    void liveUntil(Instant until) {
        Map<SimulatedHost, Instant> asking = new LinkedHashMap<>();
        hosts.forEach((host, living) -> living.liveUntil(until).ifPresent(at -> asking.put(host, at)));
        while (!asking.isEmpty()) {
            report();
            Map<SimulatedHost, Orders> told = asking.keySet().parallelStream()
                    .collect(Collectors.toConcurrentMap(host -> host, host -> orders(host)));
            api.acknowledge();
            List<SimulatedHost> asked = asking.keySet().stream()
                    .sorted(Comparator.comparing(SimulatedHost::name))
                    .toList();
            Map<SimulatedHost, Instant> heard = new LinkedHashMap<>(asking);
            asking.clear();
            for (SimulatedHost host : asked) {
                LivingHost living = hosts.get(host);
                living.hear(told.get(host), heard.get(host));
                living.liveUntil(until).ifPresent(at -> asking.put(host, at));
            }
        }
        report();
    }

    /** A host stands in a document once: what it reports later goes into the next. */
    private void report() {
        while (!reports.isEmpty()) {
            api.report(reports.values().stream().map(Deque::remove).collect(Collectors.joining()));
            reports.values().removeIf(Deque::isEmpty);
        }
    }
}
