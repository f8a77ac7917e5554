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

/**
 * Which hosts tried an update, and what came of it: one table, read by hazard, gate and suspected causes alike.
 * Revisions with the same fixes count together.
 *
 * <p>A host stands in it with the worst that happened within the 30 days before its last outcome. An install that no
 * report has followed yet is {@link #waiting}: neither clean nor failed; after the host's usual time it counts as
 * {@code down}.
 *
 * @param tries in the order in which they were told
 * @param waiting hosts that installed it and have not reported since
 * @param dismissed hosts whose failure an analyst dismissed
 * @param nextSilence the first instant at which an install without a report begins to count as silence
 */
public record TriedHosts(
        List<Try> tries, List<Integer> waiting, List<Integer> dismissed, Optional<Instant> nextSilence) {

    private static final TriedHosts NONE = new TriedHosts(List.of(), List.of(), List.of(), Optional.empty());
    private static final Duration WINDOW = Duration.ofDays(30);
    /** The code of a host that never reported after it installed. */
    public static final String SILENT = "silent after install";

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
        Map<Integer, List<Failure>> reported = reported(evidence.reportsOn(update.id()), fleet);
        Map<Integer, Outcome> last = outcomes.last(update.id());
        if (last.isEmpty() && reported.isEmpty()) {
            return NONE;
        }
        Set<Integer> dismissedHosts = evidence.dismissedFailuresOn(update.id()).stream()
                .filter(DismissedFailure::stands)
                .flatMap(dismissed -> fleet.host(dismissed.host()).stream())
                .map(Host::number)
                .collect(Collectors.toSet());
        SameFixes sameFixes = new SameFixes(update);
        List<Try> tries = new ArrayList<>();
        List<Integer> waiting = new ArrayList<>();
        List<Integer> dismissed = new ArrayList<>();
        List<Instant> silences = new ArrayList<>();
        Map<Integer, List<Outcome>> failures = outcomes.failures(update.id());
        last.forEach((number, outcome) -> {
            Host host = fleet.host(number);
            List<Failure> all = new ArrayList<>(reported.getOrDefault(number, List.of()));
            failures.getOrDefault(number, List.of()).stream()
                    .filter(sameFixes::covers)
                    .forEach(failed -> all.add(failure(failed)));
            boolean installed = outcome.what() == Outcome.What.INSTALLED && sameFixes.covers(outcome);
            boolean reportedSince = host.lastReport().isAfter(outcome.at());
            Instant silent = host.silentAfterInstall(outcome.at(), fleet.rhythmOf(host));
            if (outcome.what() == Outcome.What.INSTALLED && !reportedSince && silent.isAfter(now)) {
                silences.add(silent);
            }
            if (installed && !reportedSince && !silent.isAfter(now)) {
                all.add(new Failure(FailureClass.DOWN, SILENT, silent, ""));
            }
            Optional<Failure> worst = worst(all, outcome.at());
            if (worst.isPresent() && dismissedHosts.contains(number)) {
                dismissed.add(number);
                worst = Optional.empty();
            }
            if (worst.isPresent()) {
                tries.add(new Try(number, worst.get().at(), outcome.before(), worst));
            } else if (installed && (reportedSince || !silent.isAfter(now))) {
                tries.add(new Try(number, outcome.at(), outcome.before(), Optional.empty()));
            } else if (installed) {
                waiting.add(number);
            }
        });
        reported.forEach((number, told) -> {
            if (!last.containsKey(number)) {
                Failure worst = worst(told, told.get(0).at()).orElseThrow();
                if (dismissedHosts.contains(number)) {
                    dismissed.add(number);
                } else {
                    tries.add(new Try(number, worst.at(), Optional.empty(), Optional.of(worst)));
                }
            }
        });
        tries.sort(Comparator.comparing(Try::at).thenComparing(Try::host));
        return new TriedHosts(
                List.copyOf(tries),
                List.copyOf(waiting),
                List.copyOf(dismissed),
                silences.stream().min(Comparator.naturalOrder()));
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
