package lucid.simulator;

import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.temporal.TemporalAdjusters;
import java.util.List;
import java.util.Map;
import tools.jackson.databind.JsonNode;

/** What the analyst of Skerry Line decided in the ninety days before the demo begins. */
final class Analyst {

    private final Api api;
    private final Api approving;
    private final String approver;
    private final String password;

    /**
     * @param api at which the analyst has signed in
     * @param approving at which the approver signs in with this name and password
     */
    Analyst(Api api, Api approving, String approver, String password) {
        this.api = api;
        this.approving = approving;
        this.approver = approver;
        this.password = password;
    }

    /** The Monday of the long weekend some weeks after the history. */
    static LocalDate holidayMonday(LocalDate end) {
        return end.plusDays(16).with(TemporalAdjusters.next(DayOfWeek.FRIDAY)).plusDays(3);
    }

    /** @param today the day that lies so many days before the end of the history */
    void decide(int daysAgo, LocalDate today) {
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
            case 8 ->
                approved(api.post(
                        "/api/proposals",
                        wording(
                                "GUL-0437",
                                "FORCE",
                                List.of("gate-controllers"),
                                today.plusDays(5),
                                "ROUTINE",
                                "the last ones without it lose the crane radio")));
            case 4 -> {
                // The holiday weekend in three weeks: from Friday evening on.
                LocalDate friday = holidayMonday(today.plusDays(4)).minusDays(3);
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
            case 2 -> {
                pilot(
                        "LNT-3051",
                        "ticket-kiosks",
                        Map.of("size", 58, "departments", List.of("Ticketing", "Skarf")),
                        today.plusDays(8),
                        "new firmware talks to the printers");
                api.post(
                        "/api/proposals",
                        wording(
                                "FTM-0869",
                                "FORCE",
                                List.of("bridge-consoles"),
                                today.plusDays(6),
                                "EXPLOITED",
                                "consoles in port are within reach of the harbour network"));
            }
            case 1 ->
                api.post(
                        "/api/verdicts",
                        Map.of(
                                "update",
                                "TRN-2236",
                                "revision",
                                "1",
                                "type",
                                "DEFER",
                                "populations",
                                List.of("booking-databases"),
                                "until",
                                today.toString(),
                                "reasons",
                                List.of("UNTESTED"),
                                "words",
                                "tried on the bench; the databases are restarted one after the other",
                                "byOperator",
                                Map.of(
                                        "checklist",
                                        List.of(
                                                "tell the booking desk",
                                                "move bookings to the other database of the pair",
                                                "install, restart, and wait until both are in step"),
                                        "order",
                                        List.of("bdb-09", "bdb-08"))));
            default -> {}
        }
    }

    /** The same exception again and again, each for about three weeks. */
    private void monthOff(int daysAgo) {
        LocalDate until = LocalDate.ofInstant(api.now(), ZoneOffset.UTC).plusDays(19);
        if (daysAgo == 60) {
            exception(
                    "LNT-7000",
                    "name in (bri-auk-1, ksk-171)",
                    until,
                    "ticket printer not certified",
                    "T. Brevik",
                    "printed by the old release only");
        } else {
            JsonNode standing =
                    api.get("/api/exceptions?text=bri-auk-1").path("rows").get(0);
            api.post(
                    "/api/exceptions/renewals",
                    Map.of(
                            "exceptions",
                            List.of(standing.path("number").asLong()),
                            "until",
                            until.toString(),
                            "reason",
                            "ticket printer still not certified"));
        }
    }

    /** A second person says yes to what was proposed. */
    private void approved(JsonNode proposed) {
        approving.signIn(approver, password);
        approving.post("/api/proposals/" + proposed.path("number").asLong() + "/approvals", Map.of());
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
}
