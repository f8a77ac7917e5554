package lucid.core.carriage;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import lucid.core.fleet.HostReport;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Outcome;
import lucid.core.update.Fix;
import lucid.core.update.Fix.Standing;
import lucid.core.update.ProductBuild;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;

/**
 * The slow and obviously right answer: looks at one host, product by product, and at all that it ever said.
 *
 * @param updates all that are known, without cycles
 */
record NaiveCarriage(List<Update> updates, List<HostReport> reports, List<Outcome> outcomes) {

    private HostReport last() {
        return reports.get(reports.size() - 1);
    }

    CarriageState state(Update update, Instant now) {
        if (standings(update, last().products()).isEmpty()) {
            return CarriageState.NOT_APPLICABLE;
        }
        Optional<Outcome> told = lastOutcome(update)
                .filter(o -> o.at().isAfter(last().at()))
                .filter(o -> o.revision().isEmpty() || o.revision().get().equals(update.revision()));
        if (told.isPresent()) {
            if (told.get().what() != Outcome.What.INSTALLED) {
                return CarriageState.FAILED;
            }
            return told.get().at().plus(silence()).isAfter(now) ? CarriageState.CLAIMED : CarriageState.UNKNOWN;
        }
        if (last().at().plus(Duration.ofDays(3)).isBefore(now)) {
            return CarriageState.UNKNOWN;
        }
        return known(update);
    }

    private CarriageState known(Update update) {
        Set<Standing> standings = standings(update, last().products());
        if (standings.equals(Set.of(Standing.HAS))) {
            return needsRestart(update) ? CarriageState.RESTART_OUTSTANDING : CarriageState.CARRIES;
        }
        if (successors(update).stream()
                .anyMatch(s -> standings(s, last().products()).equals(Set.of(Standing.HAS)))) {
            return CarriageState.CARRIES;
        }
        if (standings.contains(Standing.HAS)) {
            return CarriageState.PARTLY;
        }
        boolean failed =
                lastOutcome(update).filter(o -> o.what() == Outcome.What.FAILED).isPresent();
        return failed ? CarriageState.FAILED : CarriageState.MISSING;
    }

    private boolean needsRestart(Update update) {
        boolean installedLater = last().lastStart().isPresent()
                && lastOutcome(update)
                        .filter(o -> o.what() == Outcome.What.INSTALLED
                                && o.at().isAfter(last().lastStart().get()))
                        .isPresent();
        List<Fix> awaiting = update.fixes().stream()
                .filter(fix -> need(fix, update) == RestartNeed.HOST)
                .toList();
        return installedLater && !standings(awaiting, update, last().products()).isEmpty()
                || standings(awaiting, update, running()).contains(Standing.LACKS);
    }

    private static RestartNeed need(Fix fix, Update update) {
        RestartNeed ofAll = update.restarts().ofAll().orElse(RestartNeed.UNKNOWN);
        RestartNeed own = update.restarts().ofProducts().getOrDefault(fix.build(), RestartNeed.UNKNOWN);
        return own.ordinal() > ofAll.ordinal() ? own : ofAll;
    }

    /**
     * The version of each build in the first report after the last start, as long as the build was there ever since.
     */
    private List<InstalledProduct> running() {
        List<InstalledProduct> running = new ArrayList<>();
        if (last().lastStart().isPresent()) {
            last().products().stream().map(InstalledProduct::build).distinct().forEach(build -> {
                String now = version(build, last()).orElseThrow();
                String ran = now;
                HostReport when = last();
                for (int i = reports.size() - 2; i >= 0; i--) {
                    Optional<String> then = version(build, reports.get(i));
                    boolean told = reports.get(i + 1).lastStart().isPresent();
                    if (!told
                            || then.isEmpty()
                            || reports.get(i).at().isBefore(last().lastStart().get())) {
                        break;
                    }
                    ran = then.get();
                    when = reports.get(i);
                }
                if (!ran.equals(now)) {
                    String version = ran;
                    when.products().stream()
                            .filter(p -> p.build().equals(build) && p.version().equals(version))
                            .findFirst()
                            .ifPresent(running::add);
                }
            });
        }
        return running;
    }

