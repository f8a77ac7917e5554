package lucid.formats.table;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import lucid.core.fleet.HostName;
import lucid.core.fleet.HostReport;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Trait;
import lucid.formats.document.Content;
import lucid.formats.document.Format;
import lucid.formats.document.HostEvents;
import lucid.formats.document.Instants;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.RefusedDocumentException;
import lucid.formats.document.Texts;
import lucid.formats.document.TraitRow;

/**
 * Reads a table of hosts, one a row. With a column for the platform and one for a product each row is a report of the
 * host; without, its traits are kept beside what the host reports of itself.
 *
 * <p>A trait column holds numbers if all its cells are numbers, true or false if all are true, false, yes or no, else
 * text. An empty cell says nothing. A row with a fault is left out and named by its line, as is the second row of a
 * host.
 */
public final class HostTableReader {

    private static final int LONGEST_CELL = 500;
    private static final Set<String> TRUTHS = Set.of("true", "false", "yes", "no");

    private final HostTable table;
    private final ReadingHints hints;
    private final List<ColumnUse> uses;
    private final List<Trait.Type> types;
    private final List<Problem> problems = new ArrayList<>();

    private HostTableReader(HostTable table, ReadingHints hints) {
        this.table = table;
        this.hints = hints;
        this.uses = uses(table, hints);
        this.types = types(table, uses);
    }

    /** @throws RefusedDocumentException if no column is the host's name, or not a single row can be taken */
    static ReadDocument read(String text, ReadingHints hints) {
        return new HostTableReader(HostTable.parse(text), hints).read();
    }

    /**
     * What a table would be read as.
     *
     * @param used what each column is taken for, by its heading, in order
     * @param types of the trait columns, by their heading
     * @param firstRows at most ten
     * @param hosts how many rows could be taken
     * @param wholeReports true if each row is a report, false if it only adds traits
     */
    public record Preview(
            Map<String, String> used,
            Map<String, Trait.Type> types,
            List<List<String>> firstRows,
            int rows,
            int hosts,
            boolean wholeReports,
            List<Problem> problems) {}

    /** The same reading, of which nothing is kept; a table without any sound row is shown with its problems. */
    public static Preview preview(String text, ReadingHints hints) {
        HostTable table = HostTable.parse(text);
        Map<String, String> used = new LinkedHashMap<>();
        table.headings()
                .forEach(heading ->
                        used.put(heading, hints.columns().getOrDefault(heading, ColumnUse.suggested(heading))));
        List<List<String>> firstRows =
                table.rows().stream().limit(10).map(HostTable.Row::cells).toList();
        try {
            HostTableReader reader = new HostTableReader(table, hints);
            Map<String, Trait.Type> types = new LinkedHashMap<>();
            for (int i = 0; i < reader.uses.size(); i++) {
                if (reader.uses.get(i) instanceof ColumnUse.OfTrait) {
                    types.put(table.headings().get(i), reader.types.get(i));
                }
            }
            int hosts = reader.rows().size();
            return new Preview(
                    used,
                    types,
                    firstRows,
                    table.rows().size(),
                    hosts,
                    reader.wholeReports(),
                    List.copyOf(reader.problems));
        } catch (RefusedDocumentException e) {
            return new Preview(used, Map.of(), firstRows, table.rows().size(), 0, false, e.problems());
        }
    }

    private static List<ColumnUse> uses(HostTable table, ReadingHints hints) {
        for (String heading : hints.columns().keySet()) {
            if (!table.headings().contains(heading)) {
                throw new RefusedDocumentException("line 1", "there is no column '" + heading + "'");
            }
        }
        List<ColumnUse> uses = new ArrayList<>();
        Map<ColumnUse, String> taken = new HashMap<>();
        for (String heading : table.headings()) {
            ColumnUse use;
            try {
                use = ColumnUse.parse(hints.columns().getOrDefault(heading, ColumnUse.suggested(heading)));
            } catch (IllegalArgumentException e) {
                throw new RefusedDocumentException("column " + heading, e.getMessage());
            }
            String other = use instanceof ColumnUse.LeftOut ? null : taken.put(use, heading);
            if (other != null) {
                throw new RefusedDocumentException(
                        "line 1",
                        "the columns '" + other + "' and '" + heading
                                + "' are taken for the same; leave one of them out");
            }
            uses.add(use);
        }
        if (!uses.contains(new ColumnUse.OfName())) {
            throw new RefusedDocumentException("line 1", "no column is the name of the host; say which one is");
        }
        return uses;
    }

