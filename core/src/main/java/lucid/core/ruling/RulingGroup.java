package lucid.core.ruling;

import org.roaringbitmap.RoaringBitmap;

/** Hosts for which the same match holds. */
public record RulingGroup(RuleMatch match, RoaringBitmap hosts) {}
