package lucid.server.orders;

import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import lucid.core.order.HeardBy;
import lucid.core.order.HeardBy.Hearing;
import lucid.core.order.WhyOverdue;
import lucid.core.ruling.Verdict;
import lucid.server.snapshot.Snapshot;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.stereotype.Component;

/** What hosts have heard of what was decided, and why those that are past due are so. */
@Component
public class OrdersHeard {

    /** Of more hosts it is not computed anew which orders are current. */
    private static final int MOST_COMPUTED = 1_000;

    /**
     * A decision counts from its instant, which is a little before its commit: a host that asked in between has not
     * heard it. Only who keeps what is current now has surely heard everything.
     */
    private static final Duration BEFORE_COMMIT = Duration.ofMinutes(1);

    private final Receipts receipts;
    private final OrderDesk desk;

    OrdersHeard(Receipts receipts, OrderDesk desk) {
        this.receipts = receipts;
        this.desk = desk;
    }

    /** Of each of these hosts, whether it has heard what was decided then. */
    Map<Hearing, RoaringBitmap> heard(RoaringBitmap hosts, Instant since, Snapshot snapshot, Instant now) {
        boolean compute = hosts.getCardinality() <= MOST_COMPUTED;
        return HeardBy.of(
                hosts,
                since,
                host -> receipts.of(host)
                        .map(heard -> word(
                                heard, desk.isCurrent(snapshot.fleet().host(host), heard.keptTag(), compute), now)),
                snapshot.fleet().unknownAt(now));
    }

    /** Why hosts of a force are past due; those that are not are left out. */
    public WhyOverdue whyOverdue(Verdict force, RoaringBitmap hosts, Snapshot snapshot, Instant now) {
        return whyOverdue(force, hosts, heard(hosts, force.createdAt(), snapshot, now), snapshot, now);
    }

    /** The same, where it is known what they have heard. */
    WhyOverdue whyOverdue(
            Verdict force, RoaringBitmap hosts, Map<Hearing, RoaringBitmap> heard, Snapshot snapshot, Instant now) {
        RoaringBitmap installsNothing = receipts.matching(
                of -> of.receipt().filter(receipt -> !receipt.installs()).isPresent());
        return WhyOverdue.of(
                force,
                snapshot.update(force.updateId()),
                hosts,
                new WhyOverdue.Said(heard, installsNothing),
                snapshot.carriages(),
                now);
    }

    /** What a host said of earlier orders says nothing of those that it keeps now. */
    private static HeardBy.Word word(Receipts.Heard heard, boolean isCurrent, Instant now) {
        return new HeardBy.Word(
                isCurrent ? now : heard.currentAt().minus(BEFORE_COMMIT),
                heard.receipt()
                        .filter(receipt ->
                                receipt.tag().equals(heard.keptTag()) || receipt.state() == HeardBy.Became.REFUSED)
                        .map(Receipt::state));
    }
}
