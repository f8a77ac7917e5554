package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.awaitility.Awaitility.await;

import java.io.IOException;
import java.io.InputStream;
import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.Statement;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.zip.ZipFile;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.JsonNode;

/**
 * Data that an older version wrote opens in this one, whole. Whoever adds a migration adds a backup of the schema
 * before it to {@code older/}.
 */
class OlderDataTest {

    /** So many days before its own a demo begins. */
    private static final int DEMO_DAYS = 90;

    @TempDir
    Path folder;

    /** Days that have passed since the backup of the test was made. */
    private long daysSince;

    /**
     * Two advisories, a notice, three hosts, a refused document, a verdict and an exception, as written with schema
     * version 1.
     */
    @Test
    void aBackupOfTheFirstSchemaOpensAndIsWrittenOn() throws Exception {
        Path data = folder.resolve("data");
        assertThat(ChildServer.run("restore", backup("schema-1.zip").toString(), "--data", data.toString())
                        .output())
                .contains("The record is whole");
        ChildServer server = started(data);
        LucidServer.Client analyst = server.analyst();

        JsonNode judged = analyst.get("/api/cases/OLD-1").json();
        assertThat(judged.path("verdicts").size()).isEqualTo(1);
        assertThat(judged.path("exceptions").size()).isEqualTo(1);
        assertThat(analyst.get("/api/carriers/OLD-1/hosts.csv").text())
                .contains("old-1,Ticket kiosks,")
                .contains("desk 1.0")
                .contains("old-3,Office desktops,");
        assertThat(analyst.get("/api/carriers").json().path("rows").size()).isEqualTo(2);
        assertThat(analyst.get("/api/documents").text()).contains("broken.json").contains("REJECTED");
        assertThat(analyst.get("/api/record").text())
                .contains("Blocked OLD-1")
                .contains("Made an exception: withhold OLD-1");

        assertThat(analyst.documents(Map.of("n.json", Examples.notice("NEW-1", "1", "3.0")))
                        .text())
                .contains("ACCEPTED");
        server.kill();
        assertThat(ChildServer.run("verify-record", "--data", data.toString()).output())
                .contains("The record is whole");
    }

    /** The same, as it stood after the third version had opened it. */
    @Test
    void aBackupOfTheThirdSchemaOpensAndTakesEvidence() throws Exception {
        Path data = folder.resolve("third");
        assertThat(ChildServer.run("restore", backup("schema-3.zip").toString(), "--data", data.toString())
                        .output())
                .contains("The record is whole");
        ChildServer server = started(data);
        LucidServer.Client analyst = server.analyst();
        assertThat(analyst.get("/api/cases/OLD-1").json().path("verdicts").size())
                .isEqualTo(1);
        assertThat(analyst.get("/api/carriers/OLD-1/hosts.csv").text()).contains("old-1,Ticket kiosks,");
        assertThat(analyst.post(
                                "/api/not-affected-notes",
                                Map.of("update", "OLD-1", "where", "name = old-1", "reason", "not used"))
                        .status())
                .isEqualTo(201);
        server.kill();
        assertThat(started(data)
                        .analyst()
                        .get("/api/cases/OLD-1")
                        .json()
                        .path("evidence")
                        .path("notes")
                        .size())
                .isEqualTo(1);
    }

    /**
     * With saved weights, a note, an exception, a filter, a feed, tokens and an operator, as the fourth version had
     * written them.
     */
    @Test
    void aBackupOfTheFourthSchemaOpensWithEverybodysRights() throws Exception {
        Path data = folder.resolve("fourth");
        assertThat(ChildServer.run("restore", backup("schema-4.zip").toString(), "--data", data.toString())
                        .output())
                .contains("The record is whole");
        ChildServer server = started(data);
        LucidServer.Client analyst = server.analyst();
        JsonNode judged = analyst.get("/api/cases/OLD-1").json();
        assertThat(judged.path("verdicts").size()).isEqualTo(1);
        assertThat(judged.path("exceptions").size()).isEqualTo(1);
        assertThat(judged.path("evidence").path("notes").size()).isEqualTo(1);
        assertThat(judged.path("evidence").path("reports").size()).isEqualTo(1);
        assertThat(analyst.get("/api/weights")
                        .json()
                        .path("weights")
                        .path("vagueIssue")
                        .asDouble())
                .isEqualTo(0.06);
        assertThat(analyst.get("/api/host-filters").text()).contains("kiosks");
        LucidServer.Client administrator = server.administrator();
        assertThat(administrator.get("/api/feeds").text())
                .contains("\"vendor\"", "KNOWN_ISSUES")
                .doesNotContain("POPULATIONS");
        assertThat(administrator.get("/api/tokens").text()).contains("host-old", "local-import");
        assertThat(administrator.get("/api/accounts").text()).contains("\"op\"", "kiosks");
        server.kill();
    }

