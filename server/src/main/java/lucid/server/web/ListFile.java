package lucid.server.web;

import java.io.IOException;
import java.io.OutputStream;
import java.io.OutputStreamWriter;
import java.io.UncheckedIOException;
import java.io.Writer;
import java.nio.charset.StandardCharsets;
import java.util.Iterator;
import java.util.List;
import java.util.stream.Stream;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVPrinter;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpInputMessage;
import org.springframework.http.HttpOutputMessage;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.http.converter.AbstractHttpMessageConverter;
import org.springframework.stereotype.Component;
import tools.jackson.core.JsonEncoding;
import tools.jackson.core.JsonGenerator;
import tools.jackson.databind.json.JsonMapper;

/**
 * A list as a file to download: CSV (RFC 4180) with a header line, or JSON, one object a row. Rows are written as they
 * are computed, so that a long list is never whole in memory.
 */
public final class ListFile {

    public static final MediaType CSV = new MediaType("text", "csv", StandardCharsets.UTF_8);

    private static final JsonMapper JSON = new JsonMapper();

    private final List<String> header;
    private final Stream<? extends List<?>> rows;

    private ListFile(List<String> header, Stream<? extends List<?>> rows) {
        this.header = header;
        this.rows = rows;
    }

    /** As CSV. */
    public static ResponseEntity<ListFile> csv(String name, List<String> header, Stream<? extends List<?>> rows) {
        return file(name, CSV, header, rows);
    }

    /** As JSON, which tells numbers from texts; names of members are the headings. */
    public static ResponseEntity<ListFile> json(String name, List<String> header, Stream<? extends List<?>> rows) {
        return file(name, MediaType.APPLICATION_JSON, header, rows);
    }

    private static ResponseEntity<ListFile> file(
            String name, MediaType type, List<String> header, Stream<? extends List<?>> rows) {
        return ResponseEntity.ok()
                .contentType(type)
                .header(HttpHeaders.CONTENT_DISPOSITION, "attachment; filename=\"" + name + "\"")
                .body(new ListFile(header, rows));
    }

    void writeCsv(OutputStream out) throws IOException {
        Writer writer = new OutputStreamWriter(out, StandardCharsets.UTF_8);
        try (rows) {
            CSVPrinter printer = new CSVPrinter(writer, CSVFormat.RFC4180);
            printer.printRecord(header);
            for (Iterator<? extends List<?>> each = rows.iterator(); each.hasNext(); ) {
                printer.printRecord(each.next().stream().map(ListFile::harmless));
            }
            printer.flush();
        } catch (UncheckedIOException e) {
            throw e.getCause();
        }
    }

    /** A spreadsheet takes a text that begins with one of these for a formula; an apostrophe keeps it a text. */
    private static Object harmless(Object value) {
        String text = String.valueOf(value);
        return !(value instanceof Number) && !text.isEmpty() && "=+-@\t\r".indexOf(text.charAt(0)) >= 0
                ? "'" + text
                : text;
    }

    void writeJson(OutputStream out) throws IOException {
        try (rows;
                JsonGenerator json = JSON.createGenerator(out, JsonEncoding.UTF8)) {
            json.writeStartArray();
            for (Iterator<? extends List<?>> each = rows.iterator(); each.hasNext(); ) {
                List<?> row = each.next();
                json.writeStartObject();
                for (int place = 0; place < header.size(); place++) {
                    json.writeName(header.get(place));
                    Object value = row.get(place);
                    if (value instanceof Integer || value instanceof Long) {
                        json.writeNumber(((Number) value).longValue());
                    } else {
                        json.writeString(String.valueOf(value));
                    }
                }
                json.writeEndObject();
            }
            json.writeEndArray();
        }
    }

    /** Puts lists into answers. */
    @Component
    static class Converter extends AbstractHttpMessageConverter<ListFile> {
        Converter() {
            super(CSV, MediaType.APPLICATION_JSON);
        }

        @Override
        protected boolean supports(Class<?> type) {
            return type == ListFile.class;
        }

        @Override
        protected boolean canRead(MediaType type) {
            return false;
        }

        @Override
        protected ListFile readInternal(Class<? extends ListFile> type, HttpInputMessage message) {
            throw new UnsupportedOperationException("lists are written only");
        }

        @Override
        protected void writeInternal(ListFile list, HttpOutputMessage message) throws IOException {
            if (MediaType.APPLICATION_JSON.isCompatibleWith(message.getHeaders().getContentType())) {
                list.writeJson(message.getBody());
            } else {
                list.writeCsv(message.getBody());
            }
        }
    }
}
