package lucid.core.causes;

/** Sets of few thousand tried hosts as plain words: pairs of conditions are intersected millions of times. */
final class Bits {

    private Bits() {}

    static long[] none(int size) {
        return new long[(size + 63) >>> 6];
    }

    static void set(long[] bits, int index) {
        bits[index >>> 6] |= 1L << index;
    }

    static boolean has(long[] bits, int index) {
        return (bits[index >>> 6] & 1L << index) != 0;
    }

    static int count(long[] bits) {
        int count = 0;
        for (long word : bits) {
            count += Long.bitCount(word);
        }
        return count;
    }

    static int countBoth(long[] a, long[] b) {
        int count = 0;
        for (int i = 0; i < a.length; i++) {
            count += Long.bitCount(a[i] & b[i]);
        }
        return count;
    }

    static long[] both(long[] a, long[] b) {
        long[] both = a.clone();
        for (int i = 0; i < both.length; i++) {
            both[i] &= b[i];
        }
        return both;
    }

    /** The members of {@code bits} at these places, packed together. */
    static long[] at(int[] places, long[] bits) {
        long[] packed = none(places.length);
        for (int i = 0; i < places.length; i++) {
            if (has(bits, places[i])) {
                set(packed, i);
            }
        }
        return packed;
    }
}