    /**
     * Every decision means what it meant for its author, though the rules for new ones are others since the sixth
     * schema.
     */
    @Test
    void decisionsOfTheFifthSchemaKeepTheirMeaning() throws Exception {
        Path data = folder.resolve("fifth");
        assertThat(ChildServer.run("restore", backup("schema-5.zip").toString(), "--data", data.toString())
                        .output())
                .contains("The record is whole");
        ChildServer server = started(data);
        LucidServer.Client analyst = server.analyst();
        server.machine().post("/api/clock/advances", Map.of("hours", 24 * 10));
        assertThat(holds(analyst, "FIVE-BLOCKED", "ksk-1")).isEqualTo("WITHHELD by VERDICT");
        assertThat(holds(analyst, "FIVE-NEXT", "ksk-1"))
                .as("let go over the block that was there")
                .isEqualTo("OFFERED by VERDICT");
        assertThat(holds(analyst, "FIVE-PAST", "ksk-1"))
                .as("a force ended with its due day")
                .doesNotContain("VERDICT");
        assertThat(holds(analyst, "FIVE-OPEN", "ksk-1")).isEqualTo("OFFERED by VERDICT");
        assertThat(holds(analyst, "FIVE-OPEN", "ksk-2")).isEqualTo("WITHHELD by EXCEPTION");
        JsonNode left = analyst.get("/api/cases/FIVE-LEFT").json();
        assertThat(left.path("cues"))
                .as("an answer was for all populations, and is looked at again after 30 days")
                .isEmpty();
        assertThat(left.path("acknowledgements").get(0).path("populations")).isEmpty();
        assertThat(left.path("acknowledgements").get(0).path("lookAgain").asString())
                .isNotEmpty();
        assertThat(left.path("evidence").path("notes").size()).isEqualTo(1);
        assertThat(analyst.get("/api/weights")
                        .json()
                        .path("weights")
                        .path("vagueIssue")
                        .asDouble())
                .isEqualTo(0.07);
        server.kill();
    }

    /**
     * The seventh schema names tables and columns anew and gives lists tables of their own: nothing of them is lost.
     */
    @Test
    void listsOfTheSixthSchemaStandInTablesOfTheirOwn() throws Exception {
        Path data = folder.resolve("sixth");
        assertThat(ChildServer.run("restore", backup("schema-6.zip").toString(), "--data", data.toString())
                        .output())
                .contains("The record is whole");
        ChildServer server = started(data);
        LucidServer.Client analyst = server.analyst();
        assertThat(holds(analyst, "SIX-BLOCKED", "ksk-1")).isEqualTo("WITHHELD by VERDICT");
        assertThat(holds(analyst, "SIX-BLOCKED", "ksk-2")).isEqualTo("WITHHELD by EXCEPTION");
        assertThat(holds(analyst, "SIX-NEXT", "ksk-1"))
                .as("over the block that it names")
                .startsWith("OFFERED by");
        assertThat(holds(analyst, "SIX-NEXT", "ksk-2"))
                .as("over the exception that it names")
                .startsWith("OFFERED by");
        assertThat(analyst.get("/api/cases/SIX-BLOCKED")
                        .json()
                        .path("verdicts")
                        .get(0)
                        .path("reasons")
                        .toString())
                .contains("UNTESTED", "KNOWN_ISSUE");
        JsonNode left = analyst.get("/api/cases/SIX-LEFT").json();
        assertThat(left.path("acknowledgements").get(0).path("populations").toString())
                .isEqualTo("[\"kiosks\"]");
        assertThat(left.path("evidence").path("notes").size()).isEqualTo(1);
        assertThat(left.path("evidence").path("dismissedFailures").size()).isEqualTo(1);
        assertThat(analyst.get("/api/hosts/ksk-1").json().path("traits").toString())
                .as("what a table told")
                .contains("spool_free_mb", "77");
        assertThat(analyst.get("/api/documents").text()).contains("ACCEPTED").doesNotContain("TAKEN");
        LucidServer.Client administrator = server.administrator();
        assertThat(administrator.get("/api/feeds").text()).contains("KNOWN_ISSUES");
        assertThat(administrator.get("/api/tokens").text()).contains("CSAF");
        assertThat(administrator.get("/api/accounts").text()).contains("\"op\"", "[\"kiosks\"]");
        analyst.post("/api/hosts/ksk-2/retirement", Map.of("reason", "scrapped"));
        server.kill();
        ChildServer again = started(data);
        assertThat(again.analyst()
                        .get("/api/hosts/ksk-2")
                        .json()
                        .path("retirement")
                        .path("reason")
                        .asString())
                .isEqualTo("scrapped");
        again.kill();
    }

