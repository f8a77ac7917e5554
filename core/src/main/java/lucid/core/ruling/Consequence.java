package lucid.core.ruling;

import java.time.Instant;
import java.util.List;
import org.roaringbitmap.RoaringBitmap;

/**
 * What a verdict or exception that is still being worded would do.
 *
 * @param named every host that it names
 * @param carrying hosts of those that carry the update already or told so, by their last known state
 * @param notApplicable hosts of those to which the update does not apply
 * @param decided hosts for which it would be what holds
 * @param before what holds now for the decided ones
 * @param claimed hosts that lack the update and for which something else would still hold, with what does
 * @param unknown hosts of the decided ones whose last report is too old to tell
 * @param otherSupply hosts of the decided ones that take updates from elsewhere than their population should, which
 *     what is decided here may not reach
 */
public record Consequence(
        RoaringBitmap named,
        RoaringBitmap carrying,
        RoaringBitmap notApplicable,
        RoaringBitmap decided,
        List<RulingGroup> before,
        List<RulingGroup> claimed,
        RoaringBitmap unknown,
        RoaringBitmap otherSupply) {

    /** Whom it is for if it is handed down now. */
    public Verdict.Moment moment() {
        return new Verdict.Moment(named, decided);
    }

    /**
     * Hosts from which the rule withholds the update now beyond the end of a deferral, or for ever: it brings the offer
     * forward for them.
     */
    public List<RulingGroup> offeredBeforeTheRule(Verdict deferral) {
        return before.stream()
                .filter(group -> group.match().isRule() && group.match().effect() == Effect.WITHHELD)
                .map(group -> new RulingGroup(group.match(), endingBefore(deferral, group)))
                .filter(group -> !group.hosts().isEmpty())
                .toList();
    }

    private static RoaringBitmap endingBefore(Verdict deferral, RulingGroup group) {
        RoaringBitmap hosts = new RoaringBitmap();
        Instant byRule = group.match().end().orElse(Instant.MAX);
        group.hosts().forEach((int host) -> {
            if (deferral.endFor(host).isBefore(byRule)) {
                hosts.add(host);
            }
        });
        return hosts;
    }
}
