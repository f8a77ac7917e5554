package lucid.core.fleet;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.core.update.DistributionRelease;
import lucid.core.update.Fix;
import lucid.core.update.ProductBuild;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;

/**
 * A machine, as its reports show it.
 *
 * @param number a small number of its own, by which bitmaps know it; 0 and up, never reused
 * @param platform name and release of its operating system, for example "Fathom OS 31"
 * @param traits typed facts by name
 * @param running versions that still run since its last start though another one has been installed over them
 * @param supply the source from which it really takes updates, where told
 * @param firstReport instant of the inventory with which it became known
 * @param lastReport instant at which the host took this inventory
 * @param absences in the 90 days before its last report
 * @param lists what its package manager knows of newer versions, where it tells that
 */
public record Host(
        int number,
        HostName name,
        String platform,
        Map<String, Trait> traits,
        List<InstalledProduct> products,
        List<InstalledProduct> running,
        Optional<String> supply,
        Optional<Instant> lastStart,
        Instant firstReport,
        Instant lastReport,
        List<Absence> absences,
        Optional<PackageLists> lists) {

    /** The rhythm in which a host reports where its population says nothing else. */
    public static final Duration DEFAULT_RHYTHM = Duration.ofDays(1);

    private static final String PRODUCT = "pkg:";
    private static final Duration SHORTEST_SILENCE = Duration.ofDays(3);
    private static final Duration ABSENCES_KEPT = Duration.ofDays(90);

    public Host {
        traits = Map.copyOf(traits);
        products = List.copyOf(products);
        running = List.copyOf(running);
        absences = List.copyOf(absences);
    }

    /** A host that reports for the first time. */
    public static Host first(int number, HostReport report) {
        return new Host(
                number,
                report.name(),
                report.platform(),
                report.traits(),
                report.products(),
                List.of(),
                report.supply(),
                report.lastStart(),
                report.at(),
                report.at(),
                List.of(),
                report.lists());
    }

    /**
     * This host after a newer report.
     *
     * @param rhythm how often its population expects it to report
     */
    public Host after(HostReport report, Duration rhythm) {
        return new Host(
                number,
                name,
                report.platform(),
                report.traits(),
                report.products(),
                runningAfter(report),
                report.supply(),
                report.lastStart(),
                firstReport,
                report.at(),
                absencesAfter(report.at(), rhythm),
                report.lists());
    }

    /**
     * What was installed over a version that runs keeps the old one running until the next start. A start between two
     * reports is taken to be later than the changes between them: most are the restart that an install asked for.
     * Without a told start nothing can be said.
     */
    private List<InstalledProduct> runningAfter(HostReport report) {
        if (report.lastStart().isEmpty() || report.lastStart().get().isAfter(lastReport)) {
            return List.of();
        }
        Map<ProductBuild, Inventories.Difference> differences = Inventories.differences(products, report.products());
        Map<ProductBuild, String> ran = new HashMap<>();
        differences.forEach(
                (build, difference) -> difference.highestBefore().ifPresent(version -> ran.put(build, version)));
        running.forEach(old -> ran.put(old.build(), old.version()));
        if (ran.isEmpty()) {
            return List.of();
        }
        List<InstalledProduct> next = new ArrayList<>();
        Inventories.highest(report.products(), ran.keySet()).forEach((build, version) -> {
            if (!ran.get(build).equals(version)) {
                next.add(known(build, ran.get(build)));
            }
        });
        next.sort(Comparator.comparing(InstalledProduct::build));
        return next;
    }

    /** As it was reported, with the source package that it was built from. */
    private InstalledProduct known(ProductBuild build, String version) {
        return Stream.concat(running.stream(), products.stream())
                .filter(one -> one.build().equals(build) && one.version().equals(version))
                .findFirst()
                .orElseGet(() -> new InstalledProduct(build, version));
    }

    private List<Absence> absencesAfter(Instant at, Duration rhythm) {
        List<Absence> next = new ArrayList<>(absences);
        Absence gap = new Absence(lastReport, at);
        if (gap.length().compareTo(rhythm.multipliedBy(2)) > 0) {
            next.add(gap);
        }
        next.removeIf(absence -> absence.to().isBefore(at.minus(ABSENCES_KEPT)));
        return next;
    }

    /**
     * From this instant on the host's state is unknown: its last report is older than three rhythms and older than
     * three days.
     */
    public Instant unknownFrom(Duration rhythm) {
        return lastReport.plus(longer(rhythm.multipliedBy(3), SHORTEST_SILENCE));
    }

    /**
     * When an install that began at {@code instant} counts as followed by silence, if no report came after it: after
     * the longer of two rhythms and 1.5 times the host's longest absence of the last 90 days.
     */
    public Instant silentAfterInstall(Instant instant, Duration rhythm) {
        Duration longest = absences.stream().map(Absence::length).reduce(Duration.ZERO, Host::longer);
        return instant.plus(
                longer(rhythm.multipliedBy(2), longest.multipliedBy(3).dividedBy(2)));
    }

    private static Duration longer(Duration a, Duration b) {
        return a.compareTo(b) >= 0 ? a : b;
    }

    /**
     * The trait of that name; {@code name}, {@code platform} and {@code supply} are facts of every host, and under the
     * package URL of a product stands its highest installed version.
     */
    public Optional<Trait> trait(String traitName) {
        return switch (traitName) {
            case "name" -> Optional.of(new Trait.Text(name.value()));
            case "platform" -> Optional.of(new Trait.Text(platform));
            case "supply" -> supply.map(Trait.Text::new);
            default ->
                traitName.startsWith(PRODUCT)
                        ? version(traitName).map(Trait.Text::new)
                        : Optional.ofNullable(traits.get(traitName));
        };
    }

    /**
     * An installed product of which a fix speaks.
     *
     * @param version by which the fix judges it: its own, or that of its source package
     */
    public record SpokenOf(InstalledProduct product, String version) {}

    /**
     * The installed products of which a fix speaks. Of one product side by side the highest counts; of a source package
     * it speaks of all that is built from it, of each by itself. For many fixes see {@link HostProducts}.
     */
    public List<SpokenOf> spokenOf(Fix fix) {
        return spokenOf(fix, products);
    }

    /** @param among those of its products that may be spoken of */
    List<SpokenOf> spokenOf(Fix fix, List<InstalledProduct> among) {
        ProductBuild named = fix.build();
        Map<ProductBuild, SpokenOf> highest = new LinkedHashMap<>();
        for (InstalledProduct product : among) {
            Optional<String> version = product.judgedAs(named);
            if (version.isPresent() && isRelease(named, product)) {
                ProductBuild apart = named.isSource() ? product.build().ofAnyArch() : named;
                highest.merge(
                        apart,
                        new SpokenOf(product, version.get()),
                        (a, b) -> named.product().ordering().compare(a.version(), b.version()) >= 0 ? a : b);
            }
        }
        return List.copyOf(highest.values());
    }

    /** What must be restarted on it for an update: the strongest need of the products that it has. */
    public RestartNeed restartFor(Update update) {
        return new HostProducts(this).restartFor(update);
    }

    /**
     * True if it has packages of the distribution and release of a source package, and tells of none of its packages
     * that it was built from another one: then it tells no sources at all, and only what bears the name of its source
     * is judged.
     */
    public boolean tellsNoSources(ProductBuild sourcePackage) {
        ProductBuild named = sourcePackage.ofAnyArch();
        return products.stream().noneMatch(product -> product.source().isPresent())
                && products.stream()
                        .anyMatch(product -> isRelease(named, product)
                                && named.covers(new ProductBuild(
                                        product.build()
                                                .product()
                                                .named(named.product().name()),
                                        product.build().distro(),
                                        "")));
    }

    /** A product that tells no distribution is of the one that its host has. */
    private boolean isRelease(ProductBuild named, InstalledProduct product) {
        return !product.build().distro().isEmpty() || DistributionRelease.covers(named.distro(), platform);
    }

    private Optional<String> version(String purl) {
        return products.stream()
                .filter(installed -> installed.build().product().purl().equals(purl))
                .max((a, b) -> a.build().product().ordering().compare(a.version(), b.version()))
                .map(InstalledProduct::version);
    }

    /** The version that still runs of a product, where another one was installed over it. */
    public Optional<String> runningInsteadOf(ProductBuild build) {
        return running.stream()
                .filter(old -> old.build().equals(build))
                .map(InstalledProduct::version)
                .findFirst();
    }

    /** True if both say the same of the host, apart from when it last reported and what its sources have. */
    public boolean sameButReported(Host other) {
        return traits.equals(other.traits)
                && number == other.number
                && name.equals(other.name)
                && platform.equals(other.platform)
                && products.equals(other.products)
                && running.equals(other.running)
                && supply.equals(other.supply)
                && lastStart.equals(other.lastStart)
                && absences.equals(other.absences);
    }
}