    /** The eighth schema keeps who lacked an update when it was left to the rule; of older answers nobody knows. */
    @Test
    void answersOfTheSeventhSchemaStandAndNewOnesKeepWhoLackedIt() throws Exception {
        Path data = folder.resolve("seventh");
        assertThat(ChildServer.run("restore", backup("schema-7.zip").toString(), "--data", data.toString())
                        .output())
                .contains("The record is whole");
        ChildServer server = started(data);
        LucidServer.Client analyst = server.analyst();
        assertThat(analyst.get("/api/cases/SIX-BLOCKED")
                        .json()
                        .path("acknowledgements")
                        .get(0)
                        .path("populations")
                        .toString())
                .isEqualTo("[\"kiosks\"]");
        assertThat(analyst.get("/api/hosts/ksk-2")
                        .json()
                        .path("retirement")
                        .path("reason")
                        .asString())
                .isEqualTo("scrapped");
        JsonNode weights = analyst.get("/api/weights").json();
        assertThat(weights.path("weights").path("namedIssue").asDouble()).isEqualTo(0.61);
        assertThat(analyst.get("/api/host-filters").text()).contains("population=kiosks");
        assertThat(analyst.post("/api/acknowledgements", Map.of("updates", List.of("SIX-BLOCKED")))
                        .status())
                .isEqualTo(201);
        String version =
                analyst.get("/api/cases/SIX-BLOCKED").json().path("version").asString();
        server.kill();
        ChildServer again = started(data);
        assertThat(again.analyst()
                        .get("/api/cases/SIX-BLOCKED")
                        .json()
                        .path("version")
                        .asString())
                .isEqualTo(version);
        again.kill();
    }

    /** The ninth schema keeps what was read of documents; those of before are read once, and then count as they did. */
    @Test
    void documentsOfTheEighthSchemaCountAsTheyDid() throws Exception {
        Path data = folder.resolve("eighth");
        assertThat(ChildServer.run("restore", backup("schema-8.zip").toString(), "--data", data.toString())
                        .output())
                .contains("The record is whole");
        String before = "";
        // Read once at the first start; from the second on they come from what was kept.
        for (int start = 0; start < 2; start++) {
            ChildServer server = started(data);
            LucidServer.Client analyst = server.analyst();
            JsonNode judged = analyst.get("/api/cases/EIGHT-1").json();
            JsonNode update = judged.path("update");
            assertThat(update.path("summary").asString()).startsWith("A long word on it.");
            assertThat(update.path("fixes").toString()).contains("\"end\":\"2.6\"");
            assertThat(update.path("firstRead").asString()).isEqualTo("2026-08-30T23:57:41.421Z");
            assertThat(update.path("revisions").size()).isEqualTo(2);
            assertThat(update.path("kind").asString()).isEqualTo("CUMULATIVE");
            assertThat(update.path("supersedes").toString()).contains("SIX-BLOCKED");
            assertThat(update.path("remedies").toString()).contains("Keep it shut.");
            JsonNode evidence = judged.path("evidence");
            assertThat(evidence.path("vulnerabilities").get(0).path("addedRead").asString())
                    .isEqualTo("2026-08-30T23:57:41.836Z");
            assertThat(evidence.path("vulnerabilities").get(0).path("scores").toString())
                    .contains("0.42");
            assertThat(evidence.path("issues").toString()).contains("The printer stays dark", "NINE-1", "role = kiosk");
            assertThat(evidence.path("reports").toString()).contains("Yard/R-8", "ksk-1", "\"others\":4");
            assertThat(evidence.path("notAffected").path("count").asInt()).isEqualTo(4);
            assertThat(analyst.get("/api/documents/readings").text()).isEqualTo("[]");
            String version = judged.path("version").asString();
            assertThat(before.isEmpty() ? version : before).isEqualTo(version);
            before = version;
            server.kill();
        }
    }

