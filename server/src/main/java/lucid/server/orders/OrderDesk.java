package lucid.server.orders;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.core.fleet.Host;
import lucid.core.order.ConcernedHosts;
import lucid.core.order.HostOrders;
import lucid.server.operators.Operators;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.Digests;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.stereotype.Component;
import tools.jackson.databind.json.JsonMapper;

/**
 * The orders of every host as they are now. A host is asked about again only after a change that concerns it, when
 * something ends by itself, or when its orders are about to expire: what has not changed is answered from memory.
 *
 * <p>Orders that say the same have the same tag, whenever they were made, also before a restart of the server.
 */
@Component
class OrderDesk {

    /** Orders are made anew so often even if nothing changes, so that none expires on a host that asks. */
    private static final Duration PERIOD = Duration.ofDays(3);

    private static final Duration LIFETIME = Duration.ofDays(7);

    private static final int TAG_DIGITS = 32;
    private static final String TYPE = "orders-1+json";

    private final SnapshotStore store;
    private final SigningKey key;
    private final Asks asks;
    private final Operators operators;
    private final JsonMapper json;
    private final Clock clock;

    /** What was last made for each host, by its number; this and what follows is guarded by the desk. */
    private final Map<Integer, Made> made = new HashMap<>();

    private final RoaringBitmap concerned = new RoaringBitmap();
    private Snapshot seen;
    /** Counts the snapshots that were seen, so that nothing older takes the place of something newer. */
    private long turn;

    OrderDesk(SnapshotStore store, SigningKey key, Asks asks, Operators operators, JsonMapper json, Clock clock) {
        this.store = store;
        this.key = key;
        this.asks = asks;
        this.operators = operators;
        this.json = json;
        this.clock = clock;
    }

    /**
     * @param tag of what they say
     * @param issued when they first said so, in whole milliseconds
     * @param until when something else may hold by itself
     */
    record Made(String tag, Instant issued, Instant until, long turn) {}

    /** @param document without its instant of issue */
    record Fresh(Made made, OrdersDocument document) {}

    /** What holds for a host now: from memory if that knows its tag, else made. */
    Current now(Host host) {
        return known(host)
                .map(known -> new Current(known.tag(), Optional.empty()))
                .orElseGet(() -> {
                    Fresh fresh = make(host);
                    return new Current(fresh.made().tag(), Optional.of(fresh));
                });
    }

    /** @param fresh what was made to know the tag */
    record Current(String tag, Optional<Fresh> fresh) {}

    private synchronized Optional<Made> known(Host host) {
        Instant now = clock.instant();
        look(now);
        return Optional.ofNullable(made.get(host.number()))
                .filter(known -> !concerned.contains(host.number()) && now.isBefore(known.until()));
    }

    /**
     * True if orders of this tag are what holds for a host now.
     *
     * @param computing false to answer from memory only, which may not know that they are
     */
    boolean isCurrent(Host host, String tag, boolean computing) {
        return computing
                ? now(host).tag().equals(tag)
                : known(host).filter(known -> known.tag().equals(tag)).isPresent();
    }

    /** The signed orders of a host, which may be newer than those that its tag was asked of. */
    Signed signed(Host host, Current current) {
        Fresh fresh = current.fresh().orElseGet(() -> make(host));
        byte[] content =
                json.writeValueAsBytes(fresh.document().issued(fresh.made().issued()));
        return new Signed(fresh.made().tag(), key.sign(content, TYPE));
    }

    /** @param compact as the compact serialization of a JSON Web Signature */
    record Signed(String tag, String compact) {}

    /** What was computed while something newer was is computed again: nothing older gets a later serial. */
    private Fresh make(Host host) {
        Optional<Fresh> fresh = Optional.empty();
        while (fresh.isEmpty()) {
            fresh = tryToMake(host);
        }
        return fresh.get();
    }

    private Optional<Fresh> tryToMake(Host host) {
        Instant now = clock.instant();
        Snapshot snapshot;
        long ofTurn;
        synchronized (this) {
            look(now);
            snapshot = seen;
            ofTurn = turn;
        }
        Host asIs = snapshot.fleet().host(host.name()).orElse(host);
        HostOrders told = HostOrders.of(asIs, snapshot.carriages(), snapshot.decisions(), now);
        Instant period = period(host, now);
        OrdersDocument document = OrdersDocument.of(
                host.name(),
                told,
                asks.open(asIs),
                snapshot.decisions(),
                id -> operators.said().slot(snapshot.update(id), host.number()),
                period,
                period.plus(LIFETIME),
                Instant.EPOCH);
        String tag = Digests.sha256(json.writeValueAsBytes(document)).substring(0, TAG_DIGITS);
        Instant until = Stream.concat(told.changesAt().stream(), Stream.of(period.plus(PERIOD)))
                .filter(at -> at.isAfter(now))
                .min(Instant::compareTo)
                .orElseThrow();
        synchronized (this) {
            Made known = made.get(host.number());
            if (known != null && known.turn() > ofTurn) {
                return Optional.empty();
            }
            Made next = new Made(tag, issued(known, tag, now), until, ofTurn);
            made.put(host.number(), next);
            if (ofTurn == turn) {
                concerned.remove(host.number());
            }
            return Optional.of(new Fresh(next, document));
        }
    }

    /** What says the same was issued when it first did; what says something else is later than what was before. */
    private static Instant issued(Made known, String tag, Instant now) {
        Instant millis = Instant.ofEpochMilli(now.toEpochMilli());
        if (known == null || !known.tag().equals(tag) && known.issued().isBefore(millis)) {
            return millis;
        }
        return known.tag().equals(tag) ? known.issued() : known.issued().plusMillis(1);
    }

    /** Hosts among these for which something else may hold than when they were last asked about. */
    synchronized RoaringBitmap mayHaveChanged(RoaringBitmap among) {
        Instant now = clock.instant();
        look(now);
        RoaringBitmap changed = RoaringBitmap.and(among, concerned);
        among.forEach((int host) -> {
            if (!made.containsKey(host) || !now.isBefore(made.get(host).until())) {
                changed.add(host);
            }
        });
        return changed;
    }

    /** Something that does not stand in the picture may be another for these hosts. */
    synchronized void concern(RoaringBitmap hosts) {
        concerned.or(hosts);
        turn++;
    }

    private void look(Instant now) {
        Snapshot current = store.snapshot();
        if (seen == current) {
            return;
        }
        if (seen != null) {
            concerned.or(ConcernedHosts.between(
                    seen.carriages(), seen.decisions(), current.carriages(), current.decisions(), now));
        }
        seen = current;
        turn++;
    }

    /** Begins for each host at another time, so that not all orders are made anew at once. */
    private static Instant period(Host host, Instant now) {
        long length = PERIOD.toSeconds();
        long shift = Math.floorMod(host.number() * 7919L, length);
        return Instant.ofEpochSecond(Math.floorDiv(now.getEpochSecond() - shift, length) * length + shift);
    }
}
