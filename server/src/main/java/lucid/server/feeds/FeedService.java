package lucid.server.feeds;

import jakarta.annotation.PreDestroy;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.locks.ReentrantLock;
import lucid.formats.document.Format;
import lucid.formats.document.Limits;
import lucid.formats.signature.TrustedKeys;
import lucid.server.access.Bringer;
import lucid.server.feeds.FeedMapper.Feed;
import lucid.server.fetch.OutboundClient;
import lucid.server.intake.Incoming;
import lucid.server.intake.IntakeOutcome;
import lucid.server.intake.IntakeResult;
import lucid.server.intake.IntakeService;
import lucid.server.snapshot.Disk;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.Digests;
import lucid.server.web.ProblemException;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Service;

/** Fetches feeds when they are due. After a failure it waits longer each time, up to a day. */
@Service
class FeedService {

    private static final Logger LOG = LoggerFactory.getLogger(FeedService.class);
    private static final Duration FIRST_WAIT = Duration.ofMinutes(5);
    private static final Duration LONGEST_WAIT = Duration.ofDays(1);
    private static final int AT_ONCE = 4;
    private static final int LONGEST_WORDS = 4000;
    /** Marks a digest of ours that stands for the validator of a server that tells none. */
    private static final String OWN = "sha256:";

    private final FeedMapper feeds;
    private final OutboundClient outbound;
    private final IntakeService intake;
    private final ProviderFetch providers;
    private final SnapshotStore store;
    private final Disk disk;
    private final Clock clock;
    /** Of each feed one at a time: the schedule and somebody who presses "now" never fetch the same twice. */
    private final Map<String, ReentrantLock> locks = new ConcurrentHashMap<>();
    /** Feeds that are due and wait for their turn, or have it. */
    private final Set<String> waiting = ConcurrentHashMap.newKeySet();
    /** Feeds are fetched beside each other, so that a slow one keeps only itself waiting. */
    private final ExecutorService fetchers = Executors.newFixedThreadPool(AT_ONCE, work -> {
        Thread thread = new Thread(work, "feeds");
        thread.setDaemon(true);
        return thread;
    });

    FeedService(
            FeedMapper feeds,
            OutboundClient outbound,
            IntakeService intake,
            ProviderFetch providers,
            SnapshotStore store,
            Disk disk,
            Clock clock) {
        this.disk = disk;
        this.feeds = feeds;
        this.outbound = outbound;
        this.intake = intake;
        this.providers = providers;
        this.store = store;
        this.clock = clock;
    }

    /** The name under which what it brings is recorded. */
    private record Sender(String name, Set<Format> formats) implements Bringer {
        static Sender of(Feed feed) {
            return new Sender(feed.name(), Bringer.read(feed.formats()));
        }

        @Override
        public String getName() {
            return "Feed " + name;
        }
    }

    @Scheduled(fixedDelay = 2_000)
    void fetchWhatIsDue() {
        if (disk.isReadOnly()) {
            return;
        }
        for (Feed feed : feeds.due(clock.instant())) {
            if (waiting.add(feed.name())) {
                fetchers.execute(() -> {
                    try {
                        fetch(feed.name(), true);
                    } catch (RuntimeException e) {
                        LOG.error("The feed {} could not be fetched", feed.name(), e);
                    } finally {
                        waiting.remove(feed.name());
                    }
                });
            }
        }
    }

    @PreDestroy
    void stop() {
        fetchers.shutdownNow();
    }

    /** Fetches a feed now, whether or not it is due; one that is being fetched is waited for first. */
    Optional<Feed> fetch(String name) {
        return fetch(name, false);
    }

    private Optional<Feed> fetch(String name, boolean onlyIfDue) {
        ReentrantLock one = locks.computeIfAbsent(name, n -> new ReentrantLock());
        one.lock();
        try {
            feeds.find(name)
                    .filter(feed -> !onlyIfDue || !feed.due().isAfter(clock.instant()))
                    .ifPresent(feed -> {
                        Feed tried = fetched(feed);
                        store.write(snapshot -> {
                            feeds.tried(tried);
                            return new SnapshotStore.Change<>(snapshot, true);
                        });
                    });
            Optional<Feed> after = feeds.find(name);
            if (after.isEmpty()) {
                locks.remove(name);
            }
            return after;
        } finally {
            one.unlock();
        }
    }

