package lucid.server.verdicts;

import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import lucid.core.fleet.PopulationId;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.server.pilots.PilotDraft;

/**
 * One answer of a sentence: what is decided for one or several populations.
 *
 * @param where condition that narrows it
 * @param until last day of a block, day after which a deferral offers, day by whose end a force is due, or answer day
 *     of a pilot; a deferral until today lets the update go now
 * @param overrides verdicts that it knowingly overrides
 * @param overriddenExceptions exceptions that it knowingly overrides
 * @param overriddenFreezes freezes that a force knowingly overrides
 * @param pilot of a pilot: who tries it, and what that must show; none: what is usual
 * @param allowanceDays of a force: how long a host that was away has after its return, in days; none: 0
 * @param outsideWindows of a force: whether it does not wait for a window once it is due
 * @param spread of a deferral or a force: parts in which it ends or is due; none: for all hosts at once
 * @param byOperator of a deferral or a force: hosts do not begin by themselves; none: as their population says
 * @param removes of a block: hosts that carry it are to go back to an earlier version
 */
record AnswerDraft(
        VerdictType type,
        List<PopulationId> populations,
        Optional<String> where,
        Optional<LocalDate> until,
        List<DecisionNumber.OfVerdict> overrides,
        List<DecisionNumber.OfException> overriddenExceptions,
        List<DecisionNumber.OfFreeze> overriddenFreezes,
        Optional<PilotDraft> pilot,
        Optional<Integer> allowanceDays,
        Optional<Boolean> outsideWindows,
        Optional<SpreadDraft> spread,
        Optional<OperatorDraft> byOperator,
        Optional<Boolean> removes) {

    private static final int MOST = 500;

    AnswerDraft {
        populations = few("populations", populations);
        overrides = few("overrides", overrides);
        overriddenExceptions = few("overriddenExceptions", overriddenExceptions);
        overriddenFreezes = few("overriddenFreezes", overriddenFreezes);
        where = where == null ? Optional.empty() : where.filter(text -> !text.isBlank());
        until = until == null ? Optional.empty() : until;
        pilot = pilot == null ? Optional.empty() : pilot;
        allowanceDays = allowanceDays == null ? Optional.empty() : allowanceDays;
        outsideWindows = outsideWindows == null ? Optional.empty() : outsideWindows;
        spread = spread == null ? Optional.empty() : spread.filter(parts -> parts.parts() != 1);
        byOperator = byOperator == null ? Optional.empty() : byOperator;
        removes = removes == null ? Optional.empty() : removes;
    }

    static <T> List<T> few(String field, List<T> list) {
        if (list != null && list.size() > MOST) {
            throw new IllegalArgumentException(field + ": at most " + MOST + " of them");
        }
        return list == null ? List.of() : List.copyOf(list);
    }

    Verdict.Overrides goesOver() {
        return new Verdict.Overrides(
                Set.copyOf(overrides), Set.copyOf(overriddenExceptions), Set.copyOf(overriddenFreezes));
    }
}