    /** The failure of a host was dismissed before it was kept which failure was meant. */
    @Test
    void aBackupOfTheNinthSchemaKeepsWhatWasDismissed() throws Exception {
        Path data = folder.resolve("ninth");
        assertThat(ChildServer.run("restore", backup("schema-9.zip").toString(), "--data", data.toString())
                        .output())
                .contains("The record is whole");
        ChildServer server = started(data);
        LucidServer.Client analyst = server.analyst();
        JsonNode evidence = analyst.get("/api/cases/EIGHT-1").json().path("evidence");
        assertThat(evidence.path("tries").path("failed").path("count").asInt()).isZero();
        assertThat(evidence.path("dismissedFailures").path(0).path("host").asString())
                .isEqualTo("ksk-1");
        assertThat(evidence.path("dismissedFailures").path(0).has("code")).isFalse();
        assertThat(analyst.post(
                                "/api/failure-reports",
                                Map.of("update", "EIGHT-1", "hosts", "ksk-1", "words", "dark again"))
                        .status())
                .isEqualTo(201);
        assertThat(analyst.get("/api/cases/EIGHT-1")
                        .json()
                        .path("evidence")
                        .path("tries")
                        .path("failed")
                        .path("count")
                        .asInt())
                .as("a later failure is another one")
                .isEqualTo(1);
        server.kill();
    }

    @Test
    void aBackupOfTheTenthSchemaKeepsTheFailureThatWasDismissedAndTakesNotes() throws Exception {
        Path data = folder.resolve("tenth");
        assertThat(ChildServer.run("restore", backup("schema-10.zip").toString(), "--data", data.toString())
                        .output())
                .contains("The record is whole");
        ChildServer server = started(data);
        LucidServer.Client analyst = server.analyst();
        JsonNode dismissed =
                analyst.get("/api/cases/EIGHT-1").json().path("evidence").path("dismissedFailures");
        assertThat(dismissed.size()).isEqualTo(2);
        assertThat(dismissed.path(1).path("code").asString()).isEqualTo("E7");
        assertThat(analyst.post("/api/case-notes", Map.of("update", "EIGHT-1", "words", "asked the vendor"))
                        .status())
                .isEqualTo(201);
        server.kill();
        assertThat(started(data)
                        .analyst()
                        .get("/api/cases/EIGHT-1")
                        .json()
                        .path("evidence")
                        .path("caseNotes")
                        .path(0)
                        .path("words")
                        .asString())
                .isEqualTo("asked the vendor");
    }

    /** The twelfth schema has pilots and freezes; verdicts of before have neither. */
    @Test
    void verdictsOfTheEleventhSchemaStandAndAFreezeIsKept() throws Exception {
        Path data = folder.resolve("eleventh");
        assertThat(ChildServer.run("restore", backup("schema-11.zip").toString(), "--data", data.toString())
                        .output())
                .contains("The record is whole");
        ChildServer server = started(data);
        LucidServer.Client analyst = server.analyst();
        JsonNode verdict =
                analyst.get("/api/cases/EIGHT-1").json().path("verdicts").path(0);
        assertThat(verdict.path("type").asString()).isEqualTo("FORCE");
        assertThat(verdict.path("words").asString()).isEqualTo("of the eleventh schema");
        assertThat(verdict.path("pilot").isMissingNode()).isTrue();
        assertThat(analyst.get("/api/pilots").json().size()).isZero();
        assertThat(analyst.post(
                                "/api/freezes",
                                Map.of(
                                        "populations",
                                        List.of("kiosks"),
                                        "until",
                                        Instant.parse(analyst.get("/api/clock")
                                                        .json()
                                                        .path("now")
                                                        .asString())
                                                .plus(Duration.ofDays(2))
                                                .toString(),
                                        "reason",
                                        "a holiday"))
                        .status())
                .isEqualTo(201);
        server.kill();
        ChildServer again = started(data);
        assertThat(again.analyst().get("/api/freezes").text()).contains("a holiday");
        again.kill();
    }

