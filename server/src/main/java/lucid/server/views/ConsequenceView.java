package lucid.server.views;

import java.util.List;
import lucid.core.fleet.Fleet;
import lucid.core.ruling.Consequence;
import lucid.core.ruling.Decisions;
import lucid.server.views.Views.HoldingView;
import lucid.server.views.Views.HostList;

/**
 * A consequence with host names.
 *
 * @param named hosts that the sentence names
 * @param decided hosts for which it would be what holds
 * @param before what holds for those now
 * @param claimed hosts that lack the update and for which something else would still hold
 * @param unknown of the decided hosts, those whose last report is too old to tell
 */
public record ConsequenceView(int named, HostList carrying, int notApplicable, HostList decided, List<HoldingView> before, List<HoldingView> claimed, HostList unknown) {

    public static ConsequenceView of(Consequence c, Fleet fleet, Decisions decisions) {
        return new ConsequenceView(c.named().getCardinality(), HostList.of(fleet, c.carrying()), c.notApplicable().getCardinality(), HostList.of(fleet, c.decided()),
                c.before().stream().map(h -> HoldingView.of(h, fleet, decisions)).toList(),
                c.claimed().stream().map(h -> HoldingView.of(h, fleet, decisions)).toList(), HostList.of(fleet, c.unknown()));
    }
}
