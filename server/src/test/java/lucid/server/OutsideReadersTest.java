package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;
import static org.junit.jupiter.api.Assumptions.assumeTrue;

import biweekly.Biweekly;
import biweekly.ICalendar;
import biweekly.component.VEvent;
import java.io.File;
import java.io.IOException;
import java.io.OutputStream;
import java.io.StringReader;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Stream;
import net.fortuna.ical4j.data.CalendarBuilder;
import net.fortuna.ical4j.data.ParserException;
import net.fortuna.ical4j.model.Component;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;

/** What other programs read of this one: calendars and monitors. */
class OutsideReadersTest extends JudgingFixture {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    OutsideReadersTest() {
        super(SERVER);
    }

    private static LocalDate in(int days) {
        return LocalDate.now(ZoneOffset.UTC).plusDays(days);
    }

    private void exception(String hosts, int days, String reason) {
        assertThat(SERVER.analyst()
                        .post(
                                "/api/exceptions",
                                Map.of(
                                        "update",
                                        update,
                                        "scope",
                                        "UPDATE",
                                        "hosts",
                                        hosts,
                                        "until",
                                        in(days).toString(),
                                        "reason",
                                        reason,
                                        "owner",
                                        "T. Brevik",
                                        "measure",
                                        ""),
                                "If-Match",
                                "*")
                        .status())
                .isEqualTo(201);
    }

    private static String makeAddress(LucidServer.Client person) {
        return person.post("/api/addresses/CALENDAR", Map.of())
                .json()
                .path("path")
                .asString();
    }

    @Test
    void twoIndependentReadersReadTheCalendar() throws IOException, ParserException {
        exception("name in (ksk-1, ksk-2)", 12, "printer, \"not\" certified; still");
        String address = makeAddress(SERVER.person("j.fenn"));
        LucidServer.Answer answer = SERVER.nobody().get(address);
        assertThat(answer.status()).isEqualTo(200);
        ICalendar first = Biweekly.parse(answer.text()).first();
        VEvent event = first.getEvents().stream()
                .filter(one -> one.getSummary().getValue().contains(update))
                .findFirst()
                .orElseThrow();
        assertThat(event.getSummary().getValue()).isEqualTo("Exception ends: " + update + " (Ticket kiosks)");
        assertThat(event.getDateStart().getValue().hasTime()).isFalse();
        assertThat(LocalDate.of(
                        event.getDateStart().getValue().getRawComponents().getYear(),
                        event.getDateStart().getValue().getRawComponents().getMonth(),
                        event.getDateStart().getValue().getRawComponents().getDate()))
                .isEqualTo(in(12));
        assertThat(event.getDescription().getValue())
                .contains("printer, \"not\" certified; still.", "2 hosts: ksk-1, ksk-2");
        assertThat(event.getUid().getValue()).startsWith("exceptiongrant-");
        List<? extends Component> second =
                new CalendarBuilder().build(new StringReader(answer.text())).getComponents();
        assertThat(second).hasSameSizeAs(first.getEvents());
        assertThat(answer.text().lines()).as("RFC 5545, section 3.1").allMatch(line -> line.getBytes().length <= 75);
    }

    @Test
    void theAddressIsSecretAndCanBeRevoked() {
        LucidServer.Client reader = SERVER.person("j.fenn");
        String first = makeAddress(reader);
        String second = makeAddress(reader);
        assertThat(SERVER.nobody().get(first).status())
                .as("another took its place")
                .isEqualTo(401);
        assertThat(SERVER.nobody().get(second).status()).isEqualTo(200);
        String key = URI.create(second).getQuery();
        assertThat(SERVER.nobody().get("/api/docket?" + key).status())
                .as("it opens nothing else")
                .isEqualTo(403);
        assertThat(SERVER.nobody().get("/api/calendar").status()).isEqualTo(401);
        assertThat(reader.get("/api/addresses/CALENDAR").json().path("since").isString())
                .isTrue();
        assertThat(reader.delete("/api/addresses/CALENDAR").status()).isEqualTo(204);
        assertThat(SERVER.nobody().get(second).status()).isEqualTo(401);
        assertThat(reader.delete("/api/addresses/CALENDAR").status()).isEqualTo(404);
        assertThat(SERVER.administrator()
                        .post("/api/tokens", Map.of("name", "cal", "scope", "CALENDAR"))
                        .status())
                .as("a calendar is a person's own")
                .isEqualTo(422);
    }

