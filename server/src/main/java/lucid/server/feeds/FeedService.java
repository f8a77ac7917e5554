package lucid.server.feeds;

import java.security.Principal;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import java.util.concurrent.locks.ReentrantLock;
import lucid.formats.Documents;
import lucid.formats.signature.TrustedKeys;
import lucid.server.feeds.FeedMapper.Feed;
import lucid.server.fetch.OutboundClient;
import lucid.server.intake.DocumentMapper;
import lucid.server.intake.IntakeService;
import lucid.server.intake.IntakeService.Incoming;
import lucid.server.state.State;
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
    private static final int LONGEST_WORDS = 4000;
    /** Marks a digest of ours that stands for the validator of a server that tells none. */
    private static final String OWN = "sha256:";

    private final FeedMapper feeds;
    private final OutboundClient outbound;
    private final IntakeService intake;
    private final ProviderFetch providers;
    private final State state;
    private final Clock clock;
    /** One at a time: the schedule and somebody who presses "now" never fetch the same twice. */
    private final ReentrantLock fetching = new ReentrantLock();

    FeedService(FeedMapper feeds, OutboundClient outbound, IntakeService intake, ProviderFetch providers, State state, Clock clock) {
        this.feeds = feeds;
        this.outbound = outbound;
        this.intake = intake;
        this.providers = providers;
        this.state = state;
        this.clock = clock;
    }

    /** The name under which what it brings is recorded. */
    private record Sender(String name) implements Principal {
        @Override
        public String getName() {
            return "Feed " + name;
        }
    }

    @Scheduled(fixedDelay = 2_000)
    void fetchWhatIsDue() {
        for (Feed feed : feeds.due(clock.instant())) {
            try {
                fetch(feed.name());
            } catch (RuntimeException e) {
                LOG.error("The feed {} could not be fetched", feed.name(), e);
            }
        }
    }

    /** Fetches a feed now, whether or not it is due. */
    Optional<Feed> fetch(String name) {
        fetching.lock();
        try {
            Optional<Feed> known = feeds.find(name);
            known.ifPresent(feed -> {
                Feed tried = fetched(feed);
                state.write(picture -> {
                    feeds.tried(tried);
                    return new State.Written<>(picture, true);
                });
            });
            return feeds.find(name);
        } finally {
            fetching.unlock();
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
            return tried(feed, now, false, words, feed.etag(), feed.lastModified(), feed.seenUntil(), failures, now.plus(wait(failures, asked)));
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
        Optional<OutboundClient.Fetched> fetched = outbound.fetchIfChanged(feed.address(), Documents.LONGEST, new OutboundClient.Validators(etag, Optional.ofNullable(feed.lastModified())));
        if (fetched.isEmpty()) {
            return succeeded(feed, now, "unchanged", feed.etag(), feed.lastModified(), feed.seenUntil());
        }
        OutboundClient.Fetched document = fetched.get();
        String digest = OWN + Digests.sha256(document.content());
        String words = "unchanged";
        // What a server that tells no validators sends again leaves no line on Intake.
        if (!digest.equals(feed.etag())) {
            IntakeService.Result result = intake.take(new Incoming(document.name(), document.content(), Optional.ofNullable(feed.namespace()), Optional.ofNullable(feed.distro()), Map.of()),
                    new Sender(feed.name()), Optional.empty());
            words = result.outcome() == DocumentMapper.Outcome.REFUSED ? "refused: " + result.problems().get(0).reason() : result.outcome().name().toLowerCase() + ": " + result.subject();
        }
        return succeeded(feed, now, words, document.validators().etag().orElse(digest), document.validators().lastModified().orElse(null), feed.seenUntil());
    }

    private Feed ofProvider(Feed feed, Instant now) {
        TrustedKeys keys = TrustedKeys.of(feeds.keys().stream().map(FeedMapper.Key::armored).toList());
        ProviderFetch.Result result = providers.fetch(feed, keys, now, new Sender(feed.name()));
        Instant until = result.seenUntil().orElse(null);
        if (!result.faults().isEmpty()) {
            int failures = feed.failures() + 1;
            return tried(feed, now, false, result.words(), null, null, until, failures, now.plus(wait(failures, Duration.ZERO)));
        }
        return succeeded(feed, now, result.words(), null, null, until);
    }

    private static Feed succeeded(Feed feed, Instant now, String words, String etag, String lastModified, Instant seenUntil) {
        return tried(feed, now, true, words, etag, lastModified, seenUntil, 0, now.plus(Duration.ofMinutes(feed.everyMinutes())));
    }

    private static Feed tried(Feed feed, Instant now, boolean succeeded, String words, String etag, String lastModified, Instant seenUntil, int failures, Instant due) {
        return new Feed(feed.name(), feed.kind(), feed.address(), feed.everyMinutes(), feed.namespace(), feed.distro(), feed.author(), feed.added(), etag, lastModified, seenUntil, now,
                succeeded ? now : feed.succeeded(), words.length() <= LONGEST_WORDS ? words : words.substring(0, LONGEST_WORDS), failures, due);
    }
}
