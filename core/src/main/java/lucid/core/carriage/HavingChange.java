package lucid.core.carriage;

import java.util.Collection;
import org.roaringbitmap.RoaringBitmap;

/**
 * Which hosts have come to have something and which have it no more, from one moment to a later one. A host is in at
 * most one of both.
 */
public record HavingChange(RoaringBitmap gained, RoaringBitmap lost) {

    public static HavingChange of(RoaringBitmap before, RoaringBitmap after) {
        return new HavingChange(RoaringBitmap.andNot(after, before), RoaringBitmap.andNot(before, after));
    }

    /** Several that follow each other as one: whoever got it and lost it again has not changed. */
    public static HavingChange of(Collection<HavingChange> inOrder) {
        RoaringBitmap gained = new RoaringBitmap();
        RoaringBitmap lost = new RoaringBitmap();
        for (HavingChange next : inOrder) {
            RoaringBitmap gainedBefore = gained.clone();
            gained.andNot(next.lost);
            gained.or(RoaringBitmap.andNot(next.gained, lost));
            lost.andNot(next.gained);
            lost.or(RoaringBitmap.andNot(next.lost, gainedBefore));
        }
        return new HavingChange(gained, lost);
    }

    /** What comes after it, from what was before it. */
    public RoaringBitmap after(RoaringBitmap before) {
        RoaringBitmap after = RoaringBitmap.or(before, gained);
        after.andNot(lost);
        return after;
    }

    public boolean isEmpty() {
        return gained.isEmpty() && lost.isEmpty();
    }
}
