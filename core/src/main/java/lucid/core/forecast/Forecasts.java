package lucid.core.forecast;

import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.NavigableSet;
import java.util.Optional;
import java.util.TreeSet;
import java.util.function.Function;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.Population;
import lucid.core.fleet.StartMode;
import lucid.core.fleet.Trait;
import lucid.core.ruling.Freeze;
import org.roaringbitmap.RoaringBitmap;

/** What a plan will do on the hosts of a population, host by host and all together. */
public final class Forecasts {

    /**
     * How far ahead is looked beyond the offer and the deadline: a window may come once a week, an absence may last.
     */
    private static final Duration AHEAD = Duration.ofDays(60);

    private static final Duration STEP = Duration.ofDays(1);

    /** No host has this number. */
    private static final int NO_HOST = -1;

    private static final Comparator<GroupForecast.Peak> BY_HOSTS = Comparator.comparing(GroupForecast.Peak::hosts)
            .thenComparing(GroupForecast.Peak::hour, Comparator.reverseOrder())
            .thenComparing(GroupForecast.Peak::site, Comparator.reverseOrder());

    private record SiteHour(String site, Instant hour) {}

    private Forecasts() {}

    /**
     * @param hosts of the population
     * @param freezes all that are made; those of other populations and those that are taken back count for nothing
     */
    public static GroupForecast of(
            Population population,
            RoaringBitmap hosts,
            Fleet fleet,
            Forecast.Plan plan,
            List<Freeze> freezes,
            Instant now) {
        Instant until = plan.deadline().orElse(plan.offered()).plus(AHEAD);
        Forecast forecast = new Forecast(population.timing(), Hours.of(population, plan.offered(), until), plan);
        GroupForecast group = new GroupForecast(
                hosts,
                new RoaringBitmap(),
                new RoaringBitmap(),
                new RoaringBitmap(),
                new RoaringBitmap(),
                new RoaringBitmap(),
                new RoaringBitmap(),
                Optional.empty(),
                List.of(),
                List.of());
        Map<SiteHour, Integer> downloads = new HashMap<>();
        long[] inEffect = new long[hosts.getCardinality()];
        long[] earliest = new long[hosts.getCardinality()];
        int foreseen = 0;
        int possible = 0;
        StartMode start = plan.start(population.timing());
        boolean byOthers = start == StartMode.BY_OPERATOR
                || start != StartMode.BY_ITSELF && plan.deadline().isEmpty();
        List<Freeze> standing = freezes.stream()
                .filter(freeze -> freeze.isMadeBy(now) && freeze.until().isAfter(now) && freeze.covers(population.id()))
                .sorted(Comparator.comparing(Freeze::from))
                .toList();
        boolean spread = standing.stream().anyMatch(freeze -> freeze.spread().isPresent());
        List<Presence.Away> forAll = frozen(standing, NO_HOST);
        Duration rhythm = population.rhythm().orElse(Host.DEFAULT_RHYTHM);
        for (int number : hosts) {
            HostForecast one = forecast.of(
                    Presence.of(fleet.host(number), rhythm, spread ? frozen(standing, number) : forAll, now));
            Trait site = fleet.host(number).traits().get("site");
            one.seen()
                    .ifPresent(at -> downloads.merge(
                            new SiteHour(site == null ? "" : site.toString(), at.truncatedTo(ChronoUnit.HOURS)),
                            1,
                            Integer::sum));
            Optional<Instant> done = plan.restart() ? one.restarted() : one.installed();
            Optional<Instant> first = forecast.earliest(one);
            if (first.isPresent()) {
                earliest[possible++] = first.get().getEpochSecond();
            }
            if (done.isPresent()) {
                inEffect[foreseen++] = done.get().getEpochSecond();
            } else if (one.seen().isEmpty()) {
                group.silent().add(number);
            } else if (byOthers) {
                group.byOthers().add(number);
            } else {
                group.notForeseen().add(number);
            }
            if (one.inBusyHours()) {
                group.inBusyHours().add(number);
            }
            if (one.late()) {
                group.late().add(number);
            }
            if (one.due()
                    .filter(due -> due.isAfter(plan.deadline().orElseThrow()))
                    .isPresent()) {
                group.dueLater().add(number);
            }
        }
        return new GroupForecast(
                hosts,
                group.inBusyHours(),
                group.late(),
                group.dueLater(),
                group.silent(),
                group.byOthers(),
                group.notForeseen(),
                downloads.entrySet().stream()
                        .map(of -> new GroupForecast.Peak(
                                of.getKey().site(), of.getKey().hour(), of.getValue()))
                        .max(BY_HOSTS),
                curve(Arrays.copyOf(inEffect, foreseen), plan.offered()),
                curve(Arrays.copyOf(earliest, possible), plan.offered()));
    }

    /** Of several parts of the same hosts' population, all together. */
    public static GroupForecast together(List<GroupForecast> parts) {
        return new GroupForecast(
                union(parts, GroupForecast::hosts),
                union(parts, GroupForecast::inBusyHours),
                union(parts, GroupForecast::late),
                union(parts, GroupForecast::dueLater),
                union(parts, GroupForecast::silent),
                union(parts, GroupForecast::byOthers),
                union(parts, GroupForecast::notForeseen),
                // Parts come on different days.
                parts.stream().flatMap(part -> part.peak().stream()).max(BY_HOSTS),
                sum(parts, GroupForecast::curve),
                sum(parts, GroupForecast::earliest));
    }

    private static List<GroupForecast.Point> sum(
            List<GroupForecast> parts, Function<GroupForecast, List<GroupForecast.Point>> curve) {
        NavigableSet<Instant> instants = new TreeSet<>();
        parts.forEach(part -> curve.apply(part).forEach(point -> instants.add(point.at())));
        return instants.stream()
                .map(at -> new GroupForecast.Point(
                        at,
                        parts.stream()
                                .mapToInt(part -> GroupForecast.by(curve.apply(part), at))
                                .sum()))
                .toList();
    }

    private static RoaringBitmap union(List<GroupForecast> parts, Function<GroupForecast, RoaringBitmap> which) {
        return RoaringBitmap.or(parts.stream().map(which).iterator());
    }

    /** The stretches of time in which a host is frozen; where several freezes overlap, they are one. */
    private static List<Presence.Away> frozen(List<Freeze> freezes, int host) {
        List<Presence.Away> stretches = new ArrayList<>();
        freezes.forEach(freeze -> {
            Instant from = freeze.from();
            Instant until = freeze.endFor(host);
            if (!stretches.isEmpty()) {
                Presence.Away last = stretches.get(stretches.size() - 1);
                Instant ends = last.until().orElseThrow();
                if (!from.isAfter(ends)) {
                    stretches.remove(stretches.size() - 1);
                    from = last.from();
                    until = ends.isAfter(until) ? ends : until;
                }
            }
            stretches.add(new Presence.Away(from, Optional.of(until), true));
        });
        return List.copyOf(stretches);
    }

    private static List<GroupForecast.Point> curve(long[] inEffect, Instant from) {
        Arrays.sort(inEffect);
        List<GroupForecast.Point> curve = new ArrayList<>(List.of(new GroupForecast.Point(from, 0)));
        int so = 0;
        for (Instant at = from.plus(STEP); so < inEffect.length; at = at.plus(STEP)) {
            while (so < inEffect.length && inEffect[so] < at.getEpochSecond()) {
                so++;
            }
            curve.add(new GroupForecast.Point(so < inEffect.length ? at : Instant.ofEpochSecond(inEffect[so - 1]), so));
        }
        return curve;
    }
}
