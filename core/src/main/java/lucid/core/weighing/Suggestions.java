package lucid.core.weighing;

import java.util.EnumSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.IntStream;
import lucid.core.gate.Gate;
import lucid.core.update.Product;

/**
 * What the numbers of one population speak for. It is judged by the cells in which it has hosts, and by no others.
 *
 * <p>Where its hosts have different products of the update, tries on one say nothing of another: the tries of each are
 * judged by themselves, and that they are enough must be true of each.
 */
final class Suggestions {

    /** How much heavier one side must be for the numbers to speak clearly. */
    private static final double CLEAR = 3;

    private static final int ENOUGH_CLEAN = 20;
    private static final double HIGH_PROBABILITY = 0.1;
    private static final double MUCH_EXPOSURE = 0.5;
    private static final double MUCH_EXPOSURE_A_WEIGHT = 0.1;

    private final UpdateFacts update;
    private final PopulationFacts population;
    private final List<Weighing.OfCell> cells;
    private final List<Double> exploitedExposure;
    private final double weight;
    private final double hostShare;

    /**
     * @param exploitedExposure of each cell, the exposure by known exploited vulnerabilities alone
     * @param weight of a host
     * @param hostShare counts every host as so many
     */
    Suggestions(
            UpdateFacts update,
            PopulationFacts population,
            List<Weighing.OfCell> cells,
            List<Double> exploitedExposure,
            double weight,
            double hostShare) {
        this.update = update;
        this.population = population;
        this.cells = cells;
        this.exploitedExposure = exploitedExposure;
        this.weight = weight;
        this.hostShare = hostShare;
    }

    /** The cells in which the population has hosts. */
    List<Integer> places() {
        return IntStream.range(0, cells.size())
                .filter(place -> population.cells().get(place).hosts() > 0)
                .boxed()
                .toList();
    }

    /**
     * The first that fits. With causes found, each cause's cell is judged by itself first: a block narrowed to it, then
     * the remaining hosts from the top.
     *
     * @param carryOver true while it supersedes an update under a block and nobody has answered that
     */
    Suggestion suggest(boolean carryOver) {
        if (population.hosts() == 0) {
            return Suggestion.of(Suggestion.Type.NONE);
        }
        if (update.withdrawn()) {
            return Suggestion.of(Suggestion.Type.WITHDRAWN);
        }
        if (population.lacking() > 0 && population.nothingToInstall() == population.lacking()) {
            return Suggestion.of(Suggestion.Type.NOTHING_TO_INSTALL);
        }
        if (carryOver) {
            return Suggestion.of(Suggestion.Type.CARRY_OVER);
        }
        List<Integer> places = places();
        List<Integer> blocked = places.stream()
                .filter(place -> cells.get(place).cause().isPresent()
                        && cells.get(place).lacking() > 0
                        && speaksForBlock(List.of(place)))
                .toList();
        List<Integer> rest =
                places.stream().filter(place -> !blocked.contains(place)).toList();
        return blocked.isEmpty()
                ? Suggestion.of(judged(places))
                : new Suggestion(
                        Suggestion.Type.BLOCK, blocked, rest.isEmpty() ? Optional.empty() : Optional.of(judged(rest)));
    }

    private Suggestion.Type judged(List<Integer> places) {
        if (speaksForForce(places)) {
            return Suggestion.Type.FORCE;
        }
        if (speaksForBlock(places)) {
            return Suggestion.Type.BLOCK;
        }
        if (speaksForPilot(places)) {
            return Suggestion.Type.PILOT;
        }
        return speaksForLettingGo(places) ? Suggestion.Type.LET_GO : Suggestion.Type.LEAVE_TO_RULE;
    }

    private boolean speaksForForce(List<Integer> places) {
        double clear = CLEAR * hazard(places).high();
        double exploited = places.stream().mapToDouble(exploitedExposure::get).sum();
        return exposure(places) > clear && (exploited > clear || isLikely(places) && clean(places) >= ENOUGH_CLEAN);
    }

    private boolean speaksForBlock(List<Integer> places) {
        return hazard(places).low() > CLEAR * exposure(places) && !harm(places).isEmpty();
    }

    private boolean speaksForPilot(List<Integer> places) {
        boolean risky =
                switch (update.kind()) {
                    case UPGRADE, DRIVER, FIRMWARE -> true;
                    default -> isMuchExposed(places);
                };
        return exposure(places) > 0 && !harm(places).isEmpty() || risky && !isTriedEnough(places);
    }

    private boolean speaksForLettingGo(List<Integer> places) {
        return isMuchExposed(places) && exposure(places) > hazard(places).high() && clean(places) >= ENOUGH_CLEAN;
    }

    private boolean isMuchExposed(List<Integer> places) {
        double exposure = exposure(places);
        int hosts = places.stream()
                .mapToInt(place -> population.cells().get(place).hosts())
                .sum();
        return exposure >= MUCH_EXPOSURE || exposure >= MUCH_EXPOSURE_A_WEIGHT * weight * hosts * hostShare;
    }

    /** Whether the tries meet the gate that a pilot on as many hosts as lack it could meet. */
    private boolean isTriedEnough(List<Integer> places) {
        double hosts = hostShare
                * places.stream()
                        .mapToInt(place -> population.cells().get(place).lacking())
                        .sum();
        Gate gate = Gate.forHosts(hosts);
        return tries(places).values().stream().allMatch(tries -> gate.isMet(tries.tried(), tries.failed()));
    }

    /** Of the products that were tried least: only what was tried on all of them speaks for all hosts. */
    private int clean(List<Integer> places) {
        return tries(places).values().stream().mapToInt(CellTries::clean).min().orElse(0);
    }

    /** Whether a vulnerability that matters on some of these hosts is likely to be exploited. */
    private boolean isLikely(List<Integer> places) {
        return places.stream()
                .flatMap(place -> population.cells().get(place).exposed().stream())
                .flatMap(exposed -> exposed.vulnerabilities().stream())
                .distinct()
                .map(update.vulnerabilities()::get)
                .anyMatch(vulnerability -> vulnerability
                        .probability()
                        .filter(probability -> probability >= HIGH_PROBABILITY)
                        .isPresent());
    }

    /** Harm in evidence. */
    Set<HarmSeen> harm(List<Integer> places) {
        Set<HarmSeen> seen = EnumSet.noneOf(HarmSeen.class);
        tries(places).forEach((products, tries) -> {
            List<PopulationFacts.Endangered> endangered = places.stream()
                    .filter(place -> update.cells().get(place).products().equals(products))
                    .flatMap(place -> population.cells().get(place).endangered().stream())
                    .toList();
            seen.addAll(HarmInEvidence.of(
                    tries,
                    update.usual().rate(),
                    endangered.stream().anyMatch(hosts -> hosts.named().isPresent()),
                    endangered.stream().anyMatch(hosts -> hosts.vague().isPresent())));
        });
        return seen;
    }

    /** The tries of these cells by the products on which they were made. */
    private Map<List<Product>, CellTries> tries(List<Integer> places) {
        Map<List<Product>, CellTries> byProducts = new LinkedHashMap<>();
        places.forEach(place -> byProducts.merge(
                update.cells().get(place).products(), update.cells().get(place), CellTries::plus));
        return byProducts;
    }

    private double exposure(List<Integer> places) {
        return places.stream().mapToDouble(place -> cells.get(place).exposure()).sum();
    }

    private Range hazard(List<Integer> places) {
        return places.stream().map(place -> cells.get(place).hazard()).reduce(Range.ZERO, Range::plus);
    }
}
