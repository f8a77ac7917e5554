package lucid.server.verdicts;

import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import lucid.core.fleet.PopulationId;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.ReasonWord;
import lucid.core.ruling.VerdictType;
import lucid.core.update.UpdateId;
import lucid.server.pilots.PilotDraft;

/**
 * A verdict as it is worded: one decision for one or several populations.
 *
 * @param revision the revision of the update on which it is decided
 * @param where condition that narrows it
 * @param until last day of a block, day after which a deferral offers, day by whose end a force is due, or answer day
 *     of a pilot; a deferral until today lets the update go now
 * @param overrides verdicts that it knowingly overrides
 * @param overriddenExceptions exceptions that it knowingly overrides
 * @param overriddenFreezes freezes that a force knowingly overrides
 * @param pilot of a pilot: who tries it, and what that must show; none: what is usual
 */
record VerdictDraft(
        UpdateId update,
        String revision,
        VerdictType type,
        List<PopulationId> populations,
        Optional<String> where,
        Optional<LocalDate> until,
        List<ReasonWord> reasons,
        String words,
        List<DecisionNumber.OfVerdict> overrides,
        List<DecisionNumber.OfException> overriddenExceptions,
        List<DecisionNumber.OfFreeze> overriddenFreezes,
        Optional<PilotDraft> pilot) {

    private static final int MOST = 500;
    private static final int LONGEST_WORDS = 4_000;

    private static void requireFew(String field, List<?> list) {
        if (list != null && list.size() > MOST) {
            throw new IllegalArgumentException(field + ": at most " + MOST + " of them");
        }
    }

    VerdictDraft {
        requireFew("populations", populations);
        requireFew("reasons", reasons);
        requireFew("overrides", overrides);
        requireFew("overriddenExceptions", overriddenExceptions);
        requireFew("overriddenFreezes", overriddenFreezes);
        if (words != null && words.length() > LONGEST_WORDS) {
            throw new IllegalArgumentException("words: at most " + LONGEST_WORDS + " characters");
        }
        populations = populations == null ? List.of() : List.copyOf(populations);
        where = where == null ? Optional.empty() : where.filter(text -> !text.isBlank());
        until = until == null ? Optional.empty() : until;
        reasons = reasons == null ? List.of() : List.copyOf(reasons);
        words = words == null ? "" : words.strip();
        overrides = overrides == null ? List.of() : List.copyOf(overrides);
        pilot = pilot == null ? Optional.empty() : pilot;
        overriddenFreezes = overriddenFreezes == null ? List.of() : List.copyOf(overriddenFreezes);
        overriddenExceptions = overriddenExceptions == null ? List.of() : List.copyOf(overriddenExceptions);
    }
}
