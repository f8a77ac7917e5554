package lucid.server.feeds;

import java.security.Principal;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import lucid.formats.document.Format;
import lucid.formats.document.JsonPlace;
import lucid.formats.signature.TrustedKeys;
import lucid.server.access.Bringer;
import lucid.server.audit.AuditEntry;
import lucid.server.feeds.FeedMapper.Feed;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Addresses that are fetched again and again, and the keys by which providers may sign. */
@RestController
@RequestMapping("/api")
class FeedController {

    private static final int SHORTEST_MINUTES = 5;
    private static final int LONGEST_MINUTES = 7 * 24 * 60;
    private static final int LONGEST_KEY = 200_000;

    private final FeedMapper feeds;
    private final FeedService service;
    private final SnapshotStore store;
    private final Clock clock;

    FeedController(FeedMapper feeds, FeedService service, SnapshotStore store, Clock clock) {
        this.feeds = feeds;
        this.service = service;
        this.store = store;
        this.clock = clock;
    }

    /**
     * @param outcome of the last try, in words; empty before the first
     * @param failures tries that failed in a row
     * @param due when it is fetched next
     * @param formats that it may bring
     */
    record FeedView(
            String name,
            FeedMapper.Kind kind,
            String address,
            int everyMinutes,
            Optional<String> namespace,
            Optional<String> distro,
            String author,
            Optional<Instant> tried,
            Optional<Instant> succeeded,
            String outcome,
            int failures,
            Instant due,
            List<Format> formats) {
        static FeedView of(Feed f) {
            return new FeedView(
                    f.name(),
                    f.kind(),
                    f.address(),
                    f.everyMinutes(),
                    Optional.ofNullable(f.namespace()),
                    Optional.ofNullable(f.distro()),
                    f.author(),
                    Optional.ofNullable(f.tried()),
                    Optional.ofNullable(f.succeeded()),
                    f.outcome(),
                    f.failures(),
                    f.due(),
                    Bringer.read(f.formats()).stream().sorted().toList());
        }
    }

    @GetMapping("/feeds")
    List<FeedView> feeds() {
        return feeds.all().stream().map(FeedView::of).toList();
    }

    /**
     * @param everyMinutes from 5 minutes to a week
     * @param formats of a document: what it may bring, populations never; none: advisories and what is told of
     *     exploitation
     */
    record FeedDraft(
            String name,
            FeedMapper.Kind kind,
            String address,
            int everyMinutes,
            Optional<String> namespace,
            Optional<String> distro,
            List<Format> formats) {}

    private static final Set<Format> USUAL = Set.of(
            Format.CSAF,
            Format.UPDATE_NOTICE,
            Format.UPDATEINFO,
            Format.OSV,
            Format.EXPLOIT_SCORES,
            Format.KNOWN_EXPLOITED);

    private static Set<Format> formats(FeedDraft draft) {
        if (draft.kind() == FeedMapper.Kind.CSAF_PROVIDER) {
            return Set.of(Format.CSAF);
        }
        if (draft.formats() == null || draft.formats().isEmpty()) {
            return USUAL;
        }
        if (draft.formats().contains(Format.POPULATIONS)) {
            throw ProblemException.badField(
                    "formats",
                    "populations never come from a feed: bring them on Intake, look at what they change, and save them");
        }
        return Set.copyOf(draft.formats());
    }

