package lucid.server.access;

import java.time.Clock;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.ConcurrentHashMap;
import lucid.server.snapshot.SnapshotStore;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/** When each token was last used; kept in memory, and stored from time to time. */
@Component
class TokenUse {

    private final AccessMapper mapper;
    private final SnapshotStore store;
    private final Clock clock;
    private final Map<String, Instant> used = new ConcurrentHashMap<>();
    private final Map<String, Instant> unstored = new ConcurrentHashMap<>();

    TokenUse(AccessMapper mapper, SnapshotStore store, Clock clock) {
        this.mapper = mapper;
        this.store = store;
        this.clock = clock;
    }

    void used(String token) {
        Instant now = clock.instant();
        used.put(token, now);
        unstored.put(token, now);
    }

    Optional<Instant> last(AccessMapper.Token token) {
        return Optional.ofNullable(used.get(token.name())).or(() -> Optional.ofNullable(token.lastUsedAt()));
    }

    /** Thousands of hosts ask every minute: that is written together. */
    @Scheduled(fixedDelay = 600_000, initialDelay = 600_000)
    void keep() {
        Map<String, Instant> fresh = Map.copyOf(unstored);
        if (fresh.isEmpty()) {
            return;
        }
        store.write(snapshot -> {
            fresh.forEach(mapper::tokenUsed);
            return new SnapshotStore.Change<>(snapshot, true);
        });
        fresh.forEach(unstored::remove);
    }
}
