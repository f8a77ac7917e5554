package lucid.server.verdicts;

import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.core.fleet.PopulationId;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.ReasonWord;
import lucid.core.ruling.VerdictType;
import lucid.core.update.UpdateId;
import lucid.server.pilots.PilotDraft;

/**
 * A sentence as it is worded: what is decided on one update, for one reason. Its first answer stands in it, others for
 * other populations beside it; all of them are handed down together or none.
 *
 * @param revision the revision of the update on which it is decided
 * @param replaces verdicts on the update that are taken back as this is handed down: it is put in their place
 * @param also further answers
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
        Optional<PilotDraft> pilot,
        Optional<Integer> allowanceDays,
        Optional<Boolean> outsideWindows,
        Optional<SpreadDraft> spread,
        Optional<OperatorDraft> byOperator,
        Optional<Boolean> removes,
        List<DecisionNumber.OfVerdict> replaces,
        List<AnswerDraft> also) {

    private static final int LONGEST_WORDS = 4_000;
    private static final int MOST_ANSWERS = 20;

    VerdictDraft {
        if (words != null && words.length() > LONGEST_WORDS) {
            throw new IllegalArgumentException("words: at most " + LONGEST_WORDS + " characters");
        }
        populations = AnswerDraft.few("populations", populations);
        overrides = AnswerDraft.few("overrides", overrides);
        overriddenExceptions = AnswerDraft.few("overriddenExceptions", overriddenExceptions);
        overriddenFreezes = AnswerDraft.few("overriddenFreezes", overriddenFreezes);
        reasons = AnswerDraft.few("reasons", reasons);
        replaces = AnswerDraft.few("replaces", replaces).stream().distinct().toList();
        if (also != null && also.size() >= MOST_ANSWERS) {
            throw new IllegalArgumentException("also: at most " + MOST_ANSWERS + " answers in one sentence");
        }
        also = AnswerDraft.few("also", also);
        words = words == null ? "" : words.strip();
    }

    /** The first one in front. */
    List<AnswerDraft> answers() {
        AnswerDraft first = new AnswerDraft(
                type,
                populations,
                where,
                until,
                overrides,
                overriddenExceptions,
                overriddenFreezes,
                pilot,
                allowanceDays,
                outsideWindows,
                spread,
                byOperator,
                removes);
        return Stream.concat(Stream.of(first), also.stream()).toList();
    }
}
