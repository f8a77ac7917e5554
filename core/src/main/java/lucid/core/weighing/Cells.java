package lucid.core.weighing;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import lucid.core.carriage.CarrierIndex;
import lucid.core.causes.Cause;
import lucid.core.causes.SuspectedCauses;
import lucid.core.evidence.Evidence;
import lucid.core.evidence.TriedHosts;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.Fleet;
import lucid.core.update.Fix;
import lucid.core.update.Product;
import lucid.core.update.Update;
import org.roaringbitmap.RoaringBitmap;

/**
 * The hosts that an update concerns and those that tried it, divided into cells of equal failure: first by which of its
 * products they have, since tries on one package system say nothing of another; then by the suspected causes in their
 * order, of which the first that a host meets counts; all other hosts are the last cell of their products.
 *
 * <p>Products that some host has together are not told apart: most updates of a package system bring several packages,
 * and each host has some of them.
 */
final class Cells {

    /** @param hosts that it concerns; @param tries of hosts that met the cause when they tried */
    private record Cell(
            List<Product> products, Optional<Cause> cause, RoaringBitmap hosts, List<TriedHosts.Try> tries) {}

    /** @param hosts that have one of the products */
    private record Part(TreeSet<Product> products, RoaringBitmap hosts) {}

    private final List<Cell> cells = new ArrayList<>();
    private final List<CellTries> tries;

    /** @param concerned hosts that lack the update or wait for its restart */
    Cells(
            Update update,
            CarrierIndex installed,
            Fleet fleet,
            RoaringBitmap concerned,
            TriedHosts tried,
            List<Cause> causes,
            Evidence evidence) {
        RoaringBitmap tryingHosts = new RoaringBitmap();
        tried.tries().forEach(one -> tryingHosts.add(one.host()));
        List<Part> parts = parts(update, installed, fleet, RoaringBitmap.or(concerned, tryingHosts));
        boolean apart = parts.size() > 1;
        RoaringBitmap left = concerned.clone();
        List<TriedHosts.Try> leftTries = tried.tries();
        for (int i = 0; i < parts.size(); i++) {
            Part part = parts.get(i);
            // Who has none of its products, or has them no more, stands with most of the others.
            boolean all = i == parts.size() - 1;
            RoaringBitmap hosts = all ? left : RoaringBitmap.and(left, part.hosts());
            Map<Boolean, List<TriedHosts.Try>> own =
                    leftTries.stream().collect(Collectors.partitioningBy(one -> all || isOf(one, part)));
            divide(apart ? List.copyOf(part.products()) : List.of(), hosts, own.get(true), causes, fleet, apart);
            left = RoaringBitmap.andNot(left, hosts);
            leftTries = own.get(false);
        }
        this.tries = counted(update, evidence, fleet);
    }

    private static boolean isOf(TriedHosts.Try one, Part part) {
        return part.hosts().contains(one.host())
                || one.before()
                        .filter(before -> part.products()
                                        .contains(before.build().product())
                                || part.products().contains(before.sourceBuild().product()))
                        .isPresent();
    }

    /** Products that hosts have together, the largest part last; one part without products where there is but one. */
    private static List<Part> parts(Update update, CarrierIndex installed, Fleet fleet, RoaringBitmap among) {
        List<Part> parts = new ArrayList<>();
        Set<Product> products = update.fixes().stream()
                .map(fix -> fix.build().product())
                .collect(Collectors.toCollection(TreeSet::new));
        for (Product product : products.size() > 1 ? products : Set.<Product>of()) {
            RoaringBitmap hosts = RoaringBitmap.and(spokenOf(update, product, installed, fleet), among);
            if (!hosts.isEmpty()) {
                Part joined = new Part(new TreeSet<>(List.of(product)), hosts);
                for (Part part : List.copyOf(parts)) {
                    if (RoaringBitmap.intersects(part.hosts(), hosts)) {
                        joined.products().addAll(part.products());
                        joined.hosts().or(part.hosts());
                        parts.remove(part);
                    }
                }
                parts.add(joined);
            }
        }
        if (parts.isEmpty()) {
            parts.add(new Part(new TreeSet<>(), new RoaringBitmap()));
        }
        parts.sort(Comparator.comparingInt((Part part) -> part.hosts().getCardinality())
                .thenComparing(part ->
                        part.products().stream().findFirst().map(Product::purl).orElse("")));
        return parts;
    }

    /** Hosts that have a product, or what is built from it where the update speaks of the source. */
    private static RoaringBitmap spokenOf(Update update, Product product, CarrierIndex installed, Fleet fleet) {
        RoaringBitmap hosts = new RoaringBitmap();
        update.fixes().stream()
                .map(Fix::build)
                .filter(build -> build.product().equals(product))
                .forEach(build -> hosts.or(installed
                        .split(build, version -> Fix.Standing.HAS, fleet::onRelease)
                        .has()));
        return hosts;
    }

    /** @param apart true if there are other products: then cells of causes that concern none of these are left out */
    private void divide(
            List<Product> products,
            RoaringBitmap concerned,
            List<TriedHosts.Try> tried,
            List<Cause> causes,
            Fleet fleet,
            boolean apart) {
        RoaringBitmap left = concerned.clone();
        List<TriedHosts.Try> leftTries = tried;
        for (Cause cause : causes) {
            RoaringBitmap meeting = SuspectedCauses.meeting(cause, fleet, left);
            Map<Boolean, List<TriedHosts.Try>> own = leftTries.stream()
                    .collect(Collectors.partitioningBy(
                            one -> SuspectedCauses.meets(one, fleet.host(one.host()), cause)));
            if (!apart || !meeting.isEmpty() || !own.get(true).isEmpty()) {
                cells.add(new Cell(products, Optional.of(cause), meeting, own.get(true)));
            }
            left.andNot(meeting);
            leftTries = own.get(false);
        }
        cells.add(new Cell(products, Optional.empty(), left, leftTries));
    }

    private List<CellTries> counted(Update update, Evidence evidence, Fleet fleet) {
        OutsideReports outside = new OutsideReports(
                evidence.reportsOn(update.id()),
                cells.stream().map(Cell::cause).toList(),
                cells.stream().map(Cells::hostsAndTrying).toList(),
                fleet);
        List<CellTries> counted = new ArrayList<>();
        for (int place = 0; place < cells.size(); place++) {
            Cell cell = cells.get(place);
            Map<FailureClass, Integer> failures = new EnumMap<>(FailureClass.class);
            cell.tries().stream()
                    .flatMap(one -> one.failure().stream())
                    .forEach(f -> failures.merge(f.failureClass(), 1, Integer::sum));
            counted.add(new CellTries(
                    cell.products(),
                    cell.cause(),
                    cell.tries().size(),
                    failures,
                    outside.failures(place),
                    outside.down(place)));
        }
        return counted;
    }

    private static RoaringBitmap hostsAndTrying(Cell cell) {
        RoaringBitmap hosts = cell.hosts().clone();
        cell.tries().forEach(one -> hosts.add(one.host()));
        return hosts;
    }

    List<CellTries> tries() {
        return tries;
    }

    /** Of each cell, the hosts that the update concerns. */
    List<RoaringBitmap> hosts() {
        return cells.stream().map(Cell::hosts).toList();
    }
}
