package lucid.formats.table;

import java.util.Locale;
import java.util.Map;
import lucid.core.update.PackageReference;
import lucid.core.update.ProductBuild;

/** What a column of a table of hosts is. Its text form is what people and the API write. */
public sealed interface ColumnUse {

    /** {@code host}: the name of the host; exactly one column is. */
    record OfName() implements ColumnUse {}

    /** {@code platform}: name and release of its operating system. */
    record Platform() implements ColumnUse {}

    /** {@code reported at}: when it was seen so. */
    record ReportedAt() implements ColumnUse {}

    /** {@code supply}: the source from which it takes updates. */
    record Supply() implements ColumnUse {}

    /** {@code trait NAME}. */
    record OfTrait(String name) implements ColumnUse {}

    /** {@code product PURL}: the cell is the installed version. */
    record OfProduct(ProductBuild build) implements ColumnUse {}

    /** Empty: the column is passed over. */
    record LeftOut() implements ColumnUse {}

    Map<String, String> KNOWN_HEADINGS = Map.ofEntries(
            Map.entry("host", "host"),
            Map.entry("hostname", "host"),
            Map.entry("host_name", "host"),
            Map.entry("machine", "host"),
            Map.entry("computer", "host"),
            Map.entry("name", "host"),
            Map.entry("platform", "platform"),
            Map.entry("os", "platform"),
            Map.entry("operating_system", "platform"),
            Map.entry("supply", "supply"),
            Map.entry("takes_updates_from", "supply"),
            Map.entry("reported_at", "reported at"),
            Map.entry("last_seen", "reported at"),
            Map.entry("last_report", "reported at"));

    /** @throws IllegalArgumentException naming the text and what it could be */
    static ColumnUse parse(String text) {
        String[] words = text.strip().split("\\s+", 2);
        if (words.length == 2 && words[0].equals("trait") && words[1].matches("[a-z][a-z0-9_]{0,59}")) {
            return new OfTrait(words[1]);
        }
        if (words.length == 2 && words[0].equals("product")) {
            return new OfProduct(PackageReference.parse(words[1]).build());
        }
        return switch (text.strip()) {
            case "host" -> new OfName();
            case "platform" -> new Platform();
            case "reported at" -> new ReportedAt();
            case "supply" -> new Supply();
            case "" -> new LeftOut();
            default ->
                throw new IllegalArgumentException(
                        "'" + text
                                + "' is no use of a column: it is host, platform, supply, reported at, trait NAME, product PURL, or nothing to leave it out");
        };
    }

    /** What a heading suggests: a known word, a package URL, else a trait of that name. */
    static String suggested(String heading) {
        if (heading.strip().startsWith("pkg:")) {
            return "product " + heading.strip();
        }
        String plain = heading.strip()
                .toLowerCase(Locale.ROOT)
                .replaceAll("[^a-z0-9]+", "_")
                .replaceAll("^[_0-9]+|_+$", "");
        return plain.isEmpty()
                ? ""
                : KNOWN_HEADINGS.getOrDefault(plain, "trait " + plain.substring(0, Math.min(plain.length(), 60)));
    }
}
