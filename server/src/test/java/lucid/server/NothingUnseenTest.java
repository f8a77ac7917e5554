package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;

/** No case goes missing, and nothing is released or late without a word. Time passes here, and is not turned back. */
class NothingUnseenTest extends JudgingFixture {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    NothingUnseenTest() {
        super(SERVER);
    }

    /** Today is the day of each population. */
    private void letGo(String... populations) {
        Instant now = Instant.parse(
                SERVER.machine().get("/api/clock").json().path("now").asString());
        for (String population : populations) {
            Map<String, Object> draft = draft("DEFER", 0, population);
            draft.put(
                    "until",
                    LocalDate.ofInstant(now, population.equals("desktops") ? ZoneId.of("Asia/Tokyo") : ZoneOffset.UTC)
                            .toString());
            LucidServer.Answer given = SERVER.analyst().post("/api/verdicts", draft);
            assertThat(given.status()).as(given.text()).isEqualTo(201);
        }
    }

    @Test
    void aVerdictForOnePopulationAnswersForThatAlone() {
        SERVER.analyst().post("/api/verdicts", draft("FORCE", 3, "kiosks"));
        assertThat(strip().path("open"))
                .extracting(part -> part.path("population").asString())
                .containsExactly("desktops", "none");
        SERVER.analyst()
                .post("/api/acknowledgements", Map.of("updates", List.of(update), "populations", List.of("desktops")));
        assertThat(strip().path("open"))
                .extracting(part -> part.path("population").asString())
                .containsExactly("none");
        assertThat(record())
                .contains("Left " + update
                        + " to the rule for Office desktops; where the rule never offers it, it comes back on ");
        assertThat(SERVER.analyst()
                        .post("/api/verdicts", draft("FORCE", 3, "none"))
                        .json()
                        .path("verdicts")
                        .get(0)
                        .path("hosts")
                        .asInt())
                .as("hosts in no population are judged too")
                .isEqualTo(1);
        assertThat(strip().path("cues")).isEmpty();
        assertThat(holds("odd-1")).isEqualTo("OFFERED by VERDICT");
        assertThat(SERVER.analyst()
                        .post(
                                "/api/acknowledgements",
                                Map.of("updates", List.of(update), "populations", List.of("nobody")))
                        .json()
                        .path("field")
                        .asString())
                .isEqualTo("populations");
    }

    @Test
    void whatIsPastDueIsOverdueAndNeverGoesBackToTheRule() {
        SERVER.analyst().post("/api/verdicts", draft("FORCE", 1, "kiosks", "desktops", "none"));
        SERVER.machine().post("/api/clock/advances", Map.of("hours", 72));
        assertThat(cues()).as("of what was forced together").containsExactly("OVERDUE");
        assertThat(holds("off-1")).isEqualTo("OFFERED by VERDICT");
        assertThat(SERVER.reader().get("/api/hosts/off-1/updates").text()).contains(update);
        assertThat(SERVER.reader().get("/api/hosts?way=LACKS_FORCED").text()).contains("off-1", "ksk-1");
    }

    @Test
    void whatTheRuleNeverOffersComesBackWhenItWasLeftToIt() {
        SERVER.analyst().post("/api/acknowledgements", Map.of("updates", List.of(update)));
        assertThat(strip().path("cues")).isEmpty();
        SERVER.machine().post("/api/clock/advances", Map.of("hours", 31 * 24));
        assertThat(cues()).containsExactly("NEEDS_VERDICT");
        assertThat(strip().path("open"))
                .extracting(part -> part.path("population").asString())
                .containsExactly("desktops");
    }

    @Test
    void aSuccessorIsNotLetGoOverABlockThatNobodyNamed() {
        long block = SERVER.analyst()
                .post("/api/verdicts", draft("BLOCK", 14, "kiosks"))
                .json()
                .path("verdicts")
                .get(0)
                .path("number")
                .asLong();
        String blocked = update;
        update = "JU-NEXT-" + blocked;
        SERVER.machine()
                .documents(Map.of(
                        "n.json",
                        Examples.notice(update, "1", "2.5")
                                .replace("\"kind\"", "\"supersedes\": [\"" + blocked + "\"], \"kind\"")));
        assertThat(cues()).contains("SUPERSEDES_BLOCKED");
        assertThat(holds("ksk-1")).isEqualTo("WITHHELD by SUPERSEDES_BLOCKED");
        JsonNode worded = SERVER.analyst()
                .post("/api/verdicts/preview", draft("FORCE", 3, "kiosks"))
                .json()
                .get(0)
                .path("consequence");
        assertThat(worded.path("decided").path("count").asInt()).isZero();
        assertThat(worded.path("claimed").get(0).path("match").path("source").asLong())
                .isEqualTo(block);
        assertThat(worded.path("claimed").get(0).path("match").path("verdict").asString())
                .isEqualTo("BLOCK");
        letGo("desktops");
        assertThat(holds("ksk-1"))
                .as("a verdict for another population opens nothing here")
                .isEqualTo("WITHHELD by SUPERSEDES_BLOCKED");
        Map<String, Object> naming = draft("FORCE", 3, "kiosks");
        naming.put("overrides", List.of(block));
        SERVER.analyst().post("/api/verdicts", naming);
        assertThat(holds("ksk-1")).isEqualTo("OFFERED by VERDICT");
    }

