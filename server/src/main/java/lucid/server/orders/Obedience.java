package lucid.server.orders;

import lucid.core.order.HeardBy;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.stereotype.Component;

/** Whether hosts do as ordered, as they say themselves. */
@Component
public class Obedience {

    private final Receipts receipts;

    Obedience(Receipts receipts) {
        this.receipts = receipts;
    }

    /**
     * Numbers of the hosts that last said their package system does something else, or that they refuse newer orders.
     */
    public RoaringBitmap notObeying() {
        return receipts.matching(heard -> heard.receipt()
                .filter(said -> said.state() != HeardBy.Became.IN_FORCE)
                .isPresent());
    }
}
