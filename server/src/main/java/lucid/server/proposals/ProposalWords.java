package lucid.server.proposals;

import java.util.Set;
import java.util.stream.Collectors;
import lucid.core.approval.Ground;
import lucid.server.web.ProblemException;

/** Why something needs an approver, as one says it. */
public final class ProposalWords {

    private ProposalWords() {}

    public static String of(Set<Ground> grounds) {
        return grounds.stream().sorted().map(ProposalWords::of).collect(Collectors.joining(" and "));
    }

    private static String of(Ground ground) {
        String hosts = ground.tier().map(tier -> "hosts of tier " + tier).orElse("");
        return switch (ground.type()) {
            case FORCES -> "forces " + hosts;
            case DISTURBS -> "disturbs " + hosts + " in their busy hours";
            case EXCEPTS -> "excepts " + hosts;
            case OVERRIDES_EXCEPTION -> "overrides an exception of somebody else";
        };
    }

    /** @throws ProblemException 422 if there are grounds */
    public static void requireNone(Set<Ground> grounds) {
        if (!grounds.isEmpty()) {
            throw ProblemException.badField(
                    "approval", "this needs an approver, because it " + of(grounds) + "; propose it instead");
        }
    }
}
