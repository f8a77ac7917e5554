package lucid.formats;

import com.code_intelligence.jazzer.api.FuzzedDataProvider;
import com.code_intelligence.jazzer.junit.FuzzTest;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Map;
import java.util.Optional;
import lucid.core.update.ProductMappings;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.RefusedDocumentException;
import lucid.formats.holidays.HolidaysReader;

/**
 * Whatever comes is either read or refused with a reason; nothing else is thrown. Run by the tests on what was found
 * before, and by {@code ./lucid bench} on ever new input.
 */
class ReadersFuzzTest {

    private static final ReadingHints HINTS =
            new ReadingHints(Optional.of("tarn"), Optional.empty(), Map.of(), ProductMappings.NONE, Instant.EPOCH);

    private static void read(byte[] document) {
        refusedWithReason(() -> {
            ReadDocument read = Documents.read(document, HINTS);
            read.subject();
            read.revision();
        });
    }

    private static void refusedWithReason(Runnable reading) {
        try {
            reading.run();
        } catch (RefusedDocumentException e) {
            if (e.problems().isEmpty()
                    || e.problems().stream()
                            .anyMatch(p -> p.reason() == null || p.reason().isBlank())) {
                throw new IllegalStateException("refused without a reason", e);
            }
        }
    }

    private static void read(String before, FuzzedDataProvider data, String after) {
        read((before + data.consumeRemainingAsString() + after).getBytes(StandardCharsets.UTF_8));
    }

    @FuzzTest(maxDuration = "60s")
    void json(FuzzedDataProvider data) {
        switch (data.consumeInt(0, 3)) {
            case 0 ->
                read(
                        "{\"document\":{\"csaf_version\":\"2.0\",\"title\":\"t\",\"publisher\":{\"name\":\"p\"},\"tracking\":{\"id\":\"i\",\"version\":\"1\",\"initial_release_date\":\"2026-11-12T09:00:00Z\","
                                + "\"current_release_date\":\"2026-11-12T09:00:00Z\"}},",
                        data,
                        "}");
            case 1 -> read("{\"id\":\"i\",\"modified\":\"2026-11-12T09:00:00Z\",\"affected\":[", data, "]}");
            case 2 -> read("{\"bomFormat\":\"CycloneDX\",", data, "}");
            default -> read("{\"format\":\"update-notice-1\",", data, "}");
        }
    }

    @FuzzTest(maxDuration = "60s")
    void xml(FuzzedDataProvider data) {
        read(data.consumeBoolean() ? "<updates><update><id>" : "<repomd><data type=\"updateinfo\">", data, "");
    }

    @FuzzTest(maxDuration = "60s")
    void lines(FuzzedDataProvider data) {
        read(
                "{\"t\":\"host\",\"host\":\"h\",\"platform\":\"p\",\"at\":\"2026-11-12T09:00:00Z\"}\n{\"t\":",
                data,
                "\n{\"t\":\"end\",\"lines\":2}\n");
    }

    @FuzzTest(maxDuration = "60s")
    void tables(FuzzedDataProvider data) {
        read("host,platform,pkg:generic/x,site\n", data, "");
    }

    @FuzzTest(maxDuration = "60s")
    void compressed(byte[] document) {
        read(document);
    }

    @FuzzTest(maxDuration = "60s")
    void holidays(FuzzedDataProvider data) {
        String event = data.consumeBoolean() ? "BEGIN:VEVENT\nDTSTART;VALUE=DATE:20261225\nRRULE:" : "BEGIN:VEVENT\n";
        String file = "BEGIN:VCALENDAR\n" + event + data.consumeRemainingAsString() + "\nEND:VEVENT\nEND:VCALENDAR\n";
        refusedWithReason(() -> HolidaysReader.read(
                file.getBytes(StandardCharsets.UTF_8), LocalDate.parse("2026-12-01"), LocalDate.parse("2029-12-31")));
    }
}
