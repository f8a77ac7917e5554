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
     * Hosts from which the rule withholds the update now beyond an instant, or for ever: an offer that begins then is
     * brought forward for them.
     */
    public List<RulingGroup> offeredBeforeTheRule(Instant begin) {
        return before.stream()
                .filter(group -> group.match().isRule() && group.match().effect() == Effect.WITHHELD)
                .filter(group ->
                        group.match().end().filter(end -> !end.isAfter(begin)).isEmpty())
                .toList();
    }
}
