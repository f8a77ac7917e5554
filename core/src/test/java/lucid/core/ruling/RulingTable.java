package lucid.core.ruling;

import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import lucid.core.carriage.CarriageState;
import lucid.core.fleet.Host;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Population;
import lucid.core.update.Catalogue;
import lucid.core.update.Update;

/** The ruling as a table that is read from the top: slow, without a chain, and each line plainly one line of the rule. */
record RulingTable(Decisions decisions, Ladder ladder) {

    Answer answer(Host host, Update update, CarriageState state, Instant at) {
        if (!state.lacks()) {
            return Answer.NOTHING_TO_DO;
        }
        Optional<Population> population = ladder.owner(host);
        List<Verdict> verdicts = decisions.verdicts().stream()
                .filter(v -> v.updateId().equals(update.id()))
                .filter(v -> population.isPresent() && population.get().id().equals(v.populationId()))
                .filter(v -> v.narrowing().isEmpty() || v.narrowing().get().test(host))
                .filter(v -> !v.handedDown().isAfter(at))
                .filter(v -> v.takenBack().isEmpty() || v.takenBack().get().isAfter(at))
                .filter(v -> v.type() == VerdictType.DEFER || v.end().isAfter(at))
                .sorted(Comparator.comparing(Verdict::number))
                .toList();
        List<Long> blocks = verdicts.stream().filter(v -> v.type() == VerdictType.BLOCK).map(Verdict::number).toList();
        List<ExceptionGrant> exceptions = decisions.exceptions().stream()
                .filter(e -> !e.made().isAfter(at) && e.until().isAfter(at) && (e.takenBack().isEmpty() || e.takenBack().get().isAfter(at)))
                .filter(e -> e.scope().covers(update) && e.hosts().test(host))
                .toList();

        for (Verdict verdict : verdicts) {
            boolean names = verdict.overrides().stream().anyMatch(blocks::contains)
                    || exceptions.stream().anyMatch(e -> verdict.overriddenExceptions().contains(e.number()));
            if (verdict.type() == VerdictType.FORCE && names) {
                return Answer.OFFERED;
            }
        }
        for (int width = 0; width <= 2; width++) {
            for (int i = exceptions.size() - 1; i >= 0; i--) {
                if (exceptions.get(i).scope().width() == width) {
                    return exceptions.get(i).effect();
                }
            }
        }
        for (int i = verdicts.size() - 1; i >= 0; i--) {
            Verdict verdict = verdicts.get(i);
            boolean offers = verdict.type() == VerdictType.FORCE || verdict.type() == VerdictType.DEFER && !verdict.end().isAfter(at);
            if (!offers) {
                return Answer.WITHHELD;
            }
            if (verdict.overrides().containsAll(blocks)) {
                return Answer.OFFERED;
            }
        }
        Optional<Instant> offered = new Rulings(decisions, ladder, Catalogue.EMPTY).offeredByRule(update, population);
        return offered.isPresent() && !offered.get().isAfter(at) ? Answer.OFFERED : Answer.WITHHELD;
    }
}
