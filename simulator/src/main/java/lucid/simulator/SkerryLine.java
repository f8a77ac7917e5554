package lucid.simulator;

import java.io.IOException;
import java.io.InputStream;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.DayOfWeek;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.temporal.TemporalAdjusters;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.UUID;
import java.util.stream.Collectors;
import tools.jackson.databind.JsonNode;

/**
 * Plays the ninety days of Skerry Line against a demo server through its public routes, then lets its hosts live on as
 * the server's clock goes on.
 */
public final class SkerryLine {

    private static final int DAYS = 90;

    /** In less time nothing happens of which anybody would notice. */
    private static final Duration OFTEN = Duration.ofMinutes(50);

    private static final int DAYS_OF_SUPPORT_LEFT = 75;
    private static final String ANALYST = "m.aldane";
    private static final String OPERATOR = "b.tove";
    private static final String APPROVER = "h.marsh";
    /** The password of every demo user. */
    private static final String PASSWORD = "skerry-line";

    private final Api api;
    private final URI server;
    private final List<SimulatedHost> hosts = Fleet.make();
    private final List<Release> releases = Release.all();
    private final Outside outside = new Outside(releases);
    private final Analyst analyst;
    private final Operator operator;
    /** Advisories that only their provider publishes. */
    private final List<Release> unpublished = Release.ofProvider();

    private Publisher publisher;
    /** When the history ended. */
    private Instant lastDay;

    private LivingFleet living;

    private SkerryLine(URI server, String token) throws IOException {
        this.server = server;
        this.api = new Api(server, token);
        this.analyst = new Analyst(api, new Api(server, token), APPROVER, PASSWORD);
        this.operator = new Operator(new Api(server, token), OPERATOR, PASSWORD);
    }

    public static void main(String[] arguments) throws Exception {
        if (arguments.length != 4 || !arguments[0].equals("--server") || !arguments[2].equals("--token-file")) {
            System.err.println("simulator: takes --server ADDRESS --token-file FILE");
            System.exit(2);
        }
        SkerryLine skerryLine = new SkerryLine(
                URI.create(arguments[1]),
                Files.readString(Path.of(arguments[3])).strip());
        try {
            skerryLine.playHistory();
            skerryLine.playOn();
        } catch (Api.ServerGoneException e) {
            System.err.println("simulator: the server has gone: " + e.getCause());
        }
    }

    private void playHistory() throws IOException {
        long begun = System.nanoTime();
        api.signIn(ANALYST, PASSWORD);
        api.put("/api/populations", populations(LocalDate.ofInstant(api.now(), ZoneOffset.UTC)));
        for (int daysAgo = DAYS - 1; daysAgo >= 0; daysAgo--) {
            api.advanceOneDay();
            Instant now = api.now();
            report(daysAgo, now);
            for (Release release : releases) {
                if (release.daysAgo() == daysAgo) {
                    publish(release, now);
                }
            }
            outside.on(daysAgo, now)
                    .forEach(published -> api.document(published.name(), published.content(), published.remarks()));
            LocalDate today = LocalDate.ofInstant(now, ZoneOffset.UTC);
            analyst.decide(daysAgo, today);
            operator.say(daysAgo, today);
            if (daysAgo % 30 == 0 && daysAgo > 0) {
                System.out.println(
                        "Playing the history of Skerry Line: " + (DAYS - daysAgo) + " of " + DAYS + " days ...");
            }
        }
        subscribe();
        living = new LivingFleet(api, hosts, releases, lastDay);
        living.hearFirst();
        System.out.printf(
                "The demo is ready after %d s: %s%n",
                Duration.ofNanos(System.nanoTime() - begun).toSeconds(), server);
        System.out.printf(
                "  analyst %s, reader j.fenn, service desk s.orrin, operator %s, approver %s, administrator k.strand%n  password of all: %s%n",
                ANALYST, OPERATOR, APPROVER, PASSWORD);
    }

    /** Whoever is in the sample of a pilot tries it; whoever has not tried when it ends or fails does so no more. */
    private void hearOfPilots(int daysAgo, Instant now) {
        Map<String, Map<String, Integer>> sampled = new HashMap<>();
        for (JsonNode pilot : api.get("/api/pilots")) {
            boolean offers = !List.of("FAILED", "ENDED", "STOPPED")
                    .contains(pilot.path("state").asString());
            for (JsonNode host : pilot.path("hosts")) {
                boolean waits = host.path("state").asString().equals("NOT_TRIED");
                if (waits && offers || !waits && !host.path("state").asString().equals("REPLACED")) {
                    int drawn = daysAgo
                            + (int) Duration.between(
                                            Instant.parse(host.path("since").asString()), now)
                                    .toDays();
                    sampled.computeIfAbsent(pilot.path("update").asString(), id -> new HashMap<>())
                            .put(host.path("host").path("name").asString(), drawn);
                }
            }
        }
        releases.replaceAll(release -> release.tried(sampled.getOrDefault(release.id(), Map.of())));
    }

