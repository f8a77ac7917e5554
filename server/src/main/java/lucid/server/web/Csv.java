package lucid.server.web;

import java.io.IOException;
import java.io.StringWriter;
import java.io.UncheckedIOException;
import java.util.List;
import java.util.stream.Stream;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;
import org.springframework.http.HttpHeaders;
import org.springframework.http.ResponseEntity;

/** Lists as files (RFC 4180). */
public final class Csv {

    private Csv() {}

    /** A CSV file to download, with a header line. */
    public static ResponseEntity<String> file(String name, List<String> header, Stream<? extends List<?>> rows) {
        StringWriter text = new StringWriter();
        try (CSVPrinter printer = new CSVPrinter(text, CSVFormat.RFC4180)) {
            printer.printRecord(header);
            rows.forEach(row -> {
                try {
                    printer.printRecord(row.stream().map(Csv::harmless));
                } catch (IOException e) {
                    throw new UncheckedIOException(e);
                }
            });
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return ResponseEntity.ok()
                .header(HttpHeaders.CONTENT_DISPOSITION, "attachment; filename=\"" + name + "\"")
                .body(text.toString());
    }

    /** A spreadsheet takes a text that begins with one of these for a formula; an apostrophe keeps it a text. */
    private static Object harmless(Object value) {
        String text = String.valueOf(value);
        return !(value instanceof Number) && !text.isEmpty() && "=+-@\t\r".indexOf(text.charAt(0)) >= 0
                ? "'" + text
                : text;
    }
}
