package lucid.server.orders;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.fleet.Host;
import lucid.server.snapshot.GroupCommit;
import lucid.server.snapshot.SnapshotStore;
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
     * @param askedAt when it last asked for its orders or spoke of them
     * @param receivedAt when it last said what became of them
     */
    record Heard(Instant currentAt, Instant askedAt, Optional<Instant> receivedAt, Optional<Receipt> receipt) {}

    private record Word(int host, Optional<Receipt> receipt, Instant currentAt) {}

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
            Optional<Receipt> receipt =
                    Optional.ofNullable(row.receivedAt()).map(at -> json.readValue(row.content(), Receipt.class));
            heard.put(
                    row.host(),
                    new Heard(row.currentAt(), row.currentAt(), Optional.ofNullable(row.receivedAt()), receipt));
            stored.put(row.host(), row.currentAt());
        });
    }

    synchronized Optional<Heard> of(int host) {
        return Optional.ofNullable(heard.get(host));
    }

    /** All that have ever asked, by their numbers. */
    synchronized Map<Integer, Heard> all() {
        return Map.copyOf(heard);
    }

    /** A host asked, and has kept what holds. */
    void keeps(Host host) {
        Instant now = clock.instant();
        boolean longAgo;
        synchronized (this) {
            Heard before = heard.get(host.number());
            heard.put(
                    host.number(),
                    new Heard(
                            now,
                            now,
                            Optional.ofNullable(before).flatMap(Heard::receivedAt),
                            Optional.ofNullable(before).flatMap(Heard::receipt)));
            Instant last = stored.get(host.number());
            longAgo = last == null || Duration.between(last, now).compareTo(STORED_EVERY) > 0;
        }
        if (longAgo) {
            words.submit(new Word(host.number(), Optional.empty(), now));
        }
    }

    /** A host asked, and is being told something new. */
    synchronized void asks(Host host) {
        Instant now = clock.instant();
        heard.computeIfPresent(
                host.number(),
                (number, before) -> new Heard(before.currentAt(), now, before.receivedAt(), before.receipt()));
    }

    /** Takes what a host says; answers after it is committed. */
    void take(Host host, Receipt receipt) {
        Instant now = clock.instant();
        OrderDesk.Made current = desk.now(host);
        Instant told = Instant.ofEpochMilli(receipt.serial());
        Instant currentAt = receipt.tag().equals(current.tag())
                ? now
                : of(host.number())
                        .map(Heard::currentAt)
                        .filter(known -> known.isAfter(told))
                        .orElse(told.isAfter(now) ? Instant.EPOCH : told);
        words.submit(new Word(host.number(), Optional.of(receipt), currentAt));
    }

    private List<Boolean> write(List<Word> together) {
        List<Boolean> done = store.write(snapshot -> new SnapshotStore.Change<>(
                snapshot,
                together.stream()
                        .map(word -> {
                            Optional<Receipt> receipt =
                                    word.receipt().or(() -> of(word.host()).flatMap(Heard::receipt));
                            mapper.keep(new ReceiptMapper.ReceiptRow(
                                    word.host(),
                                    word.currentAt(),
                                    receivedAt(word).orElse(null),
                                    receipt.map(json::writeValueAsString).orElse("")));
                            return true;
                        })
                        .toList()));
        synchronized (this) {
            together.forEach(word -> {
                heard.put(
                        word.host(),
                        new Heard(
                                word.currentAt(),
                                clock.instant(),
                                receivedAt(word),
                                word.receipt().or(() -> of(word.host()).flatMap(Heard::receipt))));
                stored.put(word.host(), word.currentAt());
            });
        }
        return done;
    }

    private Optional<Instant> receivedAt(Word word) {
        return word.receipt().isPresent()
                ? Optional.of(clock.instant())
                : of(word.host()).flatMap(Heard::receivedAt);
    }
}
