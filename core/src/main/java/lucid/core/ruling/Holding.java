package lucid.core.ruling;

import org.roaringbitmap.RoaringBitmap;

/** Hosts for which the same finding holds. */
public record Holding(Finding finding, RoaringBitmap hosts) {}