    /** A platform release is a side door too: it brings the blocked change in without superseding the update. */
    @Test
    void whatBringsABlockedChangeInIsWithheldWithIt() {
        SERVER.analyst().post("/api/verdicts", draft("BLOCK", 14, "kiosks"));
        String blocked = update;
        update = "JU-RELEASE-" + blocked;
        SERVER.machine()
                .documents(Map.of(
                        "n.json",
                        Examples.notice(update, "1", "3.0")
                                .replace("\"kind\"", "\"brings\": [\"" + blocked + "\"], \"kind\"")));
        assertThat(holds("ksk-1")).isEqualTo("WITHHELD by SUPERSEDES_BLOCKED");
        assertThat(cues()).contains("SUPERSEDES_BLOCKED");
        assertThat(SERVER.reader()
                        .get("/api/cases/" + update)
                        .json()
                        .path("update")
                        .path("brings")
                        .get(0)
                        .asString())
                .isEqualTo(blocked);
        assertThat(SERVER.reader()
                        .get("/api/cases/" + blocked)
                        .json()
                        .path("update")
                        .path("broughtBy")
                        .get(0)
                        .asString())
                .isEqualTo(update);
        letGo("kiosks");
        assertThat(holds("ksk-1")).as("not without naming the block").isEqualTo("WITHHELD by SUPERSEDES_BLOCKED");
    }

    @Test
    void takingBackTellsFirstWhatItWouldRelease() {
        letGo("desktops");
        long block = SERVER.analyst()
                .post("/api/verdicts", draft("BLOCK", 14, "desktops"))
                .json()
                .path("verdicts")
                .get(0)
                .path("number")
                .asLong();
        assertThat(holds("off-1")).isEqualTo("WITHHELD by VERDICT");
        JsonNode told = SERVER.analyst()
                .get("/api/decisions/revocation?verdict=" + block)
                .json();
        assertThat(told).hasSize(1);
        assertThat(told.get(0).path("update").asString()).isEqualTo(update);
        assertThat(told.get(0).path("offered").path("names").toString()).isEqualTo("[\"off-1\"]");
        assertThat(holds("off-1")).as("nothing was done").isEqualTo("WITHHELD by VERDICT");
        long force = SERVER.analyst()
                .post("/api/verdicts", draft("FORCE", 14, "kiosks"))
                .json()
                .path("verdicts")
                .get(0)
                .path("number")
                .asLong();
        JsonNode withheld = SERVER.analyst()
                .get("/api/decisions/revocation?verdict=" + force)
                .json();
        assertThat(withheld.get(0).path("offered").path("count").asInt()).isZero();
        assertThat(withheld.get(0).path("withheld").path("count").asInt()).isEqualTo(2);
        assertThat(SERVER.analyst()
                        .get("/api/decisions/revocation?exception=4711")
                        .status())
                .isEqualTo(404);
    }