    @Test
    void aPilotAndAFreezeOfTheTwelfthSchemaStandAndCautionIsKept() throws Exception {
        Path data = folder.resolve("twelfth");
        assertThat(ChildServer.run("restore", backup("schema-12.zip").toString(), "--data", data.toString())
                        .output())
                .contains("The record is whole");
        ChildServer server = started(data);
        LucidServer.Client analyst = server.analyst();
        assertThat(analyst.get("/api/pilots").json().path(0).path("update").asString())
                .isEqualTo("OLD-1");
        JsonNode freeze = analyst.get("/api/freezes").json().path(0);
        assertThat(freeze.path("reason").asString()).isEqualTo("a weekend of the twelfth schema");
        assertThat(freeze.path("ends").size()).as("for all at once").isEqualTo(1);
        Instant now = Instant.parse(analyst.get("/api/clock").json().path("now").asString());
        assertThat(analyst.post(
                                "/api/cautions",
                                Map.of(
                                        "level",
                                        "WATCHFUL",
                                        "until",
                                        now.plus(Duration.ofDays(9)).toString().substring(0, 10),
                                        "reason",
                                        "a bad week"))
                        .status())
                .isEqualTo(201);
        server.kill();
        ChildServer again = started(data);
        assertThat(again.analyst().get("/api/cautions").text()).contains("a bad week");
        again.kill();
    }

    @Test
    void whatTheThirteenthSchemaDecidedReachesItsHostsAsItDid() throws Exception {
        Path data = folder.resolve("thirteenth");
        assertThat(ChildServer.run("restore", backup("schema-13.zip").toString(), "--data", data.toString())
                        .output())
                .contains("The record is whole");
        ChildServer server = started(data);
        LucidServer.Client analyst = server.analyst();
        assertThat(analyst.get("/api/cautions").text()).contains("a caution of the thirteenth schema");
        assertThat(analyst.get("/api/proposals").text()).contains("proposed in the thirteenth schema");
        assertThat(analyst.get("/api/freezes").text()).contains("in parts of the thirteenth schema");
        JsonNode verdicts = analyst.get("/api/cases/EIGHT-1").json().path("verdicts");
        assertThat(verdicts.path(0).path("words").asString()).isEqualTo("a force of the thirteenth schema");
        JsonNode delivery = verdicts.path(0).path("delivery");
        assertThat(delivery.path("ends").size()).as("for all at once").isZero();
        assertThat(delivery.path("removes").asBoolean()).isFalse();
        assertThat(analyst.get("/api/populations/document").text()).contains("\"dueAfterDays\" : 3");
        Instant now = Instant.parse(analyst.get("/api/clock").json().path("now").asString());
        Map<String, Object> inParts = new HashMap<>(Map.of(
                "update",
                "OLD-2",
                "revision",
                analyst.get("/api/cases/OLD-2")
                        .json()
                        .path("update")
                        .path("revision")
                        .asString(),
                "type",
                "DEFER",
                "populations",
                List.of("kiosks"),
                "until",
                now.plus(Duration.ofDays(9)).toString().substring(0, 10),
                "reasons",
                List.of("UNTESTED")));
        inParts.put("spread", Map.of("parts", 2, "daysApart", 3, "moved", List.of()));
        inParts.put("byOperator", Map.of("checklist", List.of("close the till"), "order", List.of()));
        LucidServer.Answer made = analyst.post("/api/verdicts", inParts);
        assertThat(made.status()).as(made.text()).isEqualTo(201);
        server.kill();
        ChildServer again = started(data);
        JsonNode kept = again.analyst()
                .get("/api/cases/OLD-2")
                .json()
                .path("verdicts")
                .path(0)
                .path("delivery");
        assertThat(kept.path("ends").size()).isEqualTo(2);
        assertThat(kept.path("byOperator").path("checklist").toString()).isEqualTo("[\"close the till\"]");
        again.kill();
    }

    @Test
    void whatTheFourteenthSchemaTookForAnAllClearIsAskedAbout() throws Exception {
        Path data = folder.resolve("fourteenth");
        assertThat(ChildServer.run("restore", backup("schema-14.zip").toString(), "--data", data.toString())
                        .output())
                .contains("The record is whole");
        ChildServer server = started(data);
        LucidServer.Client analyst = server.analyst();
        assertThat(analyst.get("/api/cases/OLD-2").text()).contains("in parts of the fourteenth schema");
        assertThat(analyst.get("/api/hosts/fourteen").text()).contains("libtls3");
        assertThat(analyst.get("/api/cases/HLY-2026-014")
                        .json()
                        .path("update")
                        .path("unread")
                        .size())
                .as("it counts as it was read")
                .isZero();
        await().atMost(Duration.ofMinutes(3))
                .until(() -> analyst.get("/api/documents/readings").text().contains("stranger.json"));
        assertThat(analyst.post("/api/documents/readings", Map.of()).status()).isEqualTo(204);
        assertThat(analyst.get("/api/documents/readings").text()).isEqualTo("[]");
        JsonNode settled = analyst.get("/api/cases/HLY-2026-014").json();
        assertThat(settled.path("update").path("unread").size()).isEqualTo(12);
        assertThat(settled.path("cues").get(0).path("type").asString()).isEqualTo("PRODUCTS_NOT_READ");
        server.kill();
    }

