package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.net.http.HttpRequest.BodyPublishers;
import java.time.DayOfWeek;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.time.temporal.TemporalAdjusters;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import lucid.server.LucidServer.Answer;
import lucid.server.LucidServer.Client;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

class HolidaysTest {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    private static final LocalDate TODAY = LocalDate.now(ZoneOffset.UTC);
    private static final LocalDate QUAY_DAY = TODAY.plusDays(10).with(TemporalAdjusters.next(DayOfWeek.WEDNESDAY));

    @BeforeAll
    static void someHosts() {
        SERVER.populations(Examples.POPULATIONS);
        SERVER.machine().documents(Map.of("n.json", Examples.notice("HOL-1", "1", "2.0")));
        SERVER.machine()
                .report(Examples.hosts(Map.of("ksk-1", "kiosk 1.0", "off-1", "desktop 1.0"))
                        .getBytes());
        Answer saved = save(ladder());
        assertThat(saved.status()).as(saved.text()).isEqualTo(200);
    }

    private static Answer save(String ladder) {
        return SERVER.analyst().send("PUT", "/api/populations", "application/json", BodyPublishers.ofString(ladder));
    }

    private static String ladder() {
        return Examples.POPULATIONS.strip().replaceFirst("]\\}$", """
                        ], "holidays": [{"name": "Shore", "populations": ["kiosks"],
                          "days": [{"day": "%s", "name": "Quay Day"}]}]}""".formatted(QUAY_DAY));
    }

    private static Answer read(String file) {
        return SERVER.analyst()
                .send("POST", "/api/populations/holidays", "text/calendar", BodyPublishers.ofString(file));
    }

    private static JsonNode preview(String type, String population, LocalDate until) {
        return SERVER.analyst()
                .post("/api/verdicts/preview", Examples.verdict("HOL-1", type, population, until, "UNTESTED"))
                .json()
                .get(0);
    }

    @Test
    void aDeferralSaysThatItLetsGoOnAHoliday() {
        JsonNode on = preview("DEFER", "kiosks", QUAY_DAY.minusDays(1)).path("fewThere");
        assertThat(on.path("when").asString()).isEqualTo("ON_HOLIDAY");
        assertThat(on.path("holiday").asString()).isEqualTo("Quay Day");
        assertThat(preview("DEFER", "kiosks", QUAY_DAY.minusDays(2))
                        .path("fewThere")
                        .path("when")
                        .asString())
                .isEqualTo("BEFORE_HOLIDAY");
        assertThat(preview("DEFER", "kiosks", QUAY_DAY).has("fewThere"))
                .as("a Thursday like any other")
                .isFalse();
        assertThat(preview("DEFER", "desktops", QUAY_DAY.minusDays(1)).has("fewThere"))
                .as("a holiday of others")
                .isFalse();
        assertThat(preview("BLOCK", "kiosks", QUAY_DAY.minusDays(1)).has("fewThere"))
                .as("a block lets nothing go by itself")
                .isFalse();
    }

    @Test
    void aPilotIsToBeAnsweredOnAWorkingDay() {
        JsonNode pilot = preview("PILOT", "kiosks", QUAY_DAY);
        assertThat(pilot.path("fewThere").path("holiday").asString()).isEqualTo("Quay Day");
        assertThat(pilot.path("slack").asString()).isEqualTo("ENOUGH");
        assertThat(preview("PILOT", "kiosks", TODAY.plusDays(2)).path("slack").asString())
                .isEqualTo("NONE");
    }

    @Test
    void theyAreWordedRecordedAndWarnedOfBeforeTheyRunOut() {
        JsonNode view = SERVER.analyst().get("/api/populations").json();
        assertThat(view.path("holidays").toString())
                .isEqualTo(
                        ("[{'name':'Shore','populations':['kiosks'],'days':[{'first':'%s','last':'%s','name':'Quay Day'}]}]")
                                .replace('\'', '"')
                                .formatted(QUAY_DAY, QUAY_DAY));
        assertThat(SERVER.analyst().get("/api/record").text())
                .contains("the holidays of Shore, for kiosks: Quay Day " + QUAY_DAY);
        assertThat(SERVER.analyst()
                        .post("/api/populations/preview", JsonMapper.shared().readValue(ladder(), Map.class))
                        .json()
                        .path("warnings")
                        .toString())
                .contains("The holidays of Shore are known until", "bring in the next");
        assertThat(SERVER.analyst().get("/api/populations/document").text()).contains("Quay Day");
        assertThat(SERVER.rebuilt().fleet().ladder().holidays()).hasSize(1);
    }

