package lucid.server.orders;

import jakarta.annotation.PreDestroy;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Predicate;
import lucid.core.fleet.Host;
import lucid.server.snapshot.GroupCommit;
import lucid.server.snapshot.SnapshotStore;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.stereotype.Component;
import tools.jackson.databind.json.JsonMapper;

/**
 * Until when each host is known to have kept what held for it, and what it says became of that. That a host has asked
 * and nothing had changed is kept in memory, and stored with its next word: after a kill less is known, never more.
 */
@Component
class Receipts {

    /** What is only asked is stored no more often. */
    private static final Duration STORED_EVERY = Duration.ofHours(6);

    /**
     * @param currentAt the last instant at which it is known to have kept what held for it
     * @param keptTag of the orders that it kept then
     * @param askedAt when it last asked for its orders or spoke of them
     * @param receivedAt when it last said what became of them
     */
    record Heard(
            Instant currentAt,
            String keptTag,
            Instant askedAt,
            Optional<Instant> receivedAt,
            Optional<Receipt> receipt) {}

    /** @param receipt none where the host only asked, with what it keeps in hand */
    private record Word(int host, Optional<Receipt> receipt, String tag, Instant at, Instant currentAt) {}

    private final ReceiptMapper mapper;
    private final SnapshotStore store;
    private final OrderDesk desk;
    private final JsonMapper json;
    private final Clock clock;
    private final Map<Integer, Heard> heard = new HashMap<>();
    private final Map<Integer, Instant> stored = new HashMap<>();
    private final GroupCommit<Word, Boolean> words = new GroupCommit<>(this::write);

    Receipts(ReceiptMapper mapper, SnapshotStore store, OrderDesk desk, JsonMapper json, Clock clock) {
        this.mapper = mapper;
        this.store = store;
        this.desk = desk;
        this.json = json;
        this.clock = clock;
        mapper.all().forEach(row -> {
            Optional<Instant> receivedAt = Optional.ofNullable(row.receivedAt());
            heard.put(
                    row.host(),
                    new Heard(
                            row.currentAt(),
                            row.keptTag(),
                            row.currentAt(),
                            receivedAt,
                            receivedAt.map(at -> json.readValue(row.content(), Receipt.class))));
            stored.put(row.host(), row.currentAt());
        });
    }

    synchronized Optional<Heard> of(int host) {
        return Optional.ofNullable(heard.get(host));
    }

    /** Numbers of the hosts of which this is so. */
    synchronized RoaringBitmap matching(Predicate<Heard> which) {
        RoaringBitmap matching = new RoaringBitmap();
        heard.forEach((host, of) -> {
            if (which.test(of)) {
                matching.add((int) host);
            }
        });
        return matching;
    }

    /** A host asked with the orders of this tag in hand, which are what holds. */
    void keeps(Host host, String tag) {
        Instant now = clock.instant();
        Word word = new Word(host.number(), Optional.empty(), tag, now, now);
        boolean longAgo;
        synchronized (this) {
            heard.put(host.number(), after(word));
            Instant last = stored.get(host.number());
            longAgo = last == null || Duration.between(last, now).compareTo(STORED_EVERY) > 0;
        }
        if (longAgo) {
            words.leave(word);
        }
    }

    @PreDestroy
    void stop() {
        words.close();
    }

    /** A host asked, and is being told something new. */
    synchronized void asks(Host host) {
        Instant now = clock.instant();
        heard.computeIfPresent(
                host.number(),
                (number, before) ->
                        new Heard(before.currentAt(), before.keptTag(), now, before.receivedAt(), before.receipt()));
    }

    /** Takes what hosts say; answers after all of it is committed. */
    void take(List<Said> said) {
        words.submitAll(said.stream().map(this::word).toList());
    }

    /** @param host who says so */
    record Said(Host host, Receipt receipt) {}

    private Word word(Said said) {
        Receipt receipt = said.receipt();
        int host = said.host().number();
        Instant now = clock.instant();
        boolean current = desk.isCurrent(said.host(), receipt.tag(), true);
        Instant told = Instant.ofEpochMilli(receipt.serial());
        Instant currentAt = current
                ? now
                : of(host).map(Heard::currentAt)
                        .filter(known -> known.isAfter(told))
                        .orElse(told.isAfter(now) ? Instant.EPOCH : told);
        return new Word(host, Optional.of(receipt), receipt.tag(), now, currentAt);
    }

    private List<Boolean> write(List<Word> together) {
        return store.write(snapshot -> {
            synchronized (this) {
                return new SnapshotStore.Change<>(
                        snapshot, together.stream().map(this::write).toList());
            }
        });
    }

    /** If the commit fails, less is stored than is known; the host says it again. */
    private boolean write(Word word) {
        Heard next = after(word);
        mapper.keep(new ReceiptMapper.ReceiptRow(
                word.host(),
                next.currentAt(),
                next.keptTag(),
                next.receivedAt().orElse(null),
                next.receipt().map(json::writeValueAsString).orElse("")));
        heard.put(word.host(), next);
        stored.put(word.host(), next.currentAt());
        return true;
    }

    private Heard after(Word word) {
        Optional<Heard> before = of(word.host());
        return new Heard(
                word.currentAt(),
                word.tag(),
                word.at(),
                word.receipt().isPresent() ? Optional.of(word.at()) : before.flatMap(Heard::receivedAt),
                word.receipt().or(() -> before.flatMap(Heard::receipt)));
    }
}