    /** The sixteenth schema renews exceptions; those of before are the first of their chains. */
    @Test
    void whatTheFifteenthSchemaExceptedGoesOn() throws Exception {
        Path data = folder.resolve("fifteenth");
        assertThat(ChildServer.run("restore", backup("schema-15.zip").toString(), "--data", data.toString())
                        .output())
                .contains("The record is whole");
        ChildServer server = started(data);
        LucidServer.Client analyst = server.analyst();
        JsonNode exception = analyst.get("/api/exceptions?show=ALL&text=fifteenth")
                .json()
                .path("rows")
                .get(0);
        assertThat(exception.path("number").asLong()).isEqualTo(3);
        assertThat(exception.path("renewals").asInt()).isZero();
        assertThat(exception.path("history").size()).isEqualTo(1);
        assertThat(exception.path("endsWhen").isMissingNode()).isTrue();
        assertThat(exception.path("measure").asString()).isEqualTo("kept off the network");
        assertThat(analyst.get("/api/carriers/OLD-2/past?on=2026-09-01").status())
                .isEqualTo(200);
        await().atMost(Duration.ofMinutes(3))
                .until(() -> analyst.get("/api/documents/readings").text().contains("exploited.json"));
        assertThat(analyst.post("/api/documents/readings", Map.of()).status()).isEqualTo(204);
        assertThat(analyst.get("/api/documents/readings").text()).isEqualTo("[]");
        server.kill();
    }

    /** Nobody had counted any day then but the one that has just ended, and nothing was kept with its verdicts. */
    @Test
    void whatTheSixteenthSchemaRenewedAndForcedGoesOn() throws Exception {
        Path data = folder.resolve("sixteenth");
        assertThat(ChildServer.run("restore", backup("schema-16.zip").toString(), "--data", data.toString())
                        .output())
                .contains("The record is whole");
        ChildServer server = started(data);
        LucidServer.Client analyst = server.analyst();
        JsonNode renewed = analyst.get("/api/exceptions?show=ALL&text=sixteenth")
                .json()
                .path("rows")
                .valueStream()
                .filter(row -> row.path("number").asLong() == 4)
                .findFirst()
                .orElseThrow();
        assertThat(renewed.path("renewals").asInt()).isEqualTo(1);
        assertThat(analyst.get("/api/addresses/CALENDAR").json().path("since").isString())
                .as("the address of the calendar goes on")
                .isTrue();
        assertThat(analyst.get("/api/addresses/FEED").json().path("since").isString())
                .isFalse();
        JsonNode sheet = analyst.get("/api/verdicts/9/sheet").json();
        assertThat(sheet.path("words").asString()).isEqualTo("forced under the sixteenth schema");
        assertThat(sheet.has("stood")).as("it was not kept").isFalse();
        assertThat(analyst.get("/api/carriers").json().path("keptDays").size()).isLessThan(2);
        assertThat(analyst.get("/api/carriers?on=2026-08-01").status()).isEqualTo(422);
        assertThat(analyst.get("/api/report/time-to-carry").status()).isEqualTo(200);
        assertThat(analyst.get("/api/digest-mail").json().has("mail")).isFalse();
        server.kill();
    }

    /** The eighteenth schema keeps what sources have; what hosts heard before, and the key, go on. */
    @Test
    void whatHostsHeardUnderTheSeventeenthSchemaGoesOn() throws Exception {
        Path data = folder.resolve("seventeenth");
        assertThat(ChildServer.run("restore", backup("schema-17.zip").toString(), "--data", data.toString())
                        .output())
                .contains("The record is whole");
        ChildServer server = started(data);
        LucidServer.Client analyst = server.analyst();
        assertThat(analyst.get("/api/orders-key").json().path("id").asString())
                .isEqualTo("vUCubnAeh_3ScI7_6gGfEaygIBTCXX7m5VhVBx0lJcE");
        JsonNode heard = analyst.get("/api/hosts/old-1/heard").json();
        assertThat(heard.path("became").asString()).isEqualTo("IN_FORCE");
        assertThat(heard.path("serial").asLong()).isEqualTo(1788274621225L);
        assertThat(analyst.get("/api/hosts/old-1").json().has("lists")).isFalse();
        assertThat(analyst.get("/api/cases/OLD-2/sources")
                        .json()
                        .path("notTold")
                        .path("count")
                        .asInt())
                .as("nobody told what sources have")
                .isPositive();
        server.kill();
    }

