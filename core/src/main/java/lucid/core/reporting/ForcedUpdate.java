package lucid.core.reporting;

import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import lucid.core.carriage.Carriage;
import lucid.core.carriage.CarriageState;
import lucid.core.carriage.Carriages;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Update;
import org.roaringbitmap.RoaringBitmap;

/**
 * What became of a force, on the hosts that lacked the update when it was handed down. The sets share no host and make
 * up all of them.
 *
 * @param have hosts that have it now; whether it was the force that brought it, nobody can tell
 * @param failed hosts whose last outcome of it is a failure
 * @param overdue hosts that lack it past their due
 * @param waiting hosts that lack it and are not due yet, or for which the force no longer stands
 * @param gone hosts that it is no longer for, or that are retired
 */
public record ForcedUpdate(
        Verdict verdict,
        Update update,
        RoaringBitmap have,
        RoaringBitmap failed,
        RoaringBitmap overdue,
        RoaringBitmap waiting,
        RoaringBitmap gone) {

    /** Forces handed down since then, the newest first; of those whose hosts were not kept none is told. */
    public static List<ForcedUpdate> since(Instant from, Carriages carriages, Decisions decisions, Instant now) {
        return decisions.verdicts().stream()
                .filter(verdict -> verdict.type() == VerdictType.FORCE
                        && !verdict.createdAt().isBefore(from)
                        && !verdict.then().decided().isEmpty())
                .flatMap(
                        verdict -> carriages
                                .catalogue()
                                .update(verdict.updateId())
                                .map(update -> of(verdict, update, carriages, now))
                                .stream())
                .sorted(Comparator.comparing((ForcedUpdate one) -> one.verdict.createdAt())
                        .reversed()
                        .thenComparing(one -> one.verdict.number()))
                .toList();
    }

    private static ForcedUpdate of(Verdict verdict, Update update, Carriages carriages, Instant now) {
        RoaringBitmap then = verdict.then().decided();
        Carriage carriage = carriages.of(update, now);
        RoaringBitmap left = then.clone();
        RoaringBitmap have = take(left, carriage.having());
        RoaringBitmap lacking = take(left, carriage.lacking());
        RoaringBitmap failed = take(lacking, carriage.in(CarriageState.FAILED));
        RoaringBitmap late = new RoaringBitmap();
        if (verdict.standsAt(now)) {
            lacking.forEach((int host) -> {
                if (!verdict.endFor(host).isAfter(now)) {
                    late.add(host);
                }
            });
        }
        RoaringBitmap overdue = take(lacking, late);
        return new ForcedUpdate(verdict, update, have, failed, overdue, lacking, left);
    }

    private static RoaringBitmap take(RoaringBitmap from, RoaringBitmap some) {
        RoaringBitmap taken = RoaringBitmap.and(from, some);
        from.andNot(taken);
        return taken;
    }

    public int hosts() {
        return verdict.then().decided().getCardinality();
    }

    /** When it was taken back, if it was. */
    public Optional<Instant> takenBack() {
        return verdict.revokedAt();
    }
}
