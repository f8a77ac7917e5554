package lucid.core.docket;

import java.util.List;
import lucid.core.carriage.Carriage;
import lucid.core.causes.Cause;
import lucid.core.evidence.KnownIssue;
import lucid.core.evidence.TriedHosts;
import lucid.core.weighing.WeighingInput;

/**
 * What goes into the weighing of an update, beside the weights.
 *
 * @param issues known issues that it is told to have, and open ones of a blocked update that it supersedes and is not
 *     told to fix
 */
public record CaseFacts(
        Carriage carriage, TriedHosts tried, List<Cause> causes, List<KnownIssue> issues, WeighingInput input) {}
