package lucid.server.digest;

import jakarta.annotation.PreDestroy;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.ZonedDateTime;
import java.util.Optional;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.atomic.AtomicBoolean;
import lucid.server.access.KnownPeople;
import lucid.server.clock.ClockMoved;
import lucid.server.digest.SubscriptionMapper.Subscription;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.ProblemException;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.context.event.EventListener;
import org.springframework.mail.MailException;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/** Sends each digest at its hour, once a day; what a mail server does not take is tried again. */
@Component
class DigestCare {

    private static final Logger LOG = LoggerFactory.getLogger(DigestCare.class);
    private static final Duration BEFORE_NEXT_TRY = Duration.ofMinutes(15);
    /** Who was sent nothing yet is told of the last day. */
    private static final Duration FIRST = Duration.ofDays(1);

    private static final int LONGEST_FAILURE = 1_000;

    private final SnapshotStore store;
    private final SubscriptionMapper subscriptions;
    private final MailServer server;
    private final Digests digests;
    private final KnownPeople people;
    private final Clock clock;
    /** A slow mail server keeps nobody else waiting. */
    private final ExecutorService sender = Executors.newSingleThreadExecutor();

    private final AtomicBoolean sending = new AtomicBoolean();

    DigestCare(
            SnapshotStore store,
            SubscriptionMapper subscriptions,
            MailServer server,
            Digests digests,
            KnownPeople people,
            Clock clock) {
        this.store = store;
        this.subscriptions = subscriptions;
        this.server = server;
        this.digests = digests;
        this.people = people;
        this.clock = clock;
    }

    @EventListener
    void onMoved(ClockMoved moved) {
        look();
    }

    @Scheduled(fixedDelay = 20_000)
    void look() {
        if (server.configured().isPresent() && sending.compareAndSet(false, true)) {
            sender.execute(() -> {
                try {
                    sendDue();
                } finally {
                    sending.set(false);
                }
            });
        }
    }

    @PreDestroy
    void stop() {
        sender.shutdownNow();
    }

    private void sendDue() {
        Instant now = clock.instant();
        for (Subscription one : subscriptions.all()) {
            if (isDue(one, now)) {
                send(one, now);
            }
        }
    }

    /** From its hour on until it is sent, also past midnight; the first one comes at once. */
    private static boolean isDue(Subscription one, Instant now) {
        ZonedDateTime local = now.atZone(ZoneId.of(one.zone()));
        ZonedDateTime today = local.toLocalDate().atTime(one.hour(), 0).atZone(local.getZone());
        Instant last = (local.isBefore(today) ? today.minusDays(1) : today).toInstant();
        boolean alreadySent = Optional.ofNullable(one.lastSent())
                .filter(sent -> !sent.isBefore(last))
                .isPresent();
        boolean justFailed = Optional.ofNullable(one.failedAt())
                .filter(failed -> failed.plus(BEFORE_NEXT_TRY).isAfter(now))
                .isPresent();
        return !alreadySent && !justFailed;
    }

    private void send(Subscription one, Instant now) {
        Optional<String> failure = server.configured()
                .flatMap(by -> people.find(one.account()).flatMap(person -> {
                    ZoneId zone = ZoneId.of(one.zone());
                    Instant from = Optional.ofNullable(one.lastSent()).orElse(now.minus(FIRST));
                    Digest digest = digests.of(person, from, zone);
                    return tried(by, one.address(), Digests.subject(digest, zone), Digests.text(digest, by.address()));
                }));
        try {
            store.write(snapshot -> {
                failure.ifPresentOrElse(
                        words -> subscriptions.failed(one.account(), now, words),
                        () -> subscriptions.sent(one.account(), now));
                return new SnapshotStore.Change<>(snapshot, true);
            });
        } catch (ProblemException e) {
            LOG.warn("That a digest was sent could not be kept: {}", e.getMessage());
        }
    }

    /** Why it was not sent, if it was not. */
    static Optional<String> tried(MailServer.Configured by, String to, String subject, String text) {
        try {
            MailServer.send(by, to, subject, text);
            return Optional.empty();
        } catch (MailException e) {
            LOG.warn("A mail was not sent: {}", e.getMessage());
            String words = String.valueOf(e.getMessage());
            return Optional.of(words.length() <= LONGEST_FAILURE ? words : words.substring(0, LONGEST_FAILURE));
        }
    }
}
