package lucid.simulator.living;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SplittableRandom;
import java.util.function.Consumer;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;

/**
 * One host as it lives on. It checks in every so often, and reports at once when something has been installed, has
 * failed or was restarted. Chance is drawn from its name and the purpose, so that it lives the same life in every run
 * in which it is told the same.
 */
public final class LivingHost {

    /** An absence of so many check-ins is one after which it gets the time for a host that was away. */
    private static final int SILENT_AFTER = 3;

    private static final Pattern RELEASE = Pattern.compile("(?:\\d+:)?(\\d{1,9})");

    private static final int MOST_TRIES = 3;
    private static final Duration DOWNLOADS = Duration.ofSeconds(20);
    /** Whatever follows an install or a download follows so long after it. */
    private static final Duration THEN = Duration.ofMinutes(5);

    /** Somebody starts it anew every one to three weeks. */
    private static final int OWN_START_DAYS = 7;

    private static final Duration TRIES_AGAIN = Duration.ofDays(1);
    /** Of ten thousand installs so many fail for no reason that anybody could find. */
    private static final int FAIL_FOR_NOTHING = 30;
    /** Of a hundred days on which a person could begin an install, so many on which one does. */
    private static final int PERSON_BEGINS = 25;

    private static final int SWITCHED_OFF = 60;
    private static final int OPERATOR_BEGINS = 15;

    private final String name;
    private final Nature nature;
    private final Map<String, String> versions;
    private final Map<String, Task> tasks = new LinkedHashMap<>();
    private final Consumer<Report> reports;
    private Orders orders;
    private Instant lastStart;
    /** When it is to check in by its rhythm, and when it will. */
    private Instant timer;

    private Instant nextCheckIn;
    /** When somebody starts it anew for a reason of their own. */
    private Instant nextStart;

    private Instant backSince = Instant.MIN;
    private Optional<Nature.Voyage> voyage;
    private int voyages;
    private boolean down;

    /**
     * What it tells: the first line of its inventory, what is installed, and what happened since the last report.
     *
     * @param withheld updates that its package manager does not offer
     */
    public record Report(
            Instant at,
            Instant lastStart,
            Map<String, String> versions,
            Set<String> withheld,
            List<Happened> happened) {}

    /** @param what a word of the inventory format: downloaded, installed, failed, removed */
    public record Happened(String update, String revision, String what, Instant at, Optional<Nature.Fault> fault) {}

    /** What it is about to do with an update. */
    private final class Task {
        private Orders.Order order;
        private final Instant heard;
        private Optional<Instant> planned = Optional.empty();
        private Optional<Instant> installed = Optional.empty();
        private int tries;
        private Map<String, String> before = Map.of();

        private Task(Orders.Order order, Instant heard) {
            this.order = order;
            this.heard = heard;
        }

        private boolean removes() {
            return order.what() == Orders.What.REMOVE;
        }

        /** True while something is to be done: an install, a removal, or the restart after one. */
        private boolean isOpen() {
            return installed.isEmpty()
                    ? tries < MOST_TRIES
                    : order.restartsHost() && !lastStart.isAfter(installed.get());
        }

        /** True if it has done already what it is told. */
        private boolean isOver(Orders.Order told) {
            return installed.isPresent()
                    && order.revision().equals(told.revision())
                    && removes() == (told.what() == Orders.What.REMOVE);
        }

        private void plan(Instant from) {
            boolean waits = installed.isEmpty() && nature.waits(orders);
            planned = isOpen() && !nature.idle() && !waits ? when(from) : Optional.empty();
        }

        private Optional<Instant> when(Instant from) {
            Optional<Instant> whenDue = due().flatMap(due -> allowed(due.isAfter(from) ? due : from, true));
            Optional<Instant> before = installed.isPresent() && orders.earlyRestart()
                            || installed.isEmpty() && byItself()
                    ? allowed(from, false)
                    : installed.isEmpty() ? othersBegin().map(at -> at.isAfter(from) ? at : from) : Optional.empty();
            return Stream.of(before, whenDue).flatMap(Optional::stream).min(Instant::compareTo);
        }

