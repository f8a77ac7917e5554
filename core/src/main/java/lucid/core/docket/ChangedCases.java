package lucid.core.docket;

import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayDeque;
import java.util.Collection;
import java.util.Deque;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import lucid.core.evidence.TriedHosts;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Outcome;
import lucid.core.ruling.Acknowledgement;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.ruling.Verdict;
import lucid.core.update.Catalogue;
import lucid.core.update.Fix;
import lucid.core.update.Product;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import org.roaringbitmap.RoaringBitmap;

/**
 * Which cases may be otherwise in a later docket than in an earlier one. Rather one too many than one too few: what is
 * named here is made anew.
 */
final class ChangedCases {

    /** Of so many hosts that report otherwise it is not looked up what each touches: it is nearly everything. */
    private static final int MANY_HOSTS = 1_000;

    private static final int ONE_IN = 20;

    private final Docket.Facts before;
    private final Docket.Facts after;
    private final Instant then;
    private final Instant now;
    private final Catalogue catalogue;
    private final Set<UpdateId> updates = new HashSet<>();
    private final boolean everything;
    private final boolean nearlyEverything;

    /** @param outdated cases that the clock alone has changed */
    ChangedCases(
            Docket.Facts before,
            Instant then,
            Docket.Facts after,
            Instant now,
            Map<UpdateId, TriedHosts> tried,
            Set<UpdateId> outdated) {
        this.before = before;
        this.after = after;
        this.then = then;
        this.now = now;
        this.catalogue = after.carriages().catalogue();
        this.everything = isEverythingTouched();
        this.nearlyEverything = !everything && haveManyHostsChanged();
        if (!everything && !nearlyEverything) {
            updates.addAll(outdated);
            byUpdates();
            byEvidence();
            byDecisions();
            byHosts();
            bySilence(tried);
            byPilots();
            addRelated(before.carriages().catalogue());
            addRelated(catalogue);
        }
    }

    /** The baseline rates are those of the day, weights and populations are of every case. */
    private boolean isEverythingTouched() {
        return now.isBefore(then)
                || !now.truncatedTo(ChronoUnit.DAYS).equals(then.truncatedTo(ChronoUnit.DAYS))
                || !before.weights().equals(after.weights())
                || !before.decisions().freezes().equals(after.decisions().freezes())
                || !before.decisions().cautions().equals(after.decisions().cautions())
                || before.carriages().fleet().ladder()
                        != after.carriages().fleet().ladder();
    }

    boolean isEverything() {
        return everything;
    }

    private boolean haveManyHostsChanged() {
        Fleet later = after.carriages().fleet();
        int changed = later.changedSince(before.carriages().fleet()).size();
        return changed >= MANY_HOSTS && changed >= later.all().getCardinality() / ONE_IN;
    }

    /** True if it is quicker to make all cases anew than to tell which are touched. */
    boolean isNearlyEverything() {
        return nearlyEverything;
    }

    Set<UpdateId> updates() {
        return updates;
    }

    /**
     * With all that contain each other: whether an update folds under another, or is withheld with it, depends on the
     * others.
     */
    private void addRelated(Catalogue related) {
        Deque<UpdateId> open = new ArrayDeque<>(updates);
        while (!open.isEmpty()) {
            UpdateId one = open.poll();
            Stream.concat(related.containedIn(one).stream(), related.containing(one).stream())
                    .map(Update::id)
                    .filter(updates::add)
                    .forEach(open::add);
        }
    }

    private void byUpdates() {
        Catalogue earlier = before.carriages().catalogue();
        if (earlier != catalogue) {
            for (Update update : catalogue.updates()) {
                if (earlier.update(update.id()).filter(known -> known == update).isEmpty()) {
                    updates.add(update.id());
                    Stream.concat(Stream.of(update), earlier.update(update.id()).stream())
                            .flatMap(one -> one.vulnerabilities().stream())
                            .forEach(vulnerability ->
                                    catalogue.closing(vulnerability.id()).forEach(other -> updates.add(other.id())));
                }
            }
        }
        updates.addAll(
                after.carriages().outcomes().changedSince(before.carriages().outcomes()));
    }

    private void byEvidence() {
        if (before.evidence() != after.evidence()) {
            catalogue.updates().stream()
                    .filter(u -> u.vulnerabilities().stream()
                            .anyMatch(v -> after.evidence().differs(v.id(), before.evidence())))
                    .forEach(u -> updates.add(u.id()));
            updates.addAll(after.evidence().updatesChangedSince(before.evidence()));
        }
    }

    private void byDecisions() {
        Decisions earlier = before.decisions();
        Decisions later = after.decisions();
        if (earlier == later) {
            return;
        }
        differing(earlier.verdicts(), later.verdicts()).map(Verdict::updateId).forEach(updates::add);
        updates.addAll(later.shownOtherwise(earlier));
        differing(earlier.acknowledgements(), later.acknowledgements())
                .map(Acknowledgement::updateId)
                .forEach(updates::add);
        List<ExceptionGrant> exceptions =
                differing(earlier.exceptions(), later.exceptions()).toList();
        if (!exceptions.isEmpty()) {
            catalogue.updates().stream()
                    .filter(update ->
                            exceptions.stream().anyMatch(e -> e.scope().covers(update)))
                    .forEach(update -> updates.add(update.id()));
        }
    }

    private static <T> Stream<T> differing(Collection<T> earlier, Collection<T> later) {
        Set<T> both = new HashSet<>(earlier);
        both.retainAll(new HashSet<>(later));
        return Stream.concat(earlier.stream(), later.stream()).filter(one -> !both.contains(one));
    }