    /** The nineteenth schema lets somebody see to a case; a note from before is for whoever comes next. */
    @Test
    void notesAndAsksOfTheEighteenthSchemaGoOn() throws Exception {
        Path data = folder.resolve("eighteenth");
        assertThat(ChildServer.run("restore", backup("schema-18.zip").toString(), "--data", data.toString())
                        .output())
                .contains("The record is whole");
        ChildServer server = started(data);
        LucidServer.Client analyst = server.analyst();
        JsonNode note = analyst.get("/api/cases/OLD-2")
                .json()
                .path("evidence")
                .path("caseNotes")
                .path(0);
        assertThat(note.path("words").asString()).isEqualTo("asked under the eighteenth schema");
        assertThat(note.has("assignee")).isFalse();
        assertThat(note.has("lookAgain")).isFalse();
        assertThat(analyst.get("/api/asks").text()).contains("old-1");
        server.kill();
    }

    /** The twentieth schema lets exceptions be proposed, handed over and objected for; what was so before goes on. */
    @Test
    void whatWasProposedAndGivenUnderTheNineteenthSchemaGoesOn() throws Exception {
        Path data = folder.resolve("nineteenth");
        assertThat(ChildServer.run("restore", backup("schema-19.zip").toString(), "--data", data.toString())
                        .output())
                .contains("The record is whole");
        ChildServer server = started(data);
        LucidServer.Client analyst = server.analyst();
        JsonNode note = analyst.get("/api/cases/OLD-2")
                .json()
                .path("evidence")
                .path("caseNotes")
                .path(0);
        assertThat(note.path("words").asString()).isEqualTo("given under the nineteenth schema");
        assertThat(note.path("assignee").asString()).isEqualTo("K. Strand");
        assertThat(note.has("objectsTo")).isFalse();
        assertThat(analyst.get("/api/responsibilities?person=T.+Brevik").text()).contains("Exception no. 4 on ");
        assertThat(analyst.get("/api/approval-rules").json().toString())
                .isEqualTo("{\"forces\":[1],\"disturbs\":[1],\"excepts\":[]}");
        assertThat(analyst.get("/api/proposals")
                        .json()
                        .valueStream()
                        .map(proposal -> proposal.path("state").asString() + " " + proposal.path("grounds")))
                .containsExactly(
                        "LAPSED [{\"type\":\"FORCES\",\"tier\":1}]", "WAITING [{\"type\":\"OVERRIDES_EXCEPTION\"}]");
        server.kill();
    }

    /** The twenty-first schema finds what changed on hosts by product; what changed before is told as it was. */
    @Test
    void whatChangedUnderTheTwentiethSchemaIsFoundByProduct() throws Exception {
        Path data = folder.resolve("twentieth");
        assertThat(ChildServer.run("restore", backup("schema-20.zip").toString(), "--data", data.toString())
                        .output())
                .contains("The record is whole");
        ChildServer server = started(data);
        LucidServer.Client analyst = server.analyst();
        server.machine().post("/api/clock/advances", Map.of("hours", 24 * 100));
        assertThat(analyst.get("/api/hosts/old-1")
                        .json()
                        .path("changes")
                        .valueStream()
                        .map(change -> change.path("build").asString() + ": "
                                + change.path("fromVersion").asString("none") + " to "
                                + change.path("toVersion").asString("none")))
                .containsExactly(
                        "pkg:deb/lantern/anchor on lantern-6 for amd64: 1.0-1 to 1.0-2",
                        "pkg:generic/desk: 2.0 to 3.0",
                        "pkg:deb/lantern/anchor on lantern-6 for amd64: none to 1.0-1",
                        "pkg:generic/desk: 1.0 to 2.0");
        assertThat(withoutIt(analyst, "2026-09-02")).contains("old-1 1.0", "old-2 2.0");
        assertThat(withoutIt(analyst, "2026-12-01")).contains("old-1 3.0", "old-2 2.0");
        assertThat(withoutIt(analyst, "2026-12-02")).contains("old-2 3.0");
        assertThat(analyst.get("/api/carriers/changes")
                        .json()
                        .path("days")
                        .valueStream()
                        .map(JsonNode::asString))
                .contains("2026-11-30", "2026-12-01", "2026-12-02");
        assertThat(analyst.get("/api/exceptions/proposals").text()).contains("proposed under the twentieth schema");
        server.kill();
    }

