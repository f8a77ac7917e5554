package lucid.core.fleet;

import java.util.Collection;
import java.util.Collections;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.UnaryOperator;
import lucid.core.update.UpdateId;
import org.roaringbitmap.RoaringBitmap;

/**
 * What hosts told of every update: the last outcome on each host that tells whether it is there (installed, failed or
 * removed), and every failure. Never changes; {@link #with} makes the next one and copies only the updates that are
 * touched.
 */
public final class Outcomes {

    public static final Outcomes NONE = new Outcomes(Map.of());

    /**
     * @param failures of each host that has one, the earliest first
     * @param downloads the last download of each host that told of one
     */
    private record OfUpdate(
            Map<Integer, Outcome> last, Map<Integer, List<Outcome>> failures, Map<Integer, Outcome> downloads) {
        private static final OfUpdate NOTHING = new OfUpdate(Map.of(), Map.of(), Map.of());

        OfUpdate only(RoaringBitmap hosts) {
            return new OfUpdate(only(last, hosts), only(failures, hosts), only(downloads, hosts));
        }

        private static <T> Map<Integer, T> only(Map<Integer, T> all, RoaringBitmap hosts) {
            Map<Integer, T> some = new HashMap<>(all);
            some.keySet().removeIf(host -> !hosts.contains(host));
            return some;
        }

        OfUpdate only(int host) {
            boolean tells = last.containsKey(host) || failures.containsKey(host) || downloads.containsKey(host);
            return tells ? new OfUpdate(one(last, host), one(failures, host), one(downloads, host)) : NOTHING;
        }

        private static <T> Map<Integer, T> one(Map<Integer, T> all, int host) {
            T told = all.get(host);
            return told == null ? Map.of() : Map.of(host, told);
        }

        boolean isEmpty() {
            return last.isEmpty() && failures.isEmpty() && downloads.isEmpty();
        }
    }

    private final Map<UpdateId, OfUpdate> byUpdate;

    private Outcomes(Map<UpdateId, OfUpdate> byUpdate) {
        this.byUpdate = byUpdate;
    }

    public Outcomes with(Collection<Outcome> happened) {
        Map<UpdateId, OfUpdate> next = new HashMap<>(byUpdate);
        Set<UpdateId> copied = new TreeSet<>();
        for (Outcome outcome : happened) {
            if (outcome.what().tellsState() || outcome.what() == Outcome.What.DOWNLOADED) {
                if (copied.add(outcome.updateId())) {
                    OfUpdate before = next.getOrDefault(outcome.updateId(), OfUpdate.NOTHING);
                    next.put(
                            outcome.updateId(),
                            new OfUpdate(
                                    new HashMap<>(before.last()),
                                    new HashMap<>(before.failures()),
                                    new HashMap<>(before.downloads())));
                }
                enter(outcome, next.get(outcome.updateId()));
            }
        }
        return new Outcomes(next);
    }

    private static void enter(Outcome outcome, OfUpdate of) {
        if (outcome.what() == Outcome.What.DOWNLOADED) {
            of.downloads()
                    .merge(outcome.host(), outcome, (known, other) -> other.at().isBefore(known.at()) ? known : other);
            return;
        }
        of.last()
                .merge(
                        outcome.host(),
                        outcome,
                        (known, other) -> other.at().isBefore(known.at())
                                        || other.at().equals(known.at()) && other.what() == known.what()
                                ? known
                                : other);
        if (outcome.what() == Outcome.What.FAILED) {
            of.failures().merge(outcome.host(), List.of(outcome), (known, other) -> {
                Set<Outcome> all = new TreeSet<>(Comparator.comparing(Outcome::at));
                all.addAll(known);
                all.addAll(other);
                return List.copyOf(all);
            });
        }
    }

    /** Those of one host: each host that asks for its orders is asked about, so nothing of others is looked at. */
    public Outcomes only(int host) {
        return only((OfUpdate of) -> of.only(host));
    }

    /** Those of these hosts. */
    public Outcomes only(RoaringBitmap hosts) {
        return only((OfUpdate of) -> of.only(hosts));
    }

    private Outcomes only(UnaryOperator<OfUpdate> part) {
        Map<UpdateId, OfUpdate> some = new HashMap<>();
        byUpdate.forEach((update, of) -> {
            OfUpdate left = part.apply(of);
            if (!left.isEmpty()) {
                some.put(update, left);
            }
        });
        return new Outcomes(some);
    }

    /** Hosts that have downloaded the update and told of nothing that became of it since. */
    public RoaringBitmap staged(UpdateId updateId) {
        OfUpdate of = of(updateId);
        RoaringBitmap staged = new RoaringBitmap();
        of.downloads().forEach((host, download) -> {
            Outcome last = of.last().get(host);
            if (last == null || last.at().isBefore(download.at())) {
                staged.add(host);
            }
        });
        return staged;
    }

    /** By host number. */
    public Map<Integer, Outcome> last(UpdateId updateId) {
        return Collections.unmodifiableMap(of(updateId).last());
    }

    /** Every failure by host number, the earliest first. */
    public Map<Integer, List<Outcome>> failures(UpdateId updateId) {
        return Collections.unmodifiableMap(of(updateId).failures());
    }

    /** Updates of which these tell something else than {@code earlier} does. */
    public Set<UpdateId> changedSince(Outcomes earlier) {
        Set<UpdateId> changed = new TreeSet<>();
        if (byUpdate != earlier.byUpdate) {
            byUpdate.forEach((id, of) -> {
                if (earlier.byUpdate.get(id) != of) {
                    changed.add(id);
                }
            });
        }
        return changed;
    }

    private OfUpdate of(UpdateId updateId) {
        return byUpdate.getOrDefault(updateId, OfUpdate.NOTHING);
    }
}