    private Feed fetched(Feed feed) {
        Instant now = clock.instant();
        try {
            return feed.kind() == FeedMapper.Kind.CSAF_PROVIDER ? ofProvider(feed, now) : ofDocument(feed, now);
        } catch (RuntimeException e) {
            String words = e instanceof ProblemException ? e.getMessage() : "failed: " + e;
            Duration asked = e instanceof OutboundClient.AskedToWaitException waiting ? waiting.asked() : Duration.ZERO;
            int failures = feed.failures() + 1;
            return tried(
                    feed,
                    now,
                    false,
                    words,
                    feed.etag(),
                    feed.lastModified(),
                    feed.seenUntil(),
                    failures,
                    now.plus(wait(failures, asked)));
        }
    }

    /** At least what the server there asked for, but never longer than a day. */
    static Duration wait(int failures, Duration asked) {
        Duration own = FIRST_WAIT.multipliedBy(1L << Math.min(failures - 1, 20));
        Duration wait = own.compareTo(asked) > 0 ? own : asked;
        return wait.compareTo(LONGEST_WAIT) < 0 ? wait : LONGEST_WAIT;
    }

    private Feed ofDocument(Feed feed, Instant now) {
        Optional<String> etag = Optional.ofNullable(feed.etag()).filter(known -> !known.startsWith(OWN));
        Optional<OutboundClient.Fetched> fetched = outbound.fetchIfChanged(
                feed.address(),
                Limits.LONGEST_DOCUMENT,
                new OutboundClient.Validators(etag, Optional.ofNullable(feed.lastModified())));
        if (fetched.isEmpty()) {
            return succeeded(feed, now, "unchanged", feed.etag(), feed.lastModified(), feed.seenUntil());
        }
        OutboundClient.Fetched document = fetched.get();
        String digest = OWN + Digests.sha256(document.content());
        String words = "unchanged";
        // What a server that tells no validators sends again leaves no line on Intake.
        if (!digest.equals(feed.etag())) {
            IntakeResult result = intake.take(
                    new Incoming(
                            document.name(),
                            document.content(),
                            Optional.ofNullable(feed.namespace()),
                            Optional.ofNullable(feed.distro()),
                            Map.of()),
                    Sender.of(feed),
                    Optional.empty());
            words = result.outcome() == IntakeOutcome.REJECTED
                    ? "refused: " + result.problems().get(0).reason()
                    : result.outcome().name().toLowerCase() + ": " + result.subject();
        }
        return succeeded(
                feed,
                now,
                words,
                document.validators().etag().orElse(digest),
                document.validators().lastModified().orElse(null),
                feed.seenUntil());
    }

    private Feed ofProvider(Feed feed, Instant now) {
        TrustedKeys keys = TrustedKeys.of(
                feeds.keys().stream().map(FeedMapper.Key::armored).toList());
        ProviderFetch.Result result = providers.fetch(feed, keys, now, Sender.of(feed));
        Instant until = result.seenUntil().orElse(null);
        if (!result.faults().isEmpty()) {
            int failures = feed.failures() + 1;
            return tried(
                    feed,
                    now,
                    false,
                    result.words(),
                    null,
                    null,
                    until,
                    failures,
                    now.plus(wait(failures, Duration.ZERO)));
        }
        return succeeded(feed, now, result.words(), null, null, until);
    }

    private static Feed succeeded(
            Feed feed, Instant now, String words, String etag, String lastModified, Instant seenUntil) {
        return tried(
                feed,
                now,
                true,
                words,
                etag,
                lastModified,
                seenUntil,
                0,
                now.plus(Duration.ofMinutes(feed.everyMinutes())));
    }

    private static Feed tried(
            Feed feed,
            Instant now,
            boolean succeeded,
            String words,
            String etag,
            String lastModified,
            Instant seenUntil,
            int failures,
            Instant due) {
        return new Feed(
                feed.name(),
                feed.kind(),
                feed.address(),
                feed.everyMinutes(),
                feed.namespace(),
                feed.distro(),
                feed.author(),
                feed.createdAt(),
                etag,
                lastModified,
                seenUntil,
                now,
                succeeded ? now : feed.succeeded(),
                words.length() <= LONGEST_WORDS ? words : words.substring(0, LONGEST_WORDS),
                failures,
                due,
                feed.formats());
    }
}
