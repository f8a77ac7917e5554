package lucid.core.order;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Collections;
import java.util.IdentityHashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Stream;
import lucid.core.carriage.Carriages;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.Outcomes;
import lucid.core.fleet.PopulationId;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.Freeze;
import lucid.core.update.Catalogue;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import org.roaringbitmap.RoaringBitmap;

/**
 * The hosts whose orders may be others after a change than before: a verdict on fifty hosts has the orders of fifty
 * hosts made anew, and not of the whole fleet. It may name a host too many, never one too few.
 */
public final class ConcernedHosts {

    private final Carriages before;
    private final Carriages after;
    private final Instant at;
    private final RoaringBitmap concerned = new RoaringBitmap();

    private ConcernedHosts(Carriages before, Carriages after, Instant at) {
        this.before = before;
        this.after = after;
        this.at = at;
    }

    /**
     * Numbers of the hosts that a change from one picture to the next concerns.
     *
     * @param at the instant of the change; which hosts are concerned does not depend on it
     */
    public static RoaringBitmap between(
            Carriages before, Decisions decidedBefore, Carriages after, Decisions decidedAfter, Instant at) {
        ConcernedHosts concerned = new ConcernedHosts(before, after, at);
        if (before.fleet().ladder() != after.fleet().ladder()) {
            return after.fleet().all();
        }
        concerned.ofReports();
        concerned.ofUpdates();
        if (decidedBefore != decidedAfter) {
            concerned.ofDecisions(decidedBefore, decidedAfter);
        }
        return concerned.concerned;
    }

    private void ofReports() {
        if (before.fleet() != after.fleet()) {
            after.fleet().changedSince(before.fleet()).forEach(host -> concerned.add(host.number()));
        }
        Outcomes outcomes = after.outcomes();
        for (UpdateId update : outcomes.changedSince(before.outcomes())) {
            Map<Integer, Outcome> earlier = before.outcomes().last(update);
            outcomes.last(update).forEach((host, outcome) -> {
                if (!outcome.equals(earlier.get(host))) {
                    concerned.add((int) host);
                }
            });
        }
    }

    private void ofUpdates() {
        if (before.catalogue() == after.catalogue()) {
            return;
        }
        for (Update update : after.catalogue().updates()) {
            if (before.catalogue().update(update.id()).orElse(null) != update) {
                spokenOf(update.id());
            }
        }
    }

    /** Hosts of which an update speaks, or one that contains it, in either picture. */
    private void spokenOf(UpdateId id) {
        for (Carriages carriages : List.of(before, after)) {
            Catalogue catalogue = carriages.catalogue();
            Stream.concat(catalogue.update(id).stream(), catalogue.containing(id).stream())
                    .forEach(update -> concerned.or(carriages.of(update, at).applicable()));
        }
    }

    private void ofDecisions(Decisions decidedBefore, Decisions decidedAfter) {
        differing(decidedBefore.verdicts(), decidedAfter.verdicts())
                .forEach(verdict -> members(Set.of(verdict.populationId())));
        differing(decidedBefore.acknowledgements(), decidedAfter.acknowledgements())
                .forEach(answer -> members(answer.populations()));
        differing(decidedBefore.freezes(), decidedAfter.freezes()).forEach((Freeze freeze) -> {
            if (freeze.populations().isEmpty()) {
                everybody();
            } else {
                members(freeze.populations());
            }
        });
        Fleet fleet = after.fleet();
        differing(decidedBefore.exceptions(), decidedAfter.exceptions())
                .forEach(exception -> concerned.or(fleet.matching(exception.hosts(), fleet.all())));
        if (!decidedBefore.cautions().equals(decidedAfter.cautions())) {
            everybody();
        }
        decidedAfter.shownOtherwise(decidedBefore).forEach(this::spokenOf);
    }

    private void everybody() {
        concerned.or(after.fleet().all());
    }

    private void members(Set<PopulationId> populations) {
        after.fleet().byEntry(after.fleet().all()).forEach((population, hosts) -> {
            if (populations.contains(population)) {
                concerned.or(hosts);
            }
        });
    }

    /** What stands in one of the lists only; what is unchanged is the same object in both. */
    private static <D> List<D> differing(List<D> before, List<D> after) {
        Set<D> both = Collections.newSetFromMap(new IdentityHashMap<>());
        both.addAll(before);
        List<D> differing = new ArrayList<>();
        for (D one : after) {
            if (!both.remove(one)) {
                differing.add(one);
            }
        }
        differing.addAll(both);
        return differing;
    }
}
