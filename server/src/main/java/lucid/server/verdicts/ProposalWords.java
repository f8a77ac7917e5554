package lucid.server.verdicts;

import java.util.Set;
import java.util.stream.Collectors;
import lucid.core.approval.Ground;

/** Why something needs an approver, as one says it. */
final class ProposalWords {

    private ProposalWords() {}

    static String of(Set<Ground> grounds) {
        return grounds.stream().sorted().map(ProposalWords::of).collect(Collectors.joining(" and "));
    }

    private static String of(Ground ground) {
        return switch (ground) {
            case FORCES_TIER_1 -> "forces hosts of tier 1";
            case DISTURBS_TIER_1 -> "disturbs hosts of tier 1 in their busy hours";
            case OVERRIDES_EXCEPTION -> "overrides an exception of somebody else";
        };
    }
}
