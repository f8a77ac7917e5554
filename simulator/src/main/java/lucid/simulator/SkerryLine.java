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
    /** The password of every demo user. */
    private static final String PASSWORD = "skerry-line";

    private final Api api;
    private final URI server;
    private final List<SimulatedHost> hosts = Fleet.make();
    private final List<Release> releases = Release.all();
    private final Outside outside = new Outside(releases);
    /** Advisories that only their provider publishes. */
    private final List<Release> unpublished = Release.ofProvider();

    private Publisher publisher;
    /** When the history ended. */
    private Instant lastDay;

    private SkerryLine(URI server, String token) throws IOException {
        this.server = server;
        this.api = new Api(server, token);
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
            System.err.println("simulator: the server has gone");
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
            outside.on(daysAgo, now).forEach(published -> api.document(published.name(), published.content()));
            decide(daysAgo, LocalDate.ofInstant(now, ZoneOffset.UTC));
            if (daysAgo % 30 == 0 && daysAgo > 0) {
                System.out.println(
                        "Playing the history of Skerry Line: " + (DAYS - daysAgo) + " of " + DAYS + " days ...");
            }
        }
        subscribe();
        System.out.printf(
                "The demo is ready after %d s: %s%n",
                Duration.ofNanos(System.nanoTime() - begun).toSeconds(), server);
        System.out.printf(
                "  analyst %s, reader j.fenn, service desk s.orrin, operator b.tove, approver h.marsh, administrator k.strand%n  password of all: %s%n",
                ANALYST, PASSWORD);
    }

    /** Whoever is in the sample of a pilot tries it; whoever has not tried when it ends or fails does so no more. */
    private void hearOfPilots(int daysAgo) {
        Map<String, Map<String, Integer>> sampled = new HashMap<>();
        for (JsonNode pilot : api.get("/api/pilots")) {
            boolean offers = !List.of("FAILED", "ENDED", "STOPPED")
                    .contains(pilot.path("state").asString());
            for (JsonNode host : pilot.path("hosts")) {
                boolean waits = host.path("state").asString().equals("NOT_TRIED");
                if (waits && offers || !waits && !host.path("state").asString().equals("REPLACED")) {
                    int drawn = daysAgo
                            + (int) Duration.between(
                                            Instant.parse(host.path("since").asString()), api.now())
                                    .toDays();
                    sampled.computeIfAbsent(pilot.path("update").asString(), id -> new HashMap<>())
                            .put(host.path("host").path("name").asString(), drawn);
                }
            }
        }
        releases.replaceAll(release -> release.tried(sampled.getOrDefault(release.id(), Map.of())));
    }

    private void report(int daysAgo, Instant now) {
        hearOfPilots(daysAgo);
        StringBuilder inventory = new StringBuilder();
        hosts.stream()
                .filter(host -> host.reportsOn(daysAgo))
                .forEach(host -> inventory.append(host.inventory(releases, daysAgo, now)));
        api.report(inventory.toString());
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

    /** What the analyst has decided before the demo begins. */
    private void decide(int daysAgo, LocalDate today) {
        switch (daysAgo) {
            case 72 -> leaveToTheRule("LNT-1098");
            case 60 -> monthOff(60);
            case 58 ->
                verdict(
                        "LNT-7000",
                        "BLOCK",
                        List.of("ticket-kiosks", "crew-tablets", "office-desktops"),
                        today.plusDays(62),
                        "COMPATIBILITY",
                        "the ticket printer's software is not certified for release 7");
            case 45 -> {
                pilot(
                        "LNT-1101",
                        "proving-bench",
                        Map.of("soakDays", 3),
                        today.plusDays(7),
                        "one machine of each kind, before anybody else");
                exception(
                        "LNT-7000",
                        "name in (off-003, off-004)",
                        today.plusDays(30),
                        "training course for the new release",
                        "A. Wren",
                        "course machines are set up anew each week");
            }
            case 43 -> leaveToTheRule("LNT-1101");
            case 41 -> monthOff(41);
            case 38 -> leaveToTheRule("GUL-0437");
            case 30 ->
                exception(
                        "GUL-0437",
                        "name = gate-skarf-04",
                        today.plusDays(20),
                        "radio bridge being replaced",
                        "T. Brevik",
                        "spare controller on site");
            case 28 ->
                exception(
                        "LNT-1101",
                        "name in (ksk-012, ksk-013)",
                        today.plusDays(31),
                        "terminal at the old harbour closes at the end of the month",
                        "A. Wren",
                        "staff sell by hand when it fails");
            case 26 ->
                exception(
                        "LNT-7000",
                        "name = tab-050",
                        today.plusDays(28),
                        "log book certified for release 6 only",
                        "R. Kell",
                        "kept off the ship's guest network");
            case 23 ->
                verdict(
                        "LNT-3042",
                        "BLOCK",
                        List.of("ticket-kiosks"),
                        today.plusDays(51),
                        "KNOWN_ISSUE",
                        "readers R2 in kiosks K2 are lost until the next start");
            case 22 -> monthOff(22);
            case 19 -> {
                verdict(
                        "FTM-0866",
                        "BLOCK",
                        List.of("yard-servers", "bridge-consoles"),
                        today.plusDays(60),
                        "FAILURES_SEEN",
                        "queued mail is lost when the disk is full");
                exception(
                        "LNT-1101",
                        "name = ksk-090",
                        today.plusDays(23),
                        "measuring instrument shares the machine",
                        "P. Lind",
                        "no other software is installed");
            }
            case 16 ->
                verdict(
                        "TRN-2240",
                        "DEFER",
                        List.of("yard-servers"),
                        today.plusDays(30),
                        "UNTESTED",
                        "wait for the second revision");
            case 11 ->
                note(
                        "LNT-1107",
                        "role = desktop and fingerprint_signin is not set",
                        "nobody signs in by fingerprint on these machines");
            case 15 ->
                exception(
                        "CST-0091",
                        "name in (bdb-04, bdb-05)",
                        today.plusDays(21),
                        "nightly settlement until the end of the month",
                        "D. Orrin",
                        "network access limited to the booking service");
            case 5 ->
                pilot(
                        "LNT-3051",
                        "ticket-kiosks",
                        Map.of("size", 58, "departments", List.of("Ticketing", "Skarf")),
                        today.plusDays(8),
                        "new firmware talks to the printers");
            case 4 -> {
                // The holiday weekend in three weeks: from Friday evening on.
                LocalDate friday = today.plusDays(20).with(TemporalAdjusters.next(DayOfWeek.FRIDAY));
                api.post(
                        "/api/freezes",
                        Map.of(
                                "populations",
                                List.of("gate-controllers", "ticket-kiosks", "crew-tablets"),
                                "from",
                                friday + "T18:00:00Z",
                                "until",
                                friday.plusDays(4) + "T06:00:00Z",
                                "reason",
                                "holiday weekend: every ship sails full"));
            }
            case 3 -> monthOff(3);
            case 2 ->
                api.post(
                        "/api/proposals",
                        wording(
                                "FTM-0869",
                                "FORCE",
                                List.of("bridge-consoles"),
                                today.plusDays(6),
                                "EXPLOITED",
                                "consoles in port are within reach of the harbour network"));
            default -> {}
        }
    }

    /** The same exception again and again, each for about three weeks. */
    private void monthOff(int daysAgo) {
        LocalDate today = LocalDate.ofInstant(api.now(), ZoneOffset.UTC);
        exception(
                "LNT-7000",
                "name in (bri-auk-1, ksk-171)",
                today.plusDays(19),
                daysAgo == 60 ? "ticket printer not certified" : "ticket printer still not certified",
                "T. Brevik",
                "printed by the old release only");
    }

    private void leaveToTheRule(String update) {
        api.post("/api/acknowledgements", Map.of("updates", List.of(update)));
    }

    private void note(String update, String where, String reason) {
        api.post("/api/not-affected-notes", Map.of("update", update, "where", where, "reason", reason));
    }

    private void pilot(String update, String population, Map<String, Object> pilot, LocalDate answerDay, String words) {
        api.post(
                "/api/verdicts",
                Map.of(
                        "update",
                        update,
                        "revision",
                        "1",
                        "type",
                        "PILOT",
                        "populations",
                        List.of(population),
                        "until",
                        answerDay.toString(),
                        "reasons",
                        List.of("UNTESTED"),
                        "words",
                        words,
                        "pilot",
                        pilot));
    }

    private void verdict(
            String update, String type, List<String> populations, LocalDate until, String reason, String words) {
        api.post("/api/verdicts", wording(update, type, populations, until, reason, words));
    }

    private static Map<String, Object> wording(
            String update, String type, List<String> populations, LocalDate until, String reason, String words) {
        return Map.of(
                "update",
                update,
                "revision",
                "1",
                "type",
                type,
                "populations",
                populations,
                "until",
                until.toString(),
                "reasons",
                List.of(reason),
                "words",
                words);
    }

    private void exception(
            String update, String hostsWhere, LocalDate until, String reason, String owner, String measure) {
        api.post(
                "/api/exceptions",
                Map.of(
                        "update",
                        update,
                        "scope",
                        "UPDATE",
                        "hosts",
                        hostsWhere,
                        "until",
                        until.toString(),
                        "reason",
                        reason,
                        "owner",
                        owner,
                        "measure",
                        measure));
    }

    /** Goes on until the server is gone: hosts live, and what comes later comes out on its day. */
    private void playOn() throws InterruptedException {
        Instant begun = api.now();
        Instant played = begun;
        int day = 0;
        LivingFleet living = new LivingFleet(api, hosts, releases, lastDay);
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

    /** The ladder, of which some populations stay at a release whose support ends some weeks after the history. */
    static String populations(LocalDate begun) throws IOException {
        return resource("/populations.json")
                .replace(
                        "SUPPORT OF 6 ENDS",
                        begun.plusDays(DAYS + DAYS_OF_SUPPORT_LEFT).toString());
    }

    private static String resource(String name) throws IOException {
        try (InputStream in = SkerryLine.class.getResourceAsStream(name)) {
            return new String(in.readAllBytes(), StandardCharsets.UTF_8);
        }
    }
}
