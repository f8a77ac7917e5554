package lucid.server.views;

import java.util.List;
import lucid.core.fleet.Fleet;
import lucid.core.ruling.Consequence;
import lucid.core.ruling.Decisions;
import lucid.server.views.Views.HostList;
import lucid.server.views.Views.RulingGroupView;

/**
 * A consequence with host names.
 *
 * @param named hosts that the sentence names
 * @param decided hosts for which it would be what holds
 * @param before what holds for those now
 * @param claimed hosts that lack the update and for which something else would still hold
 * @param unknown of the decided hosts, those whose last report is too old to tell
 * @param otherSupply of the decided hosts, those that take updates from elsewhere than their population should
 */
public record ConsequenceView(
        int named,
        HostList carrying,
        int notApplicable,
        HostList decided,
        List<RulingGroupView> before,
        List<RulingGroupView> claimed,
        HostList unknown,
        HostList otherSupply) {

    public static ConsequenceView of(Consequence c, Fleet fleet, Decisions decisions) {
        return new ConsequenceView(
                c.named().getCardinality(),
                HostList.of(fleet, c.carrying()),
                c.notApplicable().getCardinality(),
                HostList.of(fleet, c.decided()),
                c.before().stream()
                        .map(h -> RulingGroupView.of(h, fleet, decisions))
                        .toList(),
                c.claimed().stream()
                        .map(h -> RulingGroupView.of(h, fleet, decisions))
                        .toList(),
                HostList.of(fleet, c.unknown()),
                HostList.of(fleet, c.otherSupply()));
    }
}
