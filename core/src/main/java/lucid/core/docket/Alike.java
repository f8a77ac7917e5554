package lucid.core.docket;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import lucid.core.ruling.Finding;
import lucid.core.ruling.Holding;
import lucid.core.weighing.Beam;
import lucid.core.weighing.Suggestion;
import lucid.core.weighing.Weighing;
import org.roaringbitmap.RoaringBitmap;

/**
 * Populations with the same answer: the numbers suggest the same, and the same holds for the hosts that lack the update. One beam serves them all.
 *
 * @param populations two or more, in the order of the ladder
 * @param holdings what holds for the hosts of all of them that lack it, most hosts first
 */
public record Alike(List<String> populations, Beam beam, List<Holding> holdings) {

    private record Answered(Optional<Suggestion> suggestion, Set<Finding> findings) {}

    /**
     * A population that suspected causes part stands by itself.
     *
     * @param holding of each population, what holds for its hosts that lack the update; in the order of the ladder
     */
    public static List<Alike> of(DocketCase docketCase, Map<String, List<Holding>> holding) {
        Map<Answered, List<String>> groups = new LinkedHashMap<>();
        holding.forEach((population, holdings) -> {
            Optional<Weighing> weighing = docketCase.weighingOf(population);
            if (weighing.stream().noneMatch(Alike::parted)) {
                Set<Finding> findings = holdings.stream().map(one -> says(one.finding())).collect(Collectors.toSet());
                Answered answered = new Answered(weighing.map(Weighing::suggestion).filter(s -> s.type() != Suggestion.Type.NONE), findings);
                groups.computeIfAbsent(answered, a -> new ArrayList<>()).add(population);
            }
        });
        return groups.values().stream().filter(group -> group.size() > 1)
                .map(group -> new Alike(group, Beam.of(group.stream().flatMap(population -> docketCase.weighingOf(population).stream()).toList()),
                        together(group.stream().flatMap(population -> holding.get(population).stream()).toList())))
                .toList();
    }

    private static boolean parted(Weighing weighing) {
        return weighing.cells().stream().filter(cell -> cell.lacking() > 0).count() > 1;
    }

    private static List<Holding> together(List<Holding> holdings) {
        Map<Finding, Holding> merged = new LinkedHashMap<>();
        holdings.forEach(one -> merged.merge(says(one.finding()), one, (a, b) -> new Holding(a.finding(), RoaringBitmap.or(a.hosts(), b.hosts()))));
        return merged.values().stream().sorted(Comparator.comparingInt((Holding one) -> one.hosts().getCardinality()).reversed()).toList();
    }

    /** What it says, whichever verdict says so. */
    private static Finding says(Finding finding) {
        return new Finding(finding.clause(), finding.answer(), Optional.empty(), finding.end(), finding.due());
    }
}