    private static List<Trait.Type> types(HostTable table, List<ColumnUse> uses) {
        List<Trait.Type> types = new ArrayList<>();
        for (int column = 0; column < uses.size(); column++) {
            int at = column;
            List<String> cells = table.rows().stream()
                    .filter(row -> row.cells().size() > at)
                    .map(row -> row.cells().get(at))
                    .filter(cell -> !cell.isEmpty())
                    .toList();
            boolean numbers =
                    !cells.isEmpty() && cells.stream().allMatch(cell -> Trait.ofText(cell) instanceof Trait.Number);
            boolean truths =
                    !cells.isEmpty() && cells.stream().allMatch(cell -> TRUTHS.contains(cell.toLowerCase(Locale.ROOT)));
            types.add(numbers ? Trait.Type.NUMBER : truths ? Trait.Type.TRUTH : Trait.Type.TEXT);
        }
        return types;
    }

    private boolean wholeReports() {
        return uses.contains(new ColumnUse.Platform())
                && uses.stream().anyMatch(use -> use instanceof ColumnUse.OfProduct);
    }

    private ReadDocument read() {
        List<HostReport> reports = rows();
        if (reports.isEmpty()) {
            throw new RefusedDocumentException(problems);
        }
        Content content = wholeReports()
                ? new Content.OfInventory(reports, List.<HostEvents>of())
                : new Content.OfTraits(reports.stream()
                        .map(report -> new TraitRow(report.name(), report.traits()))
                        .toList());
        return new ReadDocument(Format.HOST_TABLE, content, List.copyOf(problems));
    }

    private List<HostReport> rows() {
        Map<HostName, Long> lines = new HashMap<>();
        List<HostReport> reports = new ArrayList<>();
        for (HostTable.Row row : table.rows()) {
            try {
                HostReport report = report(row);
                Long first = lines.putIfAbsent(report.name(), row.line());
                if (first != null) {
                    throw new IllegalArgumentException(
                            report.name() + " stands in line " + first + " already; that row is taken");
                }
                reports.add(report);
            } catch (IllegalArgumentException e) {
                problems.add(new Problem("line " + row.line(), e.getMessage()));
            }
        }
        return reports;
    }

    private HostReport report(HostTable.Row row) {
        if (row.cells().size() != uses.size()) {
            throw new IllegalArgumentException(
                    "the row has " + row.cells().size() + " cells, but there are " + uses.size() + " columns");
        }
        String name = "";
        String platform = "";
        Instant at = hints.received();
        Optional<String> supply = Optional.empty();
        Map<String, Trait> traits = new HashMap<>();
        List<InstalledProduct> products = new ArrayList<>();
        for (int i = 0; i < uses.size(); i++) {
            String cell = cell(row, i);
            ColumnUse use = uses.get(i);
            if (use instanceof ColumnUse.OfName) {
                name = cell;
            } else if (use instanceof ColumnUse.Platform) {
                platform = cell;
            } else if (!cell.isEmpty() && use instanceof ColumnUse.ReportedAt) {
                at = Instants.lenient(cell)
                        .orElseThrow(() -> new IllegalArgumentException(
                                "'" + cell + "' is no instant such as 2026-11-12 09:00:00"));
            } else if (!cell.isEmpty() && use instanceof ColumnUse.Supply) {
                supply = Optional.of(cell);
            } else if (!cell.isEmpty() && use instanceof ColumnUse.OfTrait trait) {
                traits.put(trait.name(), trait(cell, types.get(i)));
            } else if (!cell.isEmpty() && use instanceof ColumnUse.OfProduct product) {
                products.add(new InstalledProduct(
                        product.build(), product.build().product().ordering().require(cell)));
            }
        }
        if (name.isEmpty()) {
            throw new IllegalArgumentException("the name of the host is missing");
        }
        Texts.identifier(name);
        if (wholeReports() && platform.isEmpty()) {
            throw new IllegalArgumentException("the platform of " + name + " is missing");
        }
        return new HostReport(new HostName(name), platform, at, traits, products, supply, Optional.empty(), List.of());
    }

    private String cell(HostTable.Row row, int column) {
        String cell = row.cells().get(column);
        if (cell.length() > LONGEST_CELL) {
            throw new IllegalArgumentException("'" + table.headings().get(column) + "' must be one line of at most "
                    + LONGEST_CELL + " characters");
        }
        try {
            return Texts.line(cell);
        } catch (IllegalArgumentException e) {
            throw new IllegalArgumentException("'" + table.headings().get(column) + "' " + e.getMessage(), e);
        }
    }

    private static Trait trait(String cell, Trait.Type type) {
        return switch (type) {
            case NUMBER -> Trait.ofText(cell);
            case TRUTH -> new Trait.Truth(Set.of("true", "yes").contains(cell.toLowerCase(Locale.ROOT)));
            case TEXT -> new Trait.Text(cell);
        };
    }
}
