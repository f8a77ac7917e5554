package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.StreamSupport;
import org.junit.jupiter.api.BeforeEach;
import tools.jackson.databind.JsonNode;

/**
 * A new update for each test, kiosks with it, desktops whose rule never offers it and a host in no population, and what
 * is asked of them.
 */
abstract class JudgingFixture {

    private static final Set<LucidServer> PREPARED = new HashSet<>();
    private static int updates;

    private final LucidServer server;
    String update;

    JudgingFixture(LucidServer server) {
        this.server = server;
    }

    private void populations() {
        server.populations(Examples.POPULATIONS);
        assertThat(server.machine()
                        .documents(Map.of(
                                "h.jsonl",
                                Examples.hosts(Map.of(
                                        "ksk-1",
                                        "kiosk 1.0",
                                        "ksk-2",
                                        "kiosk 1.0",
                                        "ksk-3",
                                        "kiosk 9.0",
                                        "off-1",
                                        "desktop 1.0",
                                        "odd-1",
                                        "loan 1.0"))))
                        .status())
                .isEqualTo(200);
    }

    @BeforeEach
    void aNewUpdate() {
        if (PREPARED.add(server)) {
            populations();
        }
        update = "JU-" + ++updates;
        assertThat(server.machine()
                        .documents(Map.of("n.json", Examples.notice(update, "1", "2.0")))
                        .status())
                .isEqualTo(200);
    }

    LocalDate inDays(int days) {
        return LocalDate.ofInstant(
                        Instant.parse(server.machine()
                                .get("/api/clock")
                                .json()
                                .path("now")
                                .asString()),
                        ZoneOffset.UTC)
                .plusDays(days);
    }

    Map<String, Object> draft(String type, int days, String... populations) {
        return new HashMap<>(Map.of(
                "update",
                update,
                "revision",
                "1",
                "type",
                type,
                "populations",
                List.of(populations),
                "until",
                inDays(days).toString(),
                "reasons",
                List.of("UNTESTED")));
    }

    JsonNode strip() {
        return StreamSupport.stream(
                        server.reader().get("/api/docket").json().path("cases").spliterator(), false)
                .filter(c -> c.path("id").asString().equals(update))
                .findFirst()
                .orElseThrow();
    }

    /** Nobody has judged it; the rule of the desktops never offers it. */
    static final List<String> UNTOUCHED = List.of("NEEDS_VERDICT", "NEW");

    List<String> cues() {
        return StreamSupport.stream(strip().path("cues").spliterator(), false)
                .map(cue -> cue.path("type").asString())
                .toList();
    }

    /** What holds for a host. */
    String holds(String host) {
        JsonNode holds = server.reader()
                .get("/api/cases/" + update + "/rulings/" + host)
                .json()
                .path("holds");
        return holds.path("effect").asString() + " by " + holds.path("clause").asString();
    }

    String record() {
        return StreamSupport.stream(
                        server.reader()
                                .get("/api/record?subject=" + update)
                                .json()
                                .path("entries")
                                .spliterator(),
                        false)
                .map(e ->
                        e.path("author").asString() + ": " + e.path("sentence").asString())
                .reduce("", (a, b) -> a + b + "\n");
    }
}
