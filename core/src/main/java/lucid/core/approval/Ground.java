package lucid.core.approval;

import java.util.Comparator;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Population;
import lucid.core.pilot.Pilot;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import org.roaringbitmap.RoaringBitmap;

/**
 * Why a decision needs an approver before it is in force.
 *
 * @param tier of the hosts for which it does; empty where it does whatever they cost
 */
public record Ground(Type type, Optional<Integer> tier) implements Comparable<Ground> {

    public enum Type {
        /** At once, or as what is prepared for when a pilot has answered. */
        FORCES,
        /** Hosts would install or restart in their busy hours. */
        DISTURBS,
        /** Hosts would depart from the verdicts. */
        EXCEPTS,
        OVERRIDES_EXCEPTION
    }

    private static final String OF_TIER = "_TIER_";

    private static Ground of(Type type, int tier) {
        return new Ground(type, Optional.of(tier));
    }

    /**
     * @param decided hosts for which the verdict would be what is in force
     * @param inBusyHours those that would install or restart in busy hours
     */
    public static Set<Ground> of(
            Verdict verdict,
            Population population,
            RoaringBitmap decided,
            RoaringBitmap inBusyHours,
            Decisions decisions,
            ApprovalRules rules) {
        Set<Ground> grounds = new TreeSet<>();
        int tier = population.tier();
        boolean forces = verdict.type() == VerdictType.FORCE
                || verdict.pilot()
                        .flatMap(pilot -> pilot.terms().then())
                        .flatMap(Pilot.Then::forcedWithin)
                        .isPresent();
        if (rules.forces().contains(tier) && forces && !decided.isEmpty()) {
            grounds.add(of(Type.FORCES, tier));
        }
        if (rules.disturbs().contains(tier) && !inBusyHours.isEmpty()) {
            grounds.add(of(Type.DISTURBS, tier));
        }
        boolean ofOthers = verdict.overriddenExceptions().stream()
                .map(decisions::exception)
                .flatMap(Optional::stream)
                .anyMatch(exception -> exception.standsAt(verdict.createdAt())
                        && !exception.owner().equals(verdict.author()));
        if (ofOthers) {
            grounds.add(new Ground(Type.OVERRIDES_EXCEPTION, Optional.empty()));
        }
        return grounds;
    }

    /** Of an exception: one for each tier that asks, of whose hosts its condition names some. */
    public static Set<Ground> of(ExceptionGrant exception, Fleet fleet, ApprovalRules rules) {
        RoaringBitmap named = fleet.matching(exception.hosts(), fleet.all());
        Set<Ground> grounds = new TreeSet<>();
        fleet.ladder().entries().stream()
                .filter(entry -> rules.excepts().contains(entry.tier())
                        && RoaringBitmap.intersects(named, fleet.members(entry.id())))
                .forEach(entry -> grounds.add(of(Type.EXCEPTS, entry.tier())));
        return grounds;
    }

    @Override
    public int compareTo(Ground other) {
        return Comparator.comparing(Ground::type)
                .thenComparing(ground -> ground.tier().orElse(0))
                .compare(this, other);
    }

    /** As {@link #parse} reads it: {@code FORCES_TIER_1}, or the type alone. */
    @Override
    public String toString() {
        return type + tier.map(number -> OF_TIER + number).orElse("");
    }

    /** @throws IllegalArgumentException if it is none */
    public static Ground parse(String text) {
        int at = text.indexOf(OF_TIER);
        return at < 0
                ? new Ground(Type.valueOf(text), Optional.empty())
                : of(Type.valueOf(text.substring(0, at)), Integer.parseInt(text.substring(at + OF_TIER.length())));
    }
}
