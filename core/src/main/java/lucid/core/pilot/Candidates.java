package lucid.core.pilot;

import java.util.EnumMap;
import java.util.Map;
import java.util.function.Predicate;
import lucid.core.evidence.TriedHosts;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.Population;
import org.roaringbitmap.RoaringBitmap;

/**
 * The hosts that a pilot stands for, and those of them that can be drawn into its sample.
 *
 * @param lacking hosts that lack the update and that the pilot is for
 * @param eligible those of them that can be drawn
 * @param leftOut the others by why they are not; the first reason that applies
 */
public record Candidates(RoaringBitmap lacking, RoaringBitmap eligible, Map<LeftOut, RoaringBitmap> leftOut) {

    /** Why a host is not drawn. */
    public enum LeftOut {
        /** It tried the update before: what it would tell is known. */
        TRIED,
        /** Its population protects it. */
        PROTECTED,
        /** Something else is decided there, so that the pilot would not offer it. */
        DECIDED_OTHERWISE,
        /** Nothing was heard of it for longer than it is usually silent: it would not answer. */
        SILENT,
        /** It is among the costliest to lose, and nobody asked for such hosts. */
        TIER_1,
        /** Whoever worded the pilot left it out. */
        BY_HAND
    }

    /** Without hosts that somebody leaves out. */
    public Candidates without(RoaringBitmap hosts) {
        Map<LeftOut, RoaringBitmap> more = new EnumMap<>(LeftOut.class);
        more.putAll(leftOut);
        RoaringBitmap byHand = RoaringBitmap.and(eligible, hosts);
        if (!byHand.isEmpty()) {
            more.put(LeftOut.BY_HAND, byHand);
        }
        return new Candidates(lacking, RoaringBitmap.andNot(eligible, hosts), more);
    }

    /**
     * @param lacking hosts that lack the update and that the pilot is for
     * @param decidedOtherwise hosts for which another decision would hold
     * @param silent hosts whose last report is too old
     * @param alsoTier1 whether hosts of tier 1 are asked for
     */
    public static Candidates of(
            RoaringBitmap lacking,
            TriedHosts tried,
            RoaringBitmap decidedOtherwise,
            RoaringBitmap silent,
            boolean alsoTier1,
            Fleet fleet) {
        RoaringBitmap before = new RoaringBitmap();
        tried.tries().forEach(one -> before.add(one.host()));
        tried.waiting().forEach(before::add);
        tried.dismissed().forEach(before::add);
        Map<LeftOut, Predicate<Host>> reasons = new EnumMap<>(LeftOut.class);
        reasons.put(LeftOut.TRIED, host -> before.contains(host.number()));
        reasons.put(
                LeftOut.PROTECTED,
                host -> population(host, fleet).protectedHosts().contains(host.name()));
        reasons.put(LeftOut.DECIDED_OTHERWISE, host -> decidedOtherwise.contains(host.number()));
        reasons.put(LeftOut.SILENT, host -> silent.contains(host.number()));
        reasons.put(
                LeftOut.TIER_1, host -> !alsoTier1 && population(host, fleet).tier() == 1);
        RoaringBitmap eligible = new RoaringBitmap();
        Map<LeftOut, RoaringBitmap> leftOut = new EnumMap<>(LeftOut.class);
        fleet.hosts(lacking).forEach(host -> reasons.entrySet().stream()
                .filter(reason -> reason.getValue().test(host))
                .findFirst()
                .ifPresentOrElse(
                        reason -> leftOut.computeIfAbsent(reason.getKey(), key -> new RoaringBitmap())
                                .add(host.number()),
                        () -> eligible.add(host.number())));
        return new Candidates(lacking, eligible, leftOut);
    }

    private static Population population(Host host, Fleet fleet) {
        return fleet.ladder().entryOf(host);
    }
}