    private void byHosts() {
        Fleet earlier = before.carriages().fleet();
        Fleet later = after.carriages().fleet();
        Set<Integer> silent = new HashSet<>();
        later.freshnessChanged(earlier, then, now).forEach((int number) -> silent.add(number));
        for (Host host : later.changedSince(earlier)) {
            Host known = earlier.knows(host.number()) ? earlier.host(host.number()) : null;
            boolean retiredOrBack = known != null && earlier.isRetired(host.number()) != later.isRetired(host.number());
            if (known == null || retiredOrBack || !sameBeside(known, host)) {
                after.decisions().verdicts().stream()
                        .filter(verdict -> verdict.standsAt(now))
                        .forEach(verdict -> updates.add(verdict.updateId()));
            }
            if (known == null || retiredOrBack || !sameBeside(known, host) || silent.contains(host.number())) {
                lackingOn(host);
                if (known != null) {
                    lackingOn(known);
                }
            }
            if (known == null
                    || retiredOrBack
                    || earlier.populationOf(known) != later.populationOf(host)
                    || !known.platform().equals(host.platform())) {
                speaksOf(host.products());
            }
            if (known != null) {
                changedProducts(known.products(), host.products());
                changedProducts(known.running(), host.running());
                told(known, known.lastStart().equals(host.lastStart()));
            }
            silent.remove(host.number());
        }
        silent.forEach(number -> lackingOn(later.host(number)));
    }

    /** Silent hosts are compared with others, of which something else may be known now. */
    private void bySilence(Map<UpdateId, TriedHosts> tried) {
        Fleet earlier = before.carriages().fleet();
        Fleet later = after.carriages().fleet();
        List<Host> changed = later.changedSince(earlier).stream()
                .filter(host -> isSilentOrMoved(host, earlier, later))
                .toList();
        if (changed.isEmpty()) {
            return;
        }
        tried.forEach((id, hosts) -> {
            boolean differs = hosts.compared().stream().anyMatch(compared -> changed.stream()
                    .anyMatch(host -> compared.differs(host.number(), earlier, then, later, now)));
            if (differs) {
                updates.add(id);
            }
        });
    }

    /** What a sampled host reports may be what its pilot waits for. */
    private void byPilots() {
        RoaringBitmap changed = new RoaringBitmap();
        after.carriages().fleet().changedSince(before.carriages().fleet()).forEach(host -> changed.add(host.number()));
        after.decisions().verdicts().stream()
                .filter(verdict -> verdict.standsAt(now))
                .filter(verdict -> verdict.pilot()
                        .filter(pilot -> RoaringBitmap.intersects(pilot.everSampled(), changed))
                        .isPresent())
                .forEach(verdict -> updates.add(verdict.updateId()));
    }

    /** Whoever was heard of before and is heard of now, in the same population, is compared as before. */
    private boolean isSilentOrMoved(Host host, Fleet earlier, Fleet later) {
        int number = host.number();
        return !earlier.knows(number)
                || earlier.isRetired(number)
                || later.isRetired(number)
                || earlier.silentFrom(number) <= then.toEpochMilli()
                || later.silentFrom(number) <= now.toEpochMilli()
                || earlier.populationOf(earlier.host(number)) != later.populationOf(host);
    }

    /** True if the reports differ in products and instants alone. */
    private static boolean sameBeside(Host a, Host b) {
        return a.traits().equals(b.traits())
                && a.platform().equals(b.platform())
                && a.supply().equals(b.supply());
    }

    private void changedProducts(List<InstalledProduct> earlier, List<InstalledProduct> later) {
        if (!earlier.equals(later)) {
            Set<InstalledProduct> both = new HashSet<>(earlier);
            both.retainAll(new HashSet<>(later));
            speaksOf(Stream.concat(earlier.stream(), later.stream())
                    .filter(product -> !both.contains(product))
                    .toList());
        }
    }

    private void speaksOf(Collection<InstalledProduct> products) {
        Set<Product> named = products.stream()
                .flatMap(product -> Stream.of(
                        product.build().product(), product.sourceBuild().product()))
                .collect(Collectors.toSet());
        named.stream()
                .flatMap(product ->
                        Stream.concat(catalogue.ofProduct(product).stream(), catalogue.requiring(product).stream()))
                .forEach(update -> updates.add(update.id()));
    }

    /** Updates that the host lacks, and those for which it tells something after its last report. */
    private void lackingOn(Host host) {
        host.products().stream()
                .flatMap(installed -> Stream.of(
                        installed.build().product(), installed.sourceBuild().product()))
                .distinct()
                .flatMap(product -> catalogue.ofProduct(product).stream())
                .distinct()
                .filter(update -> update.fixes().stream().anyMatch(fix -> host.spokenOf(fix).stream()
                        .anyMatch(one -> fix.standing(one.version()) == Fix.Standing.LACKS)))
                .forEach(update -> updates.add(update.id()));
        host.running()
                .forEach(running ->
                        catalogue.ofProduct(running.build().product()).forEach(update -> updates.add(update.id())));
        told(host, true);
    }

    /**
     * Updates of which the host told something after its last report, which the next report confirms or not; after a
     * start also those that waited for one.
     */
    private void told(Host known, boolean sameStart) {
        for (Update update : catalogue.updates()) {
            Map<Integer, Outcome> last = after.carriages().outcomes().last(update.id());
            Outcome outcome = last.isEmpty() ? null : last.get(known.number());
            if (outcome != null
                    && (!outcome.at().isBefore(known.lastReport())
                            || TriedHosts.isUnsettled(outcome, known.lastReport())
                            || !sameStart && update.restart() == RestartNeed.HOST)) {
                updates.add(update.id());
            }
        }
    }
}
