package lucid.server.verdicts;

import java.util.List;
import lucid.core.fleet.HostName;

/**
 * What whoever runs the hosts is told.
 *
 * @param checklist steps, in their order
 * @param order in which the hosts are to follow, as far as it matters
 */
record OperatorDraft(List<String> checklist, List<HostName> order) {

    static final int LONGEST_STEP = 500;

    OperatorDraft {
        checklist = AnswerDraft.few("byOperator.checklist", checklist).stream()
                .map(String::strip)
                .filter(step -> !step.isEmpty())
                .toList();
        if (checklist.stream().anyMatch(step -> step.length() > LONGEST_STEP)) {
            throw new IllegalArgumentException(
                    "byOperator.checklist: at most " + LONGEST_STEP + " characters for each step");
        }
        order = AnswerDraft.few("byOperator.order", order);
    }
}