    @Test
    void anICalendarFileIsReadAndNothingIsKept() {
        String day = DateTimeFormatter.BASIC_ISO_DATE.format(TODAY.plusDays(40));
        JsonNode read = read("""
                        BEGIN:VCALENDAR
                        NAME:Fjordene
                        BEGIN:VEVENT
                        DTSTART;VALUE=DATE:%s
                        SUMMARY:Bølgedag
                        END:VEVENT
                        BEGIN:VEVENT
                        DTSTART:20270105T180000
                        SUMMARY:Party
                        END:VEVENT
                        END:VCALENDAR
                        """.formatted(day)).json();
        assertThat(read.path("name").asString()).isEqualTo("Fjordene");
        assertThat(read.path("days").get(0).path("name").asString()).isEqualTo("Bølgedag");
        assertThat(read.path("days").get(0).path("first").asString())
                .isEqualTo(TODAY.plusDays(40).toString());
        assertThat(read.path("leftOut").toString()).contains("event 2 (Party)", "time of the day");
        assertThat(SERVER.analyst().get("/api/populations/document").text()).doesNotContain("Bølgedag");
    }

    @Test
    void whatCannotBeReadIsRefusedInWords() {
        assertThat(List.of(read("no calendar"), read("")))
                .allSatisfy(refused -> assertThat(refused.status()).isEqualTo(422));
        assertThat(read("no calendar").json().path("detail").asString()).contains("no iCalendar file");
        Client analyst = SERVER.analyst();
        Answer unknown = analyst.send(
                "POST",
                "/api/populations/preview",
                "application/json",
                BodyPublishers.ofString(ladder().replace("[\"kiosks\"]", "[\"ships\"]")));
        assertThat(unknown.status()).isEqualTo(422);
        assertThat(unknown.json().path("field").asString()).isEqualTo("/holidays/0/populations/0");
        Answer noDay = analyst.send(
                "POST",
                "/api/populations/preview",
                "application/json",
                BodyPublishers.ofString(ladder().replace(QUAY_DAY.toString(), "2027-02-30")));
        assertThat(noDay.status()).isEqualTo(422);
        assertThat(noDay.json().path("field").asString()).startsWith("/holidays/0/days/0");
    }

    @Test
    void whatTheRuleWillDoStandsOnItsDay() {
        JsonNode steps = SERVER.analyst().get("/api/in-force/by-rule").json();
        JsonNode kiosks = steps.get(0);
        assertThat(kiosks.path("populationName").asString()).isEqualTo("Ticket kiosks");
        assertThat(kiosks.path("what").asString()).isEqualTo("OFFERED");
        assertThat(kiosks.path("day").asString()).isEqualTo(TODAY.plusDays(5).toString());
        assertThat(kiosks.path("updates").asInt()).isEqualTo(1);
        assertThat(kiosks.path("first").toString())
                .isEqualTo("[{\"update\":\"HOL-1\",\"title\":\"Desk 2.0\",\"hosts\":1}]");
        assertThat(steps.size()).as("it never offers anything to desktops").isEqualTo(1);
    }

    @Test
    void whatBecomesOfThemIsPreviewedAndRecordedInFewWords() {
        String many = IntStream.range(0, 1_900)
                .mapToObj(day -> "{\"day\": \"%s\", \"name\": \"A day with a name of some length\"}"
                        .formatted(QUAY_DAY.plusDays(1 + day)))
                .collect(Collectors.joining(", ", ", ", ""));
        String longer =
                ladder().replace("\"Quay Day\"}", "\"Quay Day\"}" + many).replace("[\"kiosks\"]", "[]");
        assertThat(preview(longer).toString())
                .contains(
                        "the holidays of Shore: whose they are from for kiosks to for all, added A day with",
                        "and 1895 more");
        assertThat(preview(Examples.POPULATIONS).toString()).contains("no longer the holidays of Shore");
        assertThat(preview(ladder())).as("as they are").isEmpty();
        assertThat(save(longer).status()).isEqualTo(200);
        assertThat(save(ladder()).status()).isEqualTo(200);
        assertThat(SERVER.analyst().get("/api/record").text()).contains("left out A day with");
    }

    private static JsonNode preview(String ladder) {
        return SERVER.analyst()
                .send("POST", "/api/populations/preview", "application/json", BodyPublishers.ofString(ladder))
                .json()
                .path("holidays");
    }
}
