package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.stream.StreamSupport;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;

/** What the docket is narrowed to, how it is sorted, and what cannot be forced. */
class DocketFiltersTest {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    private static LucidServer.Client analyst;

    @BeforeAll
    static void cases() {
        analyst = SERVER.analyst();
        SERVER.populations(Examples.POPULATIONS);
        StringBuilder hosts = new StringBuilder();
        for (int i = 0; i < 20; i++) {
            hosts.append(Examples.host("df-" + i, i < 6 ? "kiosk" : "desktop", "1.0", Instant.now()));
        }
        SERVER.machine().report(hosts.toString().getBytes(StandardCharsets.UTF_8));
        analyst.documents(Map.of(
                "a.json", Examples.advisory("DF-1", "2.0"),
                "b.json", Examples.notice("DF-2", "1", "2.0"),
                "c.json",
                        Examples.notice("DF-3", "1", "2.0")
                                .replace("\"fixed\": \"2.0\"", "\"lastAffected\": \"1.9\"")));
    }

    private static JsonNode docket(String query) {
        LucidServer.Answer answer = analyst.get("/api/docket?" + query);
        assertThat(answer.status()).as(answer.text()).isEqualTo(200);
        return answer.json();
    }

    private static List<String> ids(String query) {
        return StreamSupport.stream(docket(query).path("cases").spliterator(), false)
                .map(one -> one.path("id").asString())
                .toList();
    }

    @Test
    void everyFilterNarrowsAndTheChoicesAreThoseOfWhatIsShown() {
        JsonNode all = docket("show=ALL");
        assertThat(all.path("matching").intValue()).isEqualTo(3);
        assertThat(all.path("choices").path("ratings").toString()).contains("UNRATED");
        String advised = all.path("choices").path("vendors").toString();
        assertThat(advised).contains("\"");
        for (JsonNode vendor : all.path("choices").path("vendors")) {
            assertThat(ids("show=ALL&vendor=" + vendor.asString().replace(" ", "+")))
                    .isNotEmpty();
        }
        assertThat(ids("show=ALL&vendor=Nobody")).isEmpty();
        assertThat(ids("show=ALL&kind=SECURITY")).containsExactly("DF-1");
        assertThat(ids("show=ALL&rating=UNRATED")).contains("DF-2").doesNotContain("DF-1");
        assertThat(ids("show=ALL&exploited=true")).isEmpty();
        assertThat(ids("show=ALL&owner=Nobody")).isEmpty();
        assertThat(ids("show=ALL&waiting=1")).isEmpty();
        assertThat(ids("show=ALL&waiting=0")).hasSize(3);
        assertThat(ids("show=ALL&suggestion=LEAVE_TO_RULE")).contains("DF-2");
        assertThat(ids("show=ALL&sort=RATING")).first().isEqualTo("DF-1");
        assertThat(analyst.get("/api/docket?rating=AWFUL").status()).isEqualTo(422);
    }

    @Test
    void whatCannotBeInstalledIsNeitherSuggestedNorForcedNorLetGo() {
        JsonNode judged = analyst.get("/api/cases/DF-3").json();
        assertThat(judged.path("populations").toString()).contains("NOTHING_TO_INSTALL");
        Map<String, Object> force = Map.of(
                "update",
                "DF-3",
                "revision",
                "1",
                "type",
                "FORCE",
                "populations",
                List.of("kiosks"),
                "until",
                LocalDate.now(ZoneOffset.UTC).plusDays(3).toString(),
                "reasons",
                List.of("EXPOSED"));
        for (String path : List.of("/api/verdicts", "/api/verdicts/preview")) {
            LucidServer.Answer answer = analyst.post(path, force);
            assertThat(answer.status()).as(path).isEqualTo(422);
            assertThat(answer.text()).contains("there is nothing to install").contains("\"type\"");
        }
    }
}