        private boolean byItself() {
            return removes() || order.what() == Orders.What.OFFERED && orders.start() == Orders.Start.BY_ITSELF;
        }

        /** When a person or an operator begins it. */
        private Optional<Instant> othersBegin() {
            if (order.slot().isPresent()) {
                return order.slot().map(from -> later(from, heard));
            }
            SplittableRandom chance = random(order.update() + order.revision() + "/begins");
            if (order.what() == Orders.What.BY_OPERATOR || orders.start() == Orders.Start.BY_OPERATOR) {
                return allowed(heard.plus(Duration.ofDays(geometric(chance, OPERATOR_BEGINS))), false);
            }
            boolean evening = orders.start() == Orders.Start.AT_SHUTDOWN;
            LocalDateTime day = LocalDate.ofInstant(heard, orders.hours().zone())
                    .plusDays(geometric(chance, evening ? SWITCHED_OFF : PERSON_BEGINS))
                    .atTime(LocalTime.of(evening ? 17 : 9, chance.nextInt(60)));
            return Optional.of(day.plusHours(chance.nextInt(evening ? 3 : 8))
                    .atZone(orders.hours().zone())
                    .toInstant());
        }

        /** When busy hours give way on this host; it alone knows since when it is back. */
        private Optional<Instant> due() {
            if (order.what() == Orders.What.BY_OPERATOR || orders.start() == Orders.Start.BY_OPERATOR) {
                return Optional.empty();
            }
            return order.due()
                    .map(due -> later(due, heard.plus(order.allowance())))
                    .map(due -> backSince.equals(Instant.MIN) ? due : later(due, backSince.plus(order.allowance())))
                    .map(due -> orders.frozen().stream()
                            .filter(frozen -> !due.isBefore(frozen.from())
                                    && due.isBefore(frozen.until().plus(order.allowance())))
                            .map(frozen -> frozen.until().plus(order.allowance()))
                            .reduce(due, LivingHost::later))
                    .map(orders.hours()::atDueHour);
        }

        private Optional<Instant> allowed(Instant from, boolean due) {
            Optional<Instant> at = due && order.outsideWindows()
                    ? Optional.of(from)
                    : orders.hours().firstAllowed(from, due);
            for (Orders.Frozen frozen : orders.frozen()) {
                at = at.flatMap(one -> one.isBefore(frozen.from()) || !one.isBefore(frozen.until())
                        ? Optional.of(one)
                        : due && order.outsideWindows()
                                ? Optional.of(frozen.until())
                                : orders.hours().firstAllowed(frozen.until(), due));
            }
            return at;
        }

        /** What happens as it is done; a restart tells itself. */
        private Optional<Happened> run(Instant at) {
            if (installed.isPresent()) {
                lastStart = at;
                return Optional.empty();
            }
            if (!removes() && isPassed()) {
                tries = MOST_TRIES;
                return Optional.empty();
            }
            tries++;
            SplittableRandom chance = random(order.update() + order.revision() + "/fails/" + tries);
            Optional<Nature.Fault> fault = removes()
                    ? Optional.empty()
                    : nature.faults()
                            .of(order.update(), order.revision())
                            .or(() -> chance.nextInt(10_000) < FAIL_FOR_NOTHING
                                    ? Optional.of(new Nature.Fault("interrupted", "refused"))
                                    : Optional.empty());
            down = fault.filter(one -> one.failureClass().equals("down")).isPresent();
            if (fault.isPresent() && !down) {
                plan(at.plus(TRIES_AGAIN));
                return Optional.of(happened("failed", at, fault));
            }
            install(at);
            return Optional.of(happened(removes() ? "removed" : "installed", at, Optional.empty()));
        }

        /** True if a later release is there meanwhile: no package manager lowers it by an update. */
        private boolean isPassed() {
            return versions.entrySet().stream().anyMatch(there -> Optional.ofNullable(
                            order.products().get(there.getKey().split("\\?")[0]))
                    .filter(to -> release(to) < release(there.getValue()))
                    .isPresent());
        }

