package lucid.server.digest;

import jakarta.mail.internet.AddressException;
import jakarta.mail.internet.InternetAddress;
import java.net.URI;
import java.time.Clock;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.Optional;
import java.util.Set;
import lucid.server.access.Caller;
import lucid.server.audit.AuditEntry;
import lucid.server.digest.SubscriptionMapper.Subscription;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** The digest on screen, who is sent it, and by which server. */
@RestController
@RequestMapping("/api")
class DigestController {

    private static final int LONGEST_HOURS = 24 * 31;

    private static final Set<String> LOOPBACK = Set.of("127.0.0.1", "::1", "localhost");

    private final Digests digests;
    private final SubscriptionMapper subscriptions;
    private final MailServer server;
    private final SnapshotStore store;
    private final Clock clock;

    DigestController(
            Digests digests, SubscriptionMapper subscriptions, MailServer server, SnapshotStore store, Clock clock) {
        this.digests = digests;
        this.subscriptions = subscriptions;
        this.server = server;
        this.store = store;
        this.clock = clock;
    }

    /**
     * @param hours how far back it tells what happened, from 1 to 744
     * @param zone in which days are told, for example {@code Europe/Oslo}
     */
    @GetMapping("/digest")
    Digest digest(
            @RequestParam(defaultValue = "24") int hours,
            @RequestParam(defaultValue = "Z") String zone,
            @AuthenticationPrincipal Caller.Person person) {
        if (hours < 1 || hours > LONGEST_HOURS) {
            throw ProblemException.badField("hours", "from 1 to 744 hours");
        }
        return digests.of(person, clock.instant().minus(Duration.ofHours(hours)), zone(zone));
    }

    private static ZoneId zone(String text) {
        try {
            return ZoneId.of(text);
        } catch (DateTimeException e) {
            throw ProblemException.badField("zone", "'" + text + "' is no time zone");
        }
    }

    /** @param hour of the day at which it is sent, from 0 to 23, by the clock of the zone */
    record DigestMail(String address, int hour, String zone) {}

    /**
     * @param canBeSent false while no server for mails is set
     * @param mail none: it is not sent
     * @param failure why the last try failed, if it did
     */
    record DigestMailState(
            boolean canBeSent,
            Optional<DigestMail> mail,
            Optional<Instant> lastSent,
            Optional<Instant> failedAt,
            Optional<String> failure) {}

    @GetMapping("/digest-mail")
    DigestMailState state(@AuthenticationPrincipal Caller.Person person) {
        Optional<Subscription> known = subscriptions.of(person.login());
        return new DigestMailState(
                server.configured().isPresent(),
                known.map(one -> new DigestMail(one.address(), one.hour(), one.zone())),
                known.map(Subscription::lastSent),
                known.map(Subscription::failedAt),
                known.map(Subscription::failure));
    }

    /** Sends it from now on: for the first time when the hour comes round next. */
    @PutMapping("/digest-mail")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void send(@RequestBody DigestMail mail, @AuthenticationPrincipal Caller.Person person) {
        String address = mailbox("address", mail.address());
        if (mail.hour() < 0 || mail.hour() > 23) {
            throw ProblemException.badField("hour", "from 0 to 23");
        }
        ZoneId zone = zone(String.valueOf(mail.zone()));
        store.write(snapshot -> {
            subscriptions.keep(
                    new Subscription(person.login(), address, mail.hour(), zone.getId(), clock.instant(), null, null));
            return new SnapshotStore.Change<>(snapshot, true);
        });
    }

    @DeleteMapping("/digest-mail")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void stop(@AuthenticationPrincipal Caller.Person person) {
        store.write(snapshot -> {
            if (subscriptions.remove(person.login()) == 0) {
                throw ProblemException.notFound("you are not sent the digest");
            }
            return new SnapshotStore.Change<>(snapshot, true);
        });
    }

    /** @throws ProblemException unless it is one address as RFC 5322 writes it, without a name */
    private static String mailbox(String field, String text) {
        try {
            InternetAddress address = new InternetAddress(String.valueOf(text).strip(), true);
            if (address.getPersonal() == null && address.getAddress().contains("@") && text.length() <= 320) {
                return address.getAddress();
            }
        } catch (AddressException e) {
            // Said below.
        }
        throw ProblemException.badField(field, "write one mail address, like name@example.org");
    }