    private static Optional<String> version(ProductBuild build, HostReport report) {
        return report.products().stream()
                .filter(p -> p.build().equals(build))
                .map(InstalledProduct::version)
                .max(build.product().ordering());
    }

    private Duration silence() {
        Duration longest = Duration.ZERO;
        for (int i = 1; i < reports.size(); i++) {
            Duration gap =
                    Duration.between(reports.get(i - 1).at(), reports.get(i).at());
            boolean recent = !reports.get(i).at().isBefore(last().at().minus(Duration.ofDays(90)));
            boolean absence = gap.compareTo(Duration.ofDays(2)) > 0;
            longest = recent && absence && gap.compareTo(longest) > 0 ? gap : longest;
        }
        Duration waited = longest.multipliedBy(3).dividedBy(2);
        return waited.compareTo(Duration.ofDays(2)) > 0 ? waited : Duration.ofDays(2);
    }

    private Optional<Outcome> lastOutcome(Update update) {
        return outcomes.stream()
                .filter(o -> o.updateId().equals(update.id())
                        && List.of(Outcome.What.INSTALLED, Outcome.What.FAILED, Outcome.What.REMOVED)
                                .contains(o.what()))
                .reduce((known, other) -> other.at().isBefore(known.at()) ? known : other);
    }

    private Set<Update> successors(Update update) {
        Set<Update> all = new LinkedHashSet<>();
        updates.stream()
                .filter(other -> other.supersedes().contains(update.id()))
                .forEach(direct -> {
                    all.add(direct);
                    all.addAll(successors(direct));
                });
        return all;
    }

    /** What the update says of the products that it speaks of; empty if it does not apply. */
    private Set<Standing> standings(Update update, List<InstalledProduct> products) {
        return standings(update.fixes(), update, products);
    }

    private Set<Standing> standings(List<Fix> fixes, Update update, List<InstalledProduct> products) {
        Set<Standing> standings = new LinkedHashSet<>();
        if (update.platforms().isEmpty() || update.platforms().contains(last().platform())) {
            for (Fix fix : fixes) {
                if (fix.build().arch().equals("source")) {
                    products.stream()
                            .map(p -> p.build().product().name())
                            .distinct()
                            .forEach(name -> {
                                List<String> versions = new ArrayList<>();
                                products.stream()
                                        .filter(p ->
                                                p.build().product().name().equals(name) && isBuiltFrom(p, fix.build()))
                                        .forEach(p -> versions.add(
                                                p.source().isPresent()
                                                        ? p.source().get().version()
                                                        : p.version()));
                                highest(fix, versions).ifPresent(standings::add);
                            });
                } else {
                    highest(
                                    fix,
                                    products.stream()
                                            .filter(p -> isSpokenOf(p, fix.build()))
                                            .map(InstalledProduct::version)
                                            .toList())
                            .ifPresent(standings::add);
                }
            }
        }
        return standings;
    }

    private static Optional<Standing> highest(Fix fix, List<String> versions) {
        return versions.stream()
                .max(Comparator.comparing((String v) -> v, fix.build().product().ordering()))
                .map(fix::standing)
                .filter(standing -> standing != Standing.NOT_SPOKEN_OF);
    }

    private boolean isSpokenOf(InstalledProduct p, ProductBuild named) {
        return p.build().product().equals(named.product())
                && (named.arch().isEmpty() || named.arch().equals(p.build().arch()))
                && isOnRelease(p, named);
    }

    private boolean isBuiltFrom(InstalledProduct p, ProductBuild named) {
        String source = p.source().isPresent()
                ? p.source().get().name()
                : p.build().product().name();
        return p.build().product().type().equals(named.product().type())
                && p.build().product().namespace().equals(named.product().namespace())
                && source.equals(named.product().name())
                && isOnRelease(p, named);
    }

    /** In these tests a release is known by its number alone. */
    private boolean isOnRelease(InstalledProduct p, ProductBuild named) {
        String here =
                p.build().distro().isEmpty() ? last().platform() : p.build().distro();
        return named.distro().isEmpty() || named.distro().replaceAll("\\D", "").equals(here.replaceAll("\\D", ""));
    }
}
