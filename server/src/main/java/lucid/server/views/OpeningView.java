package lucid.server.views;

import lucid.core.fleet.Fleet;
import lucid.core.ruling.Opening;
import lucid.core.update.UpdateId;
import lucid.server.views.Views.HostList;

/**
 * An update that would go to other hosts than now if something was taken back.
 *
 * @param offered hosts that would newly be offered the update
 * @param forced hosts that would newly be due to carry it
 * @param withheld hosts from which it would newly be withheld
 */
public record OpeningView(UpdateId update, String title, HostList offered, HostList forced, HostList withheld) {

    public static OpeningView of(Opening opening, Fleet fleet) {
        return new OpeningView(
                opening.update().id(),
                opening.update().title(),
                HostList.of(fleet, opening.offered()),
                HostList.of(fleet, opening.forced()),
                HostList.of(fleet, opening.withheld()));
    }
}