        private void install(Instant at) {
            Map<String, String> wanted = new LinkedHashMap<>();
            versions.forEach((purl, version) -> {
                String to = removes() ? before.get(purl) : order.products().get(purl.split("\\?")[0]);
                if (to != null) {
                    wanted.put(purl, to);
                }
            });
            if (!removes()) {
                before = new LinkedHashMap<>(versions);
                before.keySet().retainAll(wanted.keySet());
            }
            versions.putAll(wanted);
            installed = Optional.of(at);
            plan(at.plus(THEN));
        }

        private Happened happened(String what, Instant at, Optional<Nature.Fault> fault) {
            return new Happened(order.update(), order.revision(), what, at, fault);
        }
    }

    /**
     * @param versions installed, by package URL
     * @param lastCheckIn its next one is a rhythm later
     * @param reports takes what it reports by itself
     */
    public LivingHost(
            String name,
            Nature nature,
            Map<String, String> versions,
            Instant lastStart,
            Instant lastCheckIn,
            Consumer<Report> reports) {
        this.name = name;
        this.nature = nature;
        this.versions = new LinkedHashMap<>(versions);
        this.lastStart = lastStart;
        this.timer = lastCheckIn;
        setTimer();
        this.nextStart = startAfter(lastCheckIn);
        this.voyage = nature.away().or(() -> nextVoyage(lastCheckIn));
        this.reports = reports;
    }

    /**
     * Lives on until it checks in, at the latest until an instant.
     *
     * @return when it checks in; it has reported, and waits to hear what it is told
     */
    public Optional<Instant> liveUntil(Instant until) {
        while (!down) {
            Optional<Task> next = tasks.values().stream()
                    .filter(task -> task.planned.isPresent())
                    .min((a, b) -> a.planned.get().compareTo(b.planned.get()));
            Instant at = Stream.concat(next.flatMap(task -> task.planned).stream(), Stream.of(nextCheckIn, nextStart))
                    .min(Instant::compareTo)
                    .orElseThrow();
            if (at.isAfter(until)) {
                return Optional.empty();
            }
            Optional<Instant> there = there(at);
            if (there.isEmpty()) {
                return Optional.empty();
            }
            if (there.get().isAfter(at)) {
                comesBack(at, there.get());
            } else if (at.equals(nextCheckIn)) {
                report(at, List.of());
                setTimer();
                return Optional.of(at);
            } else {
                run(at);
            }
        }
        return Optional.empty();
    }

    /** Does all that is planned for an instant, and reports once. */
    private void run(Instant at) {
        List<Happened> happened = new ArrayList<>();
        for (Task task : tasks.values()) {
            if (task.planned.filter(at::equals).isPresent() && !down) {
                task.planned = Optional.empty();
                task.run(at).ifPresent(happened::add);
            }
        }
        if (!nextStart.isAfter(at)) {
            lastStart = at;
            nextStart = startAfter(at);
        }
        // After the restart nothing waits for one.
        tasks.values().stream().filter(task -> !task.isOpen()).forEach(task -> task.planned = Optional.empty());
        report(at, happened);
    }

    private Instant startAfter(Instant at) {
        Instant from = at.plus(
                Duration.ofHours(24L * OWN_START_DAYS + random("/start/" + at).nextInt(14 * 24)));
        return orders == null ? from : orders.hours().firstAllowed(from, false).orElse(from);
    }

    /** Whatever it would have done while it was away it does as it comes back; first of all it checks in. */
    private void comesBack(Instant left, Instant back) {
        if (Duration.between(left, back).compareTo(nature.rhythm().multipliedBy(SILENT_AFTER)) > 0) {
            backSince = back;
        }
        if (nextCheckIn.isBefore(back)) {
            timer = back;
            nextCheckIn = back;
        }
        nextStart = nextStart.isAfter(back) ? nextStart : startAfter(back);
        tasks.values().stream()
                .filter(task -> task.planned.filter(at -> !at.isAfter(back)).isPresent())
                .forEach(task -> task.plan(back.plus(THEN)));
    }

