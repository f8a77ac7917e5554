package lucid.core.order;

import java.time.Instant;
import java.util.EnumMap;
import java.util.Map;
import java.util.Optional;
import java.util.function.IntFunction;
import org.roaringbitmap.RoaringBitmap;

/**
 * <b>Heard by.</b> What is known of a decision on its hosts: who does as ordered, who has only not asked yet, and whom
 * it does not reach, apart. That a host was told is not taken for its having heard: it has, once it says so or asks
 * with what it was told in hand.
 */
public final class HeardBy {

    private HeardBy() {}

    /** How far a decision has come on one host, from the best to the worst. */
    public enum Hearing {
        /** The host has put it in force, and has looked. */
        IN_FORCE,
        /** It keeps it, and has not said what became of it. */
        HEARD,
        /** It keeps it, but its package system does something else. */
        NOT_OBEYED,
        /** It has asked before, and not since. */
        NOT_YET,
        /** It refuses newer orders, such as those whose signature is bad. */
        REFUSES,
        /** It has been silent too long. */
        SILENT,
        /** It has never asked for orders: nothing is known of what holds there. */
        NEVER_ASKED
    }

    /** What a host said became of its orders. */
    public enum Became {
        IN_FORCE,
        NOT_IN_FORCE,
        REFUSED
    }

    /**
     * The last word of a host.
     *
     * @param currentAt the last instant at which it is known to have kept what held for it
     * @param became what it last said, if it said anything
     */
    public record Word(Instant currentAt, Optional<Became> became) {}

    /**
     * Divides hosts by how far a decision has come.
     *
     * @param since when it was made
     * @param words by number of the host; none where it never asked
     * @param silent hosts that have been silent too long
     * @return without what is empty
     */
    public static Map<Hearing, RoaringBitmap> of(
            RoaringBitmap hosts, Instant since, IntFunction<Optional<Word>> words, RoaringBitmap silent) {
        Map<Hearing, RoaringBitmap> divided = new EnumMap<>(Hearing.class);
        hosts.forEach((int host) -> divided.computeIfAbsent(
                        of(words.apply(host), since, silent.contains(host)), any -> new RoaringBitmap())
                .add(host));
        return divided;
    }

    private static Hearing of(Optional<Word> word, Instant since, boolean silent) {
        if (word.isEmpty()) {
            return silent ? Hearing.SILENT : Hearing.NEVER_ASKED;
        }
        if (word.get().currentAt().isBefore(since)) {
            return silent
                    ? Hearing.SILENT
                    : word.get().became().filter(Became.REFUSED::equals).isPresent()
                            ? Hearing.REFUSES
                            : Hearing.NOT_YET;
        }
        return word.get()
                .became()
                .map(became -> became == Became.IN_FORCE
                        ? Hearing.IN_FORCE
                        : became == Became.NOT_IN_FORCE ? Hearing.NOT_OBEYED : Hearing.HEARD)
                .orElse(Hearing.HEARD);
    }
}
