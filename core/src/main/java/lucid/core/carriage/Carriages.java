package lucid.core.carriage;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.Outcomes;
import lucid.core.fleet.PopulationId;
import lucid.core.update.AffectedRange;
import lucid.core.update.Catalogue;
import lucid.core.update.Fix;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;
import lucid.core.version.VersionOrdering;
import org.roaringbitmap.RoaringBitmap;

/**
 * Computes which hosts carry an update, from the versions that they reported and what they told since.
 *
 * @param installed versions that are installed
 * @param running versions that still run though another is installed over them
 */
public record Carriages(
        Catalogue catalogue, Fleet fleet, CarrierIndex installed, CarrierIndex running, Outcomes outcomes) {

    /** The same questions about one host alone, answered without looking at any other. */
    public Carriages only(Host host) {
        return new Carriages(
                catalogue,
                fleet.only(host),
                CarrierIndex.EMPTY.with(List.of(new CarrierIndex.Change(host.number(), List.of(), host.products()))),
                CarrierIndex.EMPTY.with(List.of(new CarrierIndex.Change(host.number(), List.of(), host.running()))),
                outcomes.only(host.number()));
    }

    /** The same questions as somebody may ask them who knows of these populations and their hosts only. */
    public Carriages only(Set<PopulationId> populations) {
        Fleet seen = fleet.only(populations);
        return new Carriages(
                catalogue, seen, installed.only(seen.all()), running.only(seen.all()), outcomes.only(seen.all()));
    }

    /** The same with other hosts retired: what a retired host has is in no index until it is back. */
    public Carriages retiring(RoaringBitmap retired) {
        RoaringBitmap left = RoaringBitmap.andNot(fleet.all(), retired);
        List<CarrierIndex.Change> installedAgain = new ArrayList<>();
        List<CarrierIndex.Change> runningAgain = new ArrayList<>();
        RoaringBitmap.andNot(fleet.retired(), retired).forEach((int number) -> {
            Host back = fleet.host(number);
            installedAgain.add(new CarrierIndex.Change(number, List.of(), back.products()));
            runningAgain.add(new CarrierIndex.Change(number, List.of(), back.running()));
        });
        return new Carriages(
                catalogue,
                fleet.retiring(retired),
                installed.only(left).with(installedAgain),
                running.only(left).with(runningAgain),
                outcomes);
    }

    /**
     * The state of every host of the fleet at {@code now}. Every statement is by bitmap arithmetic: a product lacks or
     * has the fix, a host carries the update if all spoken-of products have it or it carries a successor, partly if
     * some have it.
     */
    public Carriage of(Update update, Instant now) {
        CarrierIndex.Split split = split(update, installed);
        RoaringBitmap spokenOf = RoaringBitmap.or(split.has(), split.lacks());
        RoaringBitmap itself = split.whole();
        RoaringBitmap viaSuccessor = viaSuccessor(update, RoaringBitmap.andNot(spokenOf, itself));
        RoaringBitmap carries = RoaringBitmap.or(itself, viaSuccessor);
        RoaringBitmap partly = RoaringBitmap.and(split.has(), split.lacks());
        partly.andNot(viaSuccessor);
        RoaringBitmap missing = RoaringBitmap.andNot(split.lacks(), split.has());
        missing.andNot(viaSuccessor);
        RoaringBitmap failed = new RoaringBitmap();
        Told told = new Told(new RoaringBitmap(), new RoaringBitmap(), new RoaringBitmap());
        RoaringBitmap restarts = restartOutstanding(update, itself);
        outcomes.last(update.id()).forEach((host, outcome) -> {
            if (spokenOf.contains(host)) {
                place(update, outcome, now, told);
                if (outcome.what() == Outcome.What.FAILED && missing.contains(host)) {
                    failed.add(host);
                }
                if (startedBefore(outcome)
                        && itself.contains(host)
                        && fleet.host(host).restartFor(update) == RestartNeed.HOST) {
                    restarts.add(host);
                }
            }
        });
        missing.andNot(failed);
        carries.andNot(restarts);
        return new Carriage(
                fleet.all(),
                carries,
                restarts,
                partly,
                failed,
                missing,
                viaSuccessor,
                told.installed,
                told.failed,
                told.silent,
                fleet.unknownAt(now));
    }

    /** Hosts that tell no source packages, where the update speaks of some; see {@link Host#tellsNoSources}. */
    public RoaringBitmap judgedByNameAlone(Update update) {
        List<Fix> ofSources =
                update.fixes().stream().filter(fix -> fix.build().isSource()).toList();
        RoaringBitmap hosts = new RoaringBitmap();
        if (!ofSources.isEmpty()) {
            fleet.hosts(fleet.all())
                    .filter(host -> ofSources.stream().anyMatch(fix -> host.tellsNoSources(fix.build())))
                    .forEach(host -> hosts.add(host.number()));
        }
        return hosts;
    }

    private record Told(RoaringBitmap installed, RoaringBitmap failed, RoaringBitmap silent) {}

    /** What was told of this revision after the last report counts before what that report showed. */
    private void place(Update update, Outcome outcome, Instant now, Told told) {
        Host host = fleet.host(outcome.host());
        boolean ofThisRevision = outcome.revision()
                .filter(revision -> !revision.equals(update.revision()))
                .isEmpty();
        if (!ofThisRevision || !outcome.at().isAfter(host.lastReport())) {
            return;
        }
        if (outcome.what() != Outcome.What.INSTALLED) {
            told.failed.add(outcome.host());
        } else if (host.silentAfterInstall(outcome.at(), fleet.rhythmOf(host)).isAfter(now)) {
            told.installed.add(outcome.host());
        } else {
            told.silent.add(outcome.host());
        }
    }

    private boolean startedBefore(Outcome outcome) {
        return outcome.what() == Outcome.What.INSTALLED
                && fleet.host(outcome.host())
                        .lastStart()
                        .filter(start -> start.isBefore(outcome.at()))
                        .isPresent();
    }

    /** A start of the host ends what a host restart was needed for; whether a service was restarted no report tells. */
    private RoaringBitmap restartOutstanding(Update update, RoaringBitmap carrying) {
        List<Fix> awaitingStart = update.fixesAwaitingStart();
        return awaitingStart.isEmpty()
                ? new RoaringBitmap()
                : RoaringBitmap.and(
                        carrying,
                        split(awaitingStart, update.platforms(), running).lacks());
    }

    private RoaringBitmap viaSuccessor(Update update, RoaringBitmap among) {
        RoaringBitmap carrying = new RoaringBitmap();
        if (!among.isEmpty()) {
            for (Update successor : catalogue.successorsOf(update.id())) {
                CarrierIndex.Split split = split(successor, installed);
                RoaringBitmap all = split.whole();
                all.and(among);
                carrying.or(all);
            }
        }
        return carrying;
    }

    /** All hosts by the fixes of an update; a host can stand on both sides, for different products. */
    private CarrierIndex.Split split(Update update, CarrierIndex index) {
        return split(update.fixes(), update.platforms(), index);
    }

    private CarrierIndex.Split split(List<Fix> fixes, Set<String> platforms, CarrierIndex index) {
        RoaringBitmap lacks = new RoaringBitmap();
        RoaringBitmap has = new RoaringBitmap();
        for (Fix fix : fixes) {
            CarrierIndex.Split split = index.split(fix, fleet::onRelease);
            lacks.or(split.lacks());
            has.or(split.has());
        }
        if (!platforms.isEmpty()) {
            RoaringBitmap onPlatform = fleet.onPlatforms(platforms);
            lacks.and(onPlatform);
            has.and(onPlatform);
        }
        return new CarrierIndex.Split(lacks, has);
    }

    /**
     * Where a version stands among the released updates of its product.
     *
     * @param track first version of the track, where the update fixes several
     */
    public record Level(Update update, Optional<String> track) {}

    /** The newest update of the version's track whose fix is not above it; none if it lacks them all. */
    public Optional<Level> level(InstalledProduct product) {
        VersionOrdering ordering = product.build().product().ordering();
        record Reached(Update update, AffectedRange track, String fixed) {}
        return catalogue.ofProduct(product.build().product()).stream()
                .flatMap(update -> update.fixes().stream()
                        .filter(fix -> fix.build().covers(product.build()))
                        .flatMap(fix -> fix.trackOf(product.version()).stream())
                        .flatMap(track -> track.fixed().stream().map(fixed -> new Reached(update, track, fixed))))
                .filter(reached -> ordering.compare(reached.fixed(), product.version()) <= 0)
                .max(Comparator.comparing(Reached::fixed, ordering)
                        .thenComparing(r -> r.update().published())
                        .thenComparing(r -> r.update().id()))
                .map(reached -> new Level(
                        reached.update(),
                        reached.track()
                                .introduced()
                                .filter(introduced -> hasSeveralTracks(reached.update(), product))));
    }

    private static boolean hasSeveralTracks(Update update, InstalledProduct product) {
        return update.fixes().stream()
                .anyMatch(fix ->
                        fix.build().covers(product.build()) && fix.tracks().size() > 1);
    }
}