    /** @param hasPassword the password itself is never told */
    record MailServerView(
            String host,
            int port,
            MailServer.Security security,
            Optional<String> user,
            boolean hasPassword,
            String from,
            String address) {}

    record MailServerState(Optional<MailServerView> server) {}

    @GetMapping("/mail-server")
    MailServerState mailServer() {
        return new MailServerState(server.configured()
                .map(by -> new MailServerView(
                        by.host(),
                        by.port(),
                        by.security(),
                        by.user(),
                        by.password().isPresent(),
                        by.from(),
                        by.address())));
    }

    /** @param password none: as it was */
    record NewMailServer(
            String host,
            int port,
            MailServer.Security security,
            Optional<String> user,
            Optional<String> password,
            String from,
            String address) {}

    @PutMapping("/mail-server")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void setMailServer(@RequestBody NewMailServer wanted, @AuthenticationPrincipal Caller.Person person) {
        ProblemException.requireLine("host", wanted.host(), 253, "name the server");
        if (wanted.port() < 1 || wanted.port() > 65_535) {
            throw ProblemException.badField("port", "from 1 to 65535");
        }
        if (wanted.security() == null) {
            throw ProblemException.badField("security", "choose how it is encrypted");
        }
        if (wanted.security() == MailServer.Security.NONE
                && !LOOPBACK.contains(wanted.host().strip())) {
            throw ProblemException.badField(
                    "security",
                    "only to a server on the same machine (127.0.0.1, ::1, localhost) do mails go in the open");
        }
        Optional<String> user = wanted.user().map(String::strip).filter(name -> !name.isEmpty());
        Optional<String> before = server.configured().flatMap(MailServer.Configured::password);
        MailServer.Configured configured = new MailServer.Configured(
                wanted.host().strip(),
                wanted.port(),
                wanted.security(),
                user,
                user.flatMap(name ->
                        wanted.password().filter(text -> !text.isEmpty()).or(() -> before)),
                mailbox("from", wanted.from()),
                own(wanted.address()));
        store.write(snapshot -> {
            server.keep(Optional.of(configured));
            store.record(
                    AuditEntry.Kind.ACCESS,
                    "",
                    person,
                    "Mails are sent by " + configured.host() + ", port " + configured.port() + ", from "
                            + configured.from() + ".");
            return new SnapshotStore.Change<>(snapshot, true);
        });
    }

    private static String own(String text) {
        try {
            URI address = URI.create(String.valueOf(text).strip());
            if (("http".equals(address.getScheme()) || "https".equals(address.getScheme()))
                    && address.getHost() != null) {
                return address.toString().replaceFirst("/+$", "");
            }
        } catch (IllegalArgumentException e) {
            // Said below.
        }
        throw ProblemException.badField(
                "address", "write where browsers find this server, like https://lucid.example.org");
    }

    @DeleteMapping("/mail-server")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void forgetMailServer(@AuthenticationPrincipal Caller.Person person) {
        store.write(snapshot -> {
            server.keep(Optional.empty());
            store.record(AuditEntry.Kind.ACCESS, "", person, "No mails are sent any more.");
            return new SnapshotStore.Change<>(snapshot, true);
        });
    }

    record MailTrial(String to) {}

    /** @param failure why it was not sent; none: the server took it */
    record MailTried(Optional<String> failure) {}

    /** Sends one mail, to see whether that works. */
    @PostMapping("/mail-server/trials")
    MailTried tryMail(@RequestBody MailTrial trial) {
        MailServer.Configured by = server.configured()
                .orElseThrow(() -> new ProblemException(HttpStatus.CONFLICT, "host", "no server for mails is set yet"));
        return new MailTried(DigestCare.tried(
                by,
                mailbox("to", trial.to()),
                "Lucid Verdict can send mails",
                "Somebody tried on Access whether mails arrive. This one did.\n\n" + by.address() + "\n"));
    }
}
