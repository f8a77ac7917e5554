package lucid.server.docket;

import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.docket.DocketCase;
import lucid.core.evidence.Evidence;
import lucid.core.evidence.ExploitScore;
import lucid.core.evidence.TriedHosts;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.PopulationId;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.core.update.Vulnerability;
import lucid.core.weighing.Weighing;
import lucid.server.snapshot.Snapshot;
import lucid.server.verdicts.CasesAtHand;
import org.springframework.stereotype.Component;

/** Tells how a case stands to whoever keeps it with a verdict. */
@Component
class DocketAtHand implements CasesAtHand {

    private final Dockets dockets;

    DocketAtHand(Dockets dockets) {
        this.dockets = dockets;
    }

    @Override
    public Map<PopulationId, CaseThen> of(UpdateId id, Collection<PopulationId> populations) {
        Dockets.Current current = dockets.current();
        Snapshot snapshot = current.snapshot();
        Update update = snapshot.update(id);
        DocketCase one = current.docket().find(id).orElseThrow();
        Evidence evidence = snapshot.evidence();
        TriedHosts tried = TriedHosts.of(
                update,
                snapshot.carriages().outcomes(),
                evidence,
                snapshot.fleet(),
                current.docket().at());
        List<IssueThen> issues = evidence.issuesOf(id).stream()
                .map(issue -> new IssueThen(
                        issue.id(),
                        issue.words(),
                        issue.state().name().toLowerCase().replace('_', ' ')))
                .toList();
        List<String> vulnerabilities = update.vulnerabilities().stream()
                .map(Vulnerability::id)
                .sorted()
                .toList();
        Map<PopulationId, CaseThen> stood = new HashMap<>();
        for (PopulationId population : populations) {
            stood.put(
                    population,
                    new CaseThen(
                            update.rating(),
                            update.highestBaseScore(),
                            one.cues(),
                            vulnerabilities.stream()
                                    .filter(evidence.exploited()::containsKey)
                                    .toList(),
                            vulnerabilities.stream()
                                    .flatMap(vulnerability -> evidence.score(vulnerability).stream())
                                    .map(ExploitScore::probability)
                                    .max(Double::compare),
                            tried.tried(),
                            tried.failed(),
                            issues,
                            weighing(one, population).map(weighing -> weighed(weighing, lacking(one, population)))));
        }
        return stood;
    }

    private static Optional<Weighing> weighing(DocketCase one, PopulationId population) {
        Optional<PopulationId> named = Optional.of(population).filter(id -> !id.equals(Ladder.NO_POPULATION));
        return one.weighings().stream()
                .filter(of -> of.population().equals(named))
                .map(DocketCase.OfPopulation::weighing)
                .findFirst();
    }

    private static int lacking(DocketCase one, PopulationId population) {
        int named = one.marks().stream().mapToInt(DocketCase.Mark::lacking).sum();
        return population.equals(Ladder.NO_POPULATION)
                ? one.counts().lacking() - named
                : one.marks().stream()
                        .filter(mark -> mark.population().equals(population))
                        .mapToInt(DocketCase.Mark::lacking)
                        .sum();
    }

    private static WeighedThen weighed(Weighing weighing, int lacking) {
        return new WeighedThen(
                lacking,
                weighing.exposure(),
                weighing.hazard(),
                weighing.usual(),
                weighing.tilt(),
                weighing.suggestion().type());
    }
}