    @Test
    void whatIsInForceStandsInOnePlaceWithWhatItsEndBrings() {
        SERVER.analyst().post("/api/verdicts", draft("BLOCK", 14, "desktops"));
        SERVER.analyst().post("/api/verdicts", draft("FORCE", 3, "kiosks"));
        SERVER.analyst()
                .post("/api/acknowledgements", Map.of("updates", List.of(update), "populations", List.of("none")));
        Map<String, Object> exception = new HashMap<>(Map.of(
                "update",
                update,
                "scope",
                "UPDATE",
                "hosts",
                "name = ksk-2",
                "until",
                inDays(40).toString(),
                "reason",
                "certificate",
                "owner",
                "D. Orrin",
                "measure",
                ""));
        SERVER.analyst().post("/api/exceptions", exception);
        JsonNode page = SERVER.reader().get("/api/in-force?text=" + update).json();
        assertThat(page.path("rows"))
                .extracting(row ->
                        row.path("kind").asString() + " " + row.path("hosts").path("names"))
                .containsExactly("FORCE [\"ksk-1\"]", "BLOCK [\"off-1\"]", "EXCEPTION [\"ksk-2\"]");
        assertThat(page.path("rows")
                        .get(1)
                        .path("then")
                        .get(0)
                        .path("match")
                        .path("end")
                        .isMissingNode())
                .as("the rule never offers it")
                .isTrue();
        assertThat(page.path("people").toString()).contains("M. Aldane", "D. Orrin");
        assertThat(SERVER.reader()
                        .get("/api/in-force?kind=EXCEPTION&person=D.%20Orrin&text=" + update)
                        .json()
                        .path("matching")
                        .asInt())
                .isEqualTo(1);
        assertThat(SERVER.reader()
                        .get("/api/in-force?population=desktops&text=" + update)
                        .json()
                        .path("matching")
                        .asInt())
                .isEqualTo(1);
        assertThat(SERVER.reader().get("/api/in-force?population=nobody").status())
                .isEqualTo(404);
        assertThat(SERVER.reader()
                        .get("/api/in-force/decisions.csv?text=" + update)
                        .text()
                        .lines())
                .hasSize(4);
        SERVER.machine().post("/api/clock/advances", Map.of("hours", 24 * 5));
        assertThat(SERVER.reader()
                        .get("/api/in-force?kind=FORCE&text=" + update)
                        .json()
                        .path("rows")
                        .get(0)
                        .path("overdue")
                        .asBoolean())
                .isTrue();
    }

    /** What the factors make is what the beam shows, also where no population says the tier. */
    @Test
    void hostsInNoPopulationAreWeighedAsTheirFactorsSay() {
        SERVER.analyst()
                .post(
                        "/api/failure-reports",
                        Map.of(
                                "update",
                                update,
                                "failureClass",
                                "DEGRADED",
                                "hosts",
                                "odd-1",
                                "words",
                                "dark",
                                "code",
                                "E"));
        JsonNode row = SERVER.analyst()
                .get("/api/cases/" + update)
                .json()
                .path("populations")
                .valueStream()
                .filter(one -> one.path("id").asString().equals("none"))
                .findFirst()
                .orElseThrow();
        assertThat(row.path("tier").asInt()).isEqualTo(3);
        double hazard = row.path("weighing").path("hazard").path("middle").asDouble();
        double factors = row.path("weighing")
                .path("cells")
                .valueStream()
                .flatMap(cell -> cell.path("hazardFactors").valueStream())
                .mapToDouble(factor -> factor.path("weight").asDouble())
                .max()
                .orElse(0);
        assertThat(hazard).isPositive();
        assertThat(factors).as("weight of tier 3").isEqualTo(2);
    }

    @Test
    void anOfferIsOfTheFixesThatWereKnown() {
        letGo("kiosks", "desktops", "none");
        assertThat(holds("off-1")).isEqualTo("OFFERED by VERDICT");
        SERVER.machine().documents(Map.of("n.json", Examples.notice(update, "2", "2.5")));
        assertThat(holds("off-1")).isEqualTo("WITHHELD by STANDING_RULE");
        assertThat(cues()).contains("REVISED_FIXES", "NEEDS_VERDICT");
    }

    @Test
    void thatAnExceptionLapsedIsWrittenDownOnce() {
        LucidServer.Answer made = SERVER.analyst()
                .post(
                        "/api/exceptions",
                        Map.of(
                                "update",
                                update,
                                "scope",
                                "UPDATE",
                                "hosts",
                                "name in (ksk-1, off-1)",
                                "until",
                                inDays(10).toString(),
                                "reason",
                                "certified for the old one",
                                "owner",
                                "T. Brevik"));
        assertThat(made.status()).as(made.text()).isEqualTo(201);
        SERVER.machine().post("/api/clock/advances", Map.of("hours", 12 * 24));
        String lapsed = "Lucid Verdict: The exception on " + update
                + " where name in (ksk-1, off-1) lapsed: of its hosts 1 still withheld, 1 now offered; owner T. Brevik.";
        assertThat(record()).containsOnlyOnce(lapsed);
        SERVER.machine().post("/api/clock/advances", Map.of("hours", 24));
        assertThat(record()).containsOnlyOnce(lapsed);
        assertThat(cues()).contains("EXCEPTION_ENDED");
    }
}
