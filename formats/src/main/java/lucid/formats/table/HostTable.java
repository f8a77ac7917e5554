package lucid.formats.table;

import java.io.IOException;
import java.io.StringReader;
import java.io.UncheckedIOException;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.List;
import java.util.Set;
import java.util.stream.Stream;
import lucid.formats.document.RefusedDocumentException;
import lucid.formats.document.Texts;
import org.apache.commons.csv.CSVFormat;
import org.apache.commons.csv.CSVParser;
import org.apache.commons.csv.CSVRecord;

/**
 * A table of hosts as it stands in a file (RFC 4180; also with semicolons or tabs): headings and rows of cells, not yet
 * understood.
 *
 * @param rows each with the number of the line on which it ends, and its cells
 */
public record HostTable(List<String> headings, List<Row> rows) {

    private static final int MOST_COLUMNS = 200;
    private static final int MOST_ROWS = 200_000;

    public record Row(long line, List<String> cells) {}

    /** True if the first line has at least two cells, one of which names a column of hosts. */
    static boolean recognises(String text) {
        String first = text.lines().findFirst().orElse("");
        char delimiter = delimiter(first);
        return first.length() < 20_000
                        && Stream.of(first.split(String.valueOf(delimiter)))
                                .anyMatch(heading -> ColumnUse.suggested(heading.replace("\"", ""))
                                        .equals("host"))
                || first.chars().filter(c -> c == delimiter).count() >= 2;
    }

    private static char delimiter(String line) {
        return Stream.of(',', ';', '\t')
                .max(Comparator.comparingLong(
                        d -> line.chars().filter(c -> c == d).count()))
                .orElseThrow();
    }

    /** @throws RefusedDocumentException for a table without headings or rows, with a heading twice, or broken quotes */
    public static HostTable parse(String text) {
        CSVFormat format = CSVFormat.RFC4180
                .builder()
                .setDelimiter(delimiter(text.lines().findFirst().orElse("")))
                .setIgnoreEmptyLines(true)
                .setTrim(true)
                .get();
        List<String> headings = List.of();
        List<Row> rows = new ArrayList<>();
        try (CSVParser parser = CSVParser.parse(new StringReader(text), format)) {
            for (CSVRecord record : parser) {
                if (headings.isEmpty()) {
                    headings = requireHeadings(record.toList());
                } else if (rows.size() < MOST_ROWS) {
                    rows.add(new Row(parser.getCurrentLineNumber(), record.toList()));
                } else {
                    throw new RefusedDocumentException(
                            "line " + parser.getCurrentLineNumber(), "a table has at most " + MOST_ROWS + " rows");
                }
            }
        } catch (IOException | IllegalStateException | UncheckedIOException e) {
            throw new RefusedDocumentException("", "this is no sound table: " + e.getMessage());
        }
        if (rows.isEmpty()) {
            throw new RefusedDocumentException("line 1", "there is no row below the headings");
        }
        return new HostTable(headings, rows);
    }

    private static List<String> requireHeadings(List<String> headings) {
        for (String heading : headings) {
            try {
                Texts.line(heading);
            } catch (IllegalArgumentException e) {
                throw new RefusedDocumentException("line 1", "a heading " + e.getMessage());
            }
        }
        if (headings.size() > MOST_COLUMNS) {
            throw new RefusedDocumentException("line 1", "a table has at most " + MOST_COLUMNS + " columns");
        }
        Set<String> seen = new HashSet<>();
        for (String heading : headings) {
            if (!heading.isEmpty() && !seen.add(heading)) {
                throw new RefusedDocumentException("line 1", "two columns are headed '" + heading + "'");
            }
        }
        return headings;
    }
}