    @Test
    void aTokenOfAnotherKindIsNotTakenFromAnAddress() {
        String token = SERVER.administrator()
                .post("/api/tokens", Map.of("name", "watcher-2", "scope", "MONITOR"))
                .json()
                .path("token")
                .asString();
        assertThat(SERVER.nobody().get("/api/metrics?key=" + token).status()).isEqualTo(401);
    }

    private static final Pattern SAMPLE =
            Pattern.compile("([a-z_]+)(\\{(?:[a-z]+=\"(?:[^\"\\\\]|\\\\.)*\",?)*\\})? (-?[0-9.E]+|NaN)");

    @Test
    void aMonitorReadsCountsThatDoNotFlap() {
        exception("name = ksk-1", 3, "fair");
        String token = SERVER.administrator()
                .post("/api/tokens", Map.of("name", "watcher", "scope", "MONITOR"))
                .json()
                .path("token")
                .asString();
        LucidServer.Client monitor = SERVER.withToken(token);
        String text = monitor.get("/api/metrics").text();
        Map<String, Double> samples = new TreeMap<>();
        text.lines().filter(line -> !line.startsWith("#")).forEach(line -> {
            Matcher sample = SAMPLE.matcher(line);
            assertThat(sample.matches()).as(line).isTrue();
            samples.put(
                    sample.group(1) + (sample.group(2) == null ? "" : sample.group(2)),
                    Double.parseDouble(sample.group(3)));
        });
        assertThat(text.lines().filter(line -> line.startsWith("# TYPE")).map(line -> line.split(" ")[3]))
                .containsOnly("gauge");
        assertThat(samples)
                .containsEntry("lucid_pending_hosts{population=\"kiosks\",rating=\"unrated\"}", 2.0)
                .containsEntry("lucid_hosts{population=\"kiosks\"}", 3.0)
                .containsEntry("lucid_hosts{population=\"none\"}", 1.0)
                .containsEntry("lucid_overdue_hosts{population=\"kiosks\"}", 0.0);
        assertThat(samples.get("lucid_ending_exceptions")).isGreaterThanOrEqualTo(1.0);
        assertThat(samples).containsKey("lucid_cases_to_judge").containsKey("lucid_open_documents");
        assertThat(monitor.get("/api/docket").status()).isEqualTo(403);
        assertThat(monitor.get("/api/calendar").status()).isEqualTo(403);
    }

    /** The reader of the most common monitor, where this machine has it; see .ci/install. */
    @Test
    void metricsAreReadByAMonitorsOwnChecker() throws Exception {
        assumeTrue(isInstalled("promtool"), "promtool is not installed");
        SERVER.analyst().post("/api/verdicts", draft("BLOCK", 5, "kiosks"));
        Process checker = new ProcessBuilder("promtool", "check", "metrics")
                .redirectErrorStream(true)
                .start();
        try (OutputStream metrics = checker.getOutputStream()) {
            metrics.write(SERVER.reader().get("/api/metrics").text().getBytes(StandardCharsets.UTF_8));
        }
        String said = new String(checker.getInputStream().readAllBytes(), StandardCharsets.UTF_8);
        assertThat(checker.waitFor()).as(said).isZero();
        assertThat(said).isEmpty();
    }

    private static boolean isInstalled(String program) {
        return Stream.of(System.getenv("PATH").split(File.pathSeparator))
                .anyMatch(folder -> Files.isExecutable(Path.of(folder, program)));
    }
}
