package lucid.core.docket;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import lucid.core.fleet.PopulationId;
import lucid.core.ruling.RuleMatch;
import lucid.core.ruling.RulingGroup;
import lucid.core.weighing.Beam;
import lucid.core.weighing.Suggestion;
import lucid.core.weighing.Weighing;
import org.roaringbitmap.RoaringBitmap;

/**
 * Populations with the same answer: the numbers suggest the same, and the same holds for the hosts that lack the
 * update. One beam serves them all.
 *
 * @param populations two or more, in the order of the ladder
 * @param groups what holds for the hosts of all of them that lack it, most hosts first
 */
public record Alike(List<PopulationId> populations, Beam beam, List<RulingGroup> groups) {

    private record Answered(Optional<Suggestion> suggestion, Set<RuleMatch> matches) {}

    /**
     * A population that suspected causes part stands by itself.
     *
     * @param groups of each population, what holds for its hosts that lack the update; in the order of the ladder
     */
    public static List<Alike> of(DocketCase docketCase, Map<PopulationId, List<RulingGroup>> groups) {
        Map<Answered, List<PopulationId>> alike = new LinkedHashMap<>();
        groups.forEach((population, of) -> {
            Optional<Weighing> weighing = docketCase.weighingOf(population);
            if (weighing.stream().noneMatch(Alike::parted)) {
                Set<RuleMatch> matches =
                        of.stream().map(one -> says(one.match())).collect(Collectors.toSet());
                Answered answered = new Answered(
                        weighing.map(Weighing::suggestion).filter(s -> s.type() != Suggestion.Type.NONE), matches);
                alike.computeIfAbsent(answered, a -> new ArrayList<>()).add(population);
            }
        });
        return alike.values().stream()
                .filter(populations -> populations.size() > 1)
                .map(populations -> new Alike(
                        populations,
                        Beam.of(populations.stream()
                                .flatMap(population -> docketCase.weighingOf(population).stream())
                                .toList()),
                        together(populations.stream()
                                .flatMap(population -> groups.get(population).stream())
                                .toList())))
                .toList();
    }

    private static boolean parted(Weighing weighing) {
        return weighing.cells().stream().filter(cell -> cell.lacking() > 0).count() > 1;
    }

    private static List<RulingGroup> together(List<RulingGroup> groups) {
        Map<RuleMatch, RulingGroup> merged = new LinkedHashMap<>();
        groups.forEach(one -> merged.merge(
                says(one.match()), one, (a, b) -> new RulingGroup(a.match(), RoaringBitmap.or(a.hosts(), b.hosts()))));
        return merged.values().stream()
                .sorted(Comparator.comparingInt((RulingGroup one) -> one.hosts().getCardinality())
                        .reversed())
                .toList();
    }

    /** What it says, whichever verdict says so. */
    private static RuleMatch says(RuleMatch match) {
        return new RuleMatch(match.clause(), match.effect(), Optional.empty(), match.end(), match.due());
    }
}