    /** True if nothing on it does as it is told. */
    public boolean isIdle() {
        return nature.idle();
    }

    /** Hears what it is told. */
    public void hear(Orders told, Instant at) {
        orders = told;
        Map<String, Orders.Order> now = new LinkedHashMap<>();
        told.orders().forEach(order -> now.put(order.update(), order));
        tasks.values()
                .removeIf(task -> task.installed.isEmpty()
                        && Optional.ofNullable(now.get(task.order.update()))
                                .filter(order -> order.what() != Orders.What.WITHHELD
                                        && order.revision().equals(task.order.revision()))
                                .isEmpty());
        List<Happened> downloaded = new ArrayList<>();
        for (Orders.Order order : now.values()) {
            if (order.what() == Orders.What.WITHHELD || nature.waits(told)) {
                continue;
            }
            Task known = tasks.get(order.update());
            if (known != null && known.isOver(order)) {
                continue;
            }
            if (known == null || known.installed.isPresent()) {
                Task task = new Task(order, at);
                if (known != null) {
                    task.before = known.before;
                }
                tasks.put(order.update(), task);
                if (!task.removes()) {
                    downloaded.add(task.happened("downloaded", at.plus(DOWNLOADS), Optional.empty()));
                }
            } else {
                known.order = order;
            }
        }
        tasks.values().forEach(task -> task.plan(at.plus(THEN)));
        if (!downloaded.isEmpty()) {
            report(at.plus(DOWNLOADS), downloaded);
        }
    }

    private void setTimer() {
        timer = timer.plus(nature.rhythm());
        nextCheckIn = timer.plusSeconds(
                random("/late/" + timer).nextLong(nature.latest().toSeconds() + 1));
    }

    private void report(Instant at, List<Happened> happened) {
        reports.accept(new Report(at, lastStart, new LinkedHashMap<>(versions), withheld(), happened));
    }

    private Set<String> withheld() {
        return orders == null || isIdle() ? Set.of() : orders.withheld();
    }

    /** The first instant from this one on at which it is there; none: it never is again. */
    private Optional<Instant> there(Instant at) {
        while (voyage.filter(one -> one.back().isPresent() && !one.back().get().isAfter(at))
                .isPresent()) {
            voyage = nextVoyage(voyage.get().back().get());
        }
        Optional<Instant> back = voyage.filter(one -> !at.isBefore(one.from()))
                .map(Nature.Voyage::back)
                .orElse(Optional.of(at));
        return back.flatMap(one ->
                new WeekHours(ZoneOffset.UTC, nature.off(), List.of(), Optional.empty()).firstAllowed(one, false));
    }

    private Optional<Nature.Voyage> nextVoyage(Instant home) {
        if (nature.homeDays() == 0) {
            return Optional.empty();
        }
        SplittableRandom chance = random("/voyage/" + voyages++);
        Instant from =
                home.plus(Duration.ofHours((long) (-Math.log(1 - chance.nextDouble()) * nature.homeDays() * 24)));
        return Optional.of(new Nature.Voyage(
                from,
                Optional.of(from.plus(Duration.ofDays(8 + chance.nextInt(13)))
                        .plus(Duration.ofHours(chance.nextInt(24))))));
    }

    /** The number with which a version begins, behind its epoch; 0 where it begins with none. */
    private static long release(String version) {
        Matcher number = RELEASE.matcher(version);
        return number.lookingAt() ? Long.parseLong(number.group(1)) : 0;
    }

    /** Days until something happens that on each day happens with a chance of so many in a hundred. */
    private static int geometric(SplittableRandom chance, int percent) {
        int days = 0;
        while (chance.nextInt(100) >= percent) {
            days++;
        }
        return days;
    }

    private SplittableRandom random(String purpose) {
        return new SplittableRandom((name + "/" + purpose).hashCode() * 0x9E3779B97F4A7C15L);
    }

    private static Instant later(Instant a, Instant b) {
        return a.isAfter(b) ? a : b;
    }
}
