package lucid.core.evidence;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostName;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.Outcomes;
import lucid.core.update.RevisionNote;
import lucid.core.update.Update;
import org.roaringbitmap.RoaringBitmap;

/**
 * Which hosts tried an update, and what came of it: one table, read by hazard, gate and suspected causes alike.
 * Revisions with the same fixes count together.
 *
 * <p>A host stands in it with the worst that happened within the 30 days before its last outcome. A try is clean once
 * the host has reported a day or more after it; until then it is {@link #waiting}: neither clean nor failed. One that
 * falls silent after it counts as {@code down}, but only where hosts that did not try it fall silent less often.
 *
 * @param tries in the order in which they were told
 * @param waiting hosts that installed it and have not reported long enough since
 * @param dismissed hosts whose failure an analyst dismissed, and that stand for nothing else
 * @param nextChange the first instant at which a host that is silent may count otherwise although nothing is told
 * @param compared populations in which silence is compared with that of hosts that did not try it
 */
public record TriedHosts(
        List<Try> tries,
        List<Integer> waiting,
        List<Integer> dismissed,
        Optional<Instant> nextChange,
        List<Silence.Compared> compared) {

    private static final TriedHosts NONE = new TriedHosts(List.of(), List.of(), List.of(), Optional.empty(), List.of());
    private static final Duration WINDOW = Duration.ofDays(30);
    private static final Duration UNTIL_CLEAN = Duration.ofDays(1);
    /** The code of a host that never reported after it installed. */
    public static final String SILENT = "silent after install";

    /** The code of a host from which somebody removed it again. */
    public static final String REMOVED = "removed again";

    private static final String NO_CODE = "no code told";

    /**
     * @param before the product of the update that the host had when it tried, where known
     * @param failure none if it went well
     */
    public record Try(int host, Instant at, Optional<InstalledProduct> before, Optional<Failure> failure) {
        public boolean failed() {
            return failure.isPresent();
        }
    }

    /** @param code or symptom; @param source who tells it, empty for the host itself */
    public record Failure(FailureClass failureClass, String code, Instant at, String source) {}

    public static TriedHosts of(Update update, Outcomes outcomes, Evidence evidence, Fleet fleet, Instant now) {
        return of(update, outcomes, evidence, fleet, now, new SameFixes(update)::covers);
    }

    /** The same of all its revisions, whatever they fixed. */
    public static TriedHosts ofAllRevisions(
            Update update, Outcomes outcomes, Evidence evidence, Fleet fleet, Instant now) {
        return of(update, outcomes, evidence, fleet, now, outcome -> true);
    }

    private static TriedHosts of(
            Update update, Outcomes outcomes, Evidence evidence, Fleet fleet, Instant now, Predicate<Outcome> counted) {
        Map<Integer, List<Failure>> reported = reported(evidence.reportsOn(update.id()), fleet);
        return outcomes.last(update.id()).isEmpty() && reported.isEmpty()
                ? NONE
                : new Table(update, outcomes, evidence, fleet, now, counted, reported).tried();
    }

    /** Puts the table together, host by host. */
    private static final class Table {
        private final Map<Integer, Outcome> last;
        private final Map<Integer, List<Outcome>> failures;
        private final Map<Integer, List<Failure>> reported;
        private final Map<Integer, List<DismissedFailure>> dismissals = new HashMap<>();
        private final Fleet fleet;
        private final Instant now;
        private final Predicate<Outcome> counted;
        private final List<Try> tries = new ArrayList<>();
        private final List<Integer> waiting = new ArrayList<>();
        private final List<Integer> dismissed = new ArrayList<>();

        Table(
                Update update,
                Outcomes outcomes,
                Evidence evidence,
                Fleet fleet,
                Instant now,
                Predicate<Outcome> counted,
                Map<Integer, List<Failure>> reported) {
            this.last = outcomes.last(update.id());
            this.failures = outcomes.failures(update.id());
            this.reported = reported;
            this.fleet = fleet;
            this.now = now;
            this.counted = counted;
            evidence.dismissedFailuresOn(update.id()).stream()
                    .filter(DismissedFailure::stands)
                    .forEach(one -> fleet.host(one.host()).ifPresent(host -> dismissals
                            .computeIfAbsent(host.number(), n -> new ArrayList<>())
                            .add(one)));
        }

        TriedHosts tried() {
            Silence silence = silence();
            last.forEach((number, outcome) -> {
                // Nearly all of thousands are clean, and nothing else was ever told of them.
                boolean clean = isInstalled(outcome)
                        && !failures.containsKey(number)
                        && !reported.containsKey(number)
                        && isSettled(fleet.host(number), outcome);
                if (clean) {
                    tries.add(new Try(number, outcome.at(), outcome.before(), Optional.empty()));
                } else {
                    add(number, silence);
                }
            });
            reported.keySet().stream()
                    .filter(number -> !last.containsKey(number))
                    .forEach(number -> add(number, silence));
            tries.sort(Comparator.comparing(Try::at).thenComparing(Try::host));
            waiting.sort(null);
            dismissed.sort(null);
            return new TriedHosts(
                    List.copyOf(tries),
                    List.copyOf(waiting),
                    List.copyOf(dismissed),
                    silence.nextChange(),
                    silence.compared());
        }

        private Silence silence() {
            Map<Integer, Instant> since = new HashMap<>();
            last.forEach((number, outcome) -> {
                if (isInstalled(outcome)) {
                    Host host = fleet.host(number);
                    if (!isSettled(host, outcome) && !fleet.isRetired(number)) {
                        since.put(number, later(outcome.at(), host.lastReport()));
                    }
                }
            });
            return since.isEmpty() ? Silence.NONE : Silence.of(since, hosts(), fleet, now);
        }

        private RoaringBitmap hosts() {
            RoaringBitmap hosts = new RoaringBitmap();
            last.keySet().forEach(hosts::add);
            reported.keySet().forEach(hosts::add);
            return hosts;
        }

        private void add(int number, Silence silence) {
            Optional<Outcome> outcome = Optional.ofNullable(last.get(number));
            List<Failure> told = new ArrayList<>(reported.getOrDefault(number, List.of()));
            failures.getOrDefault(number, List.of()).stream().filter(counted).forEach(one -> told.add(failure(one)));
            outcome.filter(one -> one.what() == Outcome.What.REMOVED && counted.test(one))
                    .ifPresent(one -> told.add(new Failure(FailureClass.DEGRADED, REMOVED, one.at(), "")));
            silence.down(number).ifPresent(since -> told.add(new Failure(FailureClass.DOWN, SILENT, since, "")));
            List<Failure> standing =
                    told.stream().filter(one -> !isDismissed(number, one)).toList();
            Optional<Failure> worst = worst(standing, outcome.map(Outcome::at).orElseGet(() -> told.get(0)
                    .at()));
            Optional<InstalledProduct> before = outcome.flatMap(Outcome::before);
            boolean installed = outcome.filter(this::isInstalled).isPresent();
            if (worst.isPresent()) {
                tries.add(new Try(number, worst.get().at(), before, worst));
            } else if (installed && isSettled(fleet.host(number), outcome.get())) {
                tries.add(new Try(number, outcome.get().at(), before, Optional.empty()));
            } else if (standing.size() < told.size()) {
                dismissed.add(number);
            } else if (installed) {
                waiting.add(number);
            }
        }

        private boolean isInstalled(Outcome outcome) {
            return outcome.what() == Outcome.What.INSTALLED && counted.test(outcome);
        }

        private boolean isSettled(Host host, Outcome outcome) {
            return !host.lastReport().isBefore(outcome.at().plus(UNTIL_CLEAN));
        }

        private boolean isDismissed(int number, Failure failure) {
            return dismissals.getOrDefault(number, List.of()).stream()
                    .anyMatch(one -> one.covers(failure.code(), failure.at()));
        }
    }

    /** True if an outcome is neither clean nor failed until the host reports again. */
    public static boolean isUnsettled(Outcome outcome, Instant lastReport) {
        return outcome.what() == Outcome.What.INSTALLED
                && lastReport.isBefore(outcome.at().plus(UNTIL_CLEAN));
    }

    private static Instant later(Instant a, Instant b) {
        return a.isAfter(b) ? a : b;
    }

    /**
     * Whether an outcome is of a revision with the fixes that the update has now; one that names none is judged by its
     * instant.
     */
    private static final class SameFixes {
        private final Set<String> revisions;
        private final Optional<Instant> from;

        SameFixes(Update update) {
            List<RevisionNote> notes = update.revisionsWithTheseFixes();
            this.revisions = notes.stream().map(RevisionNote::revision).collect(Collectors.toSet());
            this.from = notes.size() == update.revisions().size()
                    ? Optional.empty()
                    : Optional.of(notes.get(0).revised());
        }

        boolean covers(Outcome outcome) {
            return outcome.revision().map(revisions::contains).orElseGet(() -> from.filter(outcome.at()::isBefore)
                    .isEmpty());
        }
    }

    private static Failure failure(Outcome outcome) {
        return new Failure(
                outcome.failureClass().orElse(FailureClass.REFUSED),
                outcome.code().orElse(NO_CODE),
                outcome.at(),
                "");
    }

    private static Map<Integer, List<Failure>> reported(Collection<FailureReport> reports, Fleet fleet) {
        Map<Integer, List<Failure>> byHost = new HashMap<>();
        for (FailureReport report : reports) {
            for (HostName name : report.hosts()) {
                fleet.host(name).ifPresent(host -> byHost.computeIfAbsent(host.number(), n -> new ArrayList<>())
                        .add(new Failure(
                                report.failureClass(), report.code().orElse(NO_CODE), report.at(), report.source())));
            }
        }
        return byHost;
    }

    private static Optional<Failure> worst(List<Failure> failures, Instant last) {
        return failures.stream()
                .filter(failure -> failure.at().isAfter(last.minus(WINDOW)))
                .max(Comparator.comparing(Failure::failureClass)
                        .thenComparing(Comparator.comparing(Failure::at).reversed()));
    }

    public int tried() {
        return tries.size();
    }

    public int failed() {
        return (int) tries.stream().filter(Try::failed).count();
    }

    public int clean() {
        return tried() - failed();
    }

    public int down() {
        return (int) tries.stream()
                .flatMap(t -> t.failure().stream())
                .filter(f -> f.failureClass() == FailureClass.DOWN)
                .count();
    }
}