    /** The twenty-third schema keeps what updates require; what was read before requires nothing. */
    @Test
    void whatWasReadUnderTheTwentySecondSchemaRequiresNothing() throws Exception {
        Path data = folder.resolve("twenty-second");
        assertThat(ChildServer.run("restore", backup("schema-22.zip").toString(), "--data", data.toString())
                        .output())
                .contains("The record is whole");
        ChildServer server = started(data);
        LucidServer.Client analyst = server.analyst();
        JsonNode old = analyst.get("/api/cases/OLD-1").json();
        assertThat(old.toString()).contains("blocked under the twenty-second schema");
        assertThat(old.has("requires")).isFalse();
        assertThat(analyst.documents(
                                Map.of(
                                        "n.json",
                                        Examples.notice("NEW-1", "1", "9.0")
                                                .replace(
                                                        "\"fixes\"",
                                                        "\"requires\": [{\"product\": \"pkg:generic/loader\", \"atLeast\": \"2\"}, {\"trait\": \"role\", \"oneOf\": [\"kiosk\", \"bench\"]}], \"fixes\"")))
                        .text())
                .contains("ACCEPTED");
        server.kill();
        assertThat(started(data)
                        .analyst()
                        .get("/api/cases/NEW-1")
                        .json()
                        .path("requires")
                        .path("all")
                        .valueStream()
                        .map(required -> required.path("words").asString()))
                .containsExactly("loader 2 or later", "role kiosk or bench");
    }

    /** Hosts that did not carry OLD-2 for certain at the end of a day, each with the version it had. */
    private static List<String> withoutIt(LucidServer.Client analyst, String day) {
        return analyst.get("/api/carriers/OLD-2/past/hosts?on=" + day)
                .json()
                .path("hosts")
                .valueStream()
                .map(host -> host.path("name").asString() + " "
                        + host.path("versions").path(0).path("found").asString())
                .toList();
    }

    private static String holds(LucidServer.Client analyst, String update, String host) {
        JsonNode holds =
                analyst.get("/api/cases/" + update + "/rulings/" + host).json().path("holds");
        return holds.path("effect").asString() + " by " + holds.path("clause").asString();
    }

    @Test
    void dataOfANewerVersionIsRefusedInWords() throws Exception {
        Path data = folder.resolve("newer");
        ChildServer.run("restore", backup("schema-1.zip").toString(), "--data", data.toString());
        try (Connection database = DriverManager.getConnection("jdbc:h2:file:" + data.resolve("lucid"), "lucid", "");
                Statement statement = database.createStatement()) {
            statement.executeUpdate("""
                    insert into "flyway_schema_history" ("installed_rank", "version", "description", "type", "script", "installed_by", "execution_time", "success")
                    values (999, '999', 'of a later version', 'SQL', 'V999__of_a_later_version.sql', 'lucid', 1, true)
                    """);
        }
        assertThatThrownBy(() -> started(data))
                .hasMessageContaining("written by a newer version")
                .hasMessageNotContaining("\tat ");
    }

    /** The clock stands as on the day on which the backup was made: what stood for some days then does so still. */
    private ChildServer started(Path data, String... more) throws IOException, InterruptedException {
        Files.createDirectories(data);
        Files.writeString(data.resolve("demo"), Long.toString(DEMO_DAYS + daysSince));
        return ChildServer.start(data, more);
    }

    private Path backup(String name) throws IOException {
        Path file = folder.resolve(name);
        try (InputStream in = Objects.requireNonNull(OlderDataTest.class.getResourceAsStream("/older/" + name))) {
            Files.copy(in, file);
        }
        try (ZipFile zip = new ZipFile(file.toFile())) {
            Instant made = zip.stream().findFirst().orElseThrow().getTimeLocal().toInstant(ZoneOffset.UTC);
            daysSince = Duration.between(made, Instant.now()).toDays();
        }
        return file;
    }
}