    @PostMapping("/feeds")
    @ResponseStatus(HttpStatus.CREATED)
    FeedView add(@RequestBody FeedDraft draft, Principal who) {
        String name = ProblemException.requireLine("name", draft.name(), 100, "give it a name of 1 to 100 characters");
        String address = ProblemException.requireLine(
                "address", draft.address(), 2000, "give the address, in 1 to 2000 characters");
        Set<Format> formats = formats(draft);
        if (draft.kind() == null) {
            throw ProblemException.badField("kind", "a document, or a CSAF provider");
        }
        try {
            JsonPlace.requireWebAddress(address);
        } catch (IllegalArgumentException e) {
            throw ProblemException.badField("address", e.getMessage());
        }
        if (draft.everyMinutes() < SHORTEST_MINUTES || draft.everyMinutes() > LONGEST_MINUTES) {
            throw ProblemException.badField(
                    "everyMinutes", "from " + SHORTEST_MINUTES + " to " + LONGEST_MINUTES + " minutes");
        }
        return store.write(snapshot -> {
            if (feeds.find(name).isPresent()) {
                throw new ProblemException(HttpStatus.CONFLICT, "name", "there is a feed " + name + " already");
            }
            Instant now = clock.instant();
            Feed feed = new Feed(
                    name,
                    draft.kind(),
                    address,
                    draft.everyMinutes(),
                    draft.namespace().orElse(null),
                    draft.distro().orElse(null),
                    who.getName(),
                    now,
                    null,
                    null,
                    null,
                    null,
                    null,
                    "",
                    0,
                    now,
                    Bringer.write(formats));
            feeds.add(feed);
            store.record(
                    AuditEntry.Kind.ACCESS,
                    "",
                    who,
                    "Added the feed " + name + ": " + address + ", every " + draft.everyMinutes()
                            + " minutes; it may bring: "
                            + formats.stream().sorted().map(Format::title).collect(Collectors.joining(", ")) + ".");
            return new SnapshotStore.Change<>(snapshot, FeedView.of(feed));
        });
    }

    /** Fetches a feed now. */
    @PostMapping("/feeds/{name}/imports")
    FeedView fetch(@PathVariable String name) {
        return service.fetch(name)
                .map(FeedView::of)
                .orElseThrow(() -> ProblemException.notFound("there is no feed " + name));
    }

    @DeleteMapping("/feeds/{name}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void remove(@PathVariable String name, Principal who) {
        store.write(snapshot -> {
            if (feeds.remove(name) == 0) {
                throw ProblemException.notFound("there is no feed " + name);
            }
            store.record(AuditEntry.Kind.ACCESS, "", who, "Removed the feed " + name + ".");
            return new SnapshotStore.Change<>(snapshot, true);
        });
    }

    record KeyView(String fingerprint, String owner, String author, Instant createdAt) {}

    @GetMapping("/trusted-keys")
    List<KeyView> keys() {
        return feeds.keys().stream()
                .map(key -> new KeyView(key.fingerprint(), key.owner(), key.author(), key.createdAt()))
                .toList();
    }

    /** @param armored one OpenPGP public key or several in ASCII armor */
    record KeyDraft(String armored) {}

    /**
     * Trusts keys: what they signed is taken. Providers are read anew, so that what was held for want of the key comes
     * in.
     */
    @PostMapping("/trusted-keys")
    @ResponseStatus(HttpStatus.CREATED)
    List<KeyView> trust(@RequestBody KeyDraft draft, Principal who) {
        String armored = draft.armored() == null ? "" : draft.armored().strip();
        if (armored.isEmpty() || armored.length() > LONGEST_KEY) {
            throw ProblemException.badField(
                    "armored", "paste one OpenPGP public key, in at most " + LONGEST_KEY + " characters");
        }
        List<TrustedKeys.Described> described;
        try {
            described = TrustedKeys.of(List.of(armored)).described();
        } catch (IllegalArgumentException e) {
            throw ProblemException.badField("armored", e.getMessage());
        }
        return store.write(snapshot -> {
            for (TrustedKeys.Described key : described) {
                if (feeds.keys().stream().anyMatch(known -> known.fingerprint().equals(key.fingerprint()))) {
                    throw new ProblemException(
                            HttpStatus.CONFLICT, "armored", "the key " + key.fingerprint() + " is trusted already");
                }
                feeds.trust(
                        new FeedMapper.Key(key.fingerprint(), key.owner(), armored, who.getName(), clock.instant()));
                store.record(
                        AuditEntry.Kind.ACCESS,
                        "",
                        who,
                        "Documents signed by " + key.owner() + ", key " + key.fingerprint() + ", are trusted.");
            }
            feeds.forgetProviders();
            return new SnapshotStore.Change<>(snapshot, keys());
        });
    }

    @DeleteMapping("/trusted-keys/{fingerprint}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void distrust(@PathVariable String fingerprint, Principal who) {
        store.write(snapshot -> {
            if (feeds.distrust(fingerprint) == 0) {
                throw ProblemException.notFound("there is no trusted key " + fingerprint);
            }
            store.record(
                    AuditEntry.Kind.ACCESS,
                    "",
                    who,
                    "Documents signed by key " + fingerprint + " are no longer trusted.");
            return new SnapshotStore.Change<>(snapshot, true);
        });
    }
}