    private void report(int daysAgo, Instant now) {
        hearOfPilots(daysAgo, now);
        api.report(hosts.parallelStream()
                .filter(host -> host.reportsOn(daysAgo))
                .map(host -> host.inventory(releases, daysAgo, now))
                .collect(Collectors.joining()));
    }

    private void publish(Release release, Instant now) {
        if (release.hasAdvisory()) {
            api.document(release.id().toLowerCase() + ".csaf.json", release.advisory(now));
        }
        api.document(release.id().toLowerCase() + ".notice.json", release.notice(now));
    }

    /**
     * From here on the outside world is fetched, not sent: the administrator has added its addresses and trusts its
     * key.
     */
    private void subscribe() {
        Instant now = api.now();
        lastDay = now;
        publisher = new Publisher(now.minus(Duration.ofDays(400)));
        publishOutside(now);
        Release signed = release("FTM-0891");
        publisher.advisory(signed.id(), signed.advisory(now), now.minus(Duration.ofHours(5)), Publisher.Signing.RIGHT);
        Release altered = release("FTM-0892");
        publisher.advisory(
                altered.id(),
                altered.advisory(now),
                now.minus(Duration.ofHours(4)),
                Publisher.Signing.ALTERED_AFTERWARDS);
        Api administrator = new Api(server, "");
        administrator.signIn("k.strand", PASSWORD);
        // Somebody who answered for an exception left the company.
        administrator.post(
                "/api/accounts",
                Map.of(
                        "name",
                        "r.kell",
                        "displayName",
                        "R. Kell",
                        "role",
                        "READER",
                        "populations",
                        List.of(),
                        "password",
                        "for-a-day-" + UUID.randomUUID()));
        administrator.delete("/api/accounts/r.kell");
        administrator.post("/api/allowed-hosts", Map.of("name", "127.0.0.1"));
        administrator.post("/api/trusted-keys", Map.of("armored", publisher.publicKey()));
        feed(administrator, "Exploit probabilities", "DOCUMENT", publisher.address("/exploit-probabilities.csv"));
        feed(
                administrator,
                "Exploited vulnerabilities",
                "DOCUMENT",
                publisher.address("/exploited-vulnerabilities.json"));
        feed(administrator, "Fathom statements", "DOCUMENT", publisher.address("/statements.openvex.json"), "OPENVEX");
        feed(
                administrator,
                "Lantern known issues",
                "DOCUMENT",
                publisher.address("/known-issue-lnt-ki-107.json"),
                "KNOWN_ISSUES");
        feed(administrator, "Fathom advisories", "CSAF_PROVIDER", publisher.providerMetadata());
    }

    /** @param formats that it may bring; none: the usual ones */
    private static void feed(Api administrator, String name, String kind, String address, String... formats) {
        administrator.post(
                "/api/feeds",
                Map.of(
                        "name",
                        name,
                        "kind",
                        kind,
                        "address",
                        address,
                        "everyMinutes",
                        360,
                        "formats",
                        List.of(formats)));
    }

    private void publishOutside(Instant now) {
        outside.fetched(lastDay, now).forEach(published -> publisher.put("/" + published.name(), published.content()));
    }

    private Release release(String id) {
        return unpublished.stream()
                .filter(release -> release.id().equals(id))
                .findFirst()
                .orElseThrow();
    }

    /** Goes on until the server is gone: hosts live, and what comes later comes out on its day. */
    private void playOn() throws InterruptedException {
        Instant begun = api.now();
        Instant played = begun;
        int day = 0;
        while (true) {
            Instant now = api.step();
            if (Duration.between(played, now).compareTo(OFTEN) < 0) {
                Thread.sleep(500);
                continue;
            }
            living.liveUntil(now);
            int today = -(int) Duration.between(begun, now).toDays();
            for (Release release : releases) {
                if (release.daysAgo() < day && release.daysAgo() >= today) {
                    publish(release, now);
                }
            }
            if (today < day) {
                publishOutside(now);
            }
            day = today;
            played = now;
        }
    }

    /**
     * The ladder, of which some populations stay at a release whose support ends some weeks after the history, with the
     * holidays of the coming weeks.
     */
    static String populations(LocalDate begun) throws IOException {
        LocalDate end = begun.plusDays(DAYS);
        Map<String, LocalDate> days = Map.of(
                "SUPPORT OF 6 ENDS", end.plusDays(DAYS_OF_SUPPORT_LEFT),
                "QUAY DAY", end.plusDays(5).with(TemporalAdjusters.next(DayOfWeek.WEDNESDAY)),
                "MIDWINTER MONDAY", Analyst.holidayMonday(end),
                "HARBOUR DAYS BEGIN", end.plusDays(180),
                "HARBOUR DAYS END", end.plusDays(181));
        String ladder = resource("/populations.json");
        for (Map.Entry<String, LocalDate> day : days.entrySet()) {
            ladder = ladder.replace(day.getKey(), day.getValue().toString());
        }
        return ladder;
    }

    private static String resource(String name) throws IOException {
        try (InputStream in = SkerryLine.class.getResourceAsStream(name)) {
            return new String(in.readAllBytes(), StandardCharsets.UTF_8);
        }
    }
}
