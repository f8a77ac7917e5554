package lucid.formats.inventory;

import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.TextReader;

/** Our own host inventory in JSON lines, as one of the formats that are read. */
public final class InventoryFormat implements TextReader {

    @Override
    public String reads() {
        return "a host inventory";
    }

    /** True if the first line is a JSON object with a member {@code t}. */
    @Override
    public boolean recognises(String text) {
        String first = text.stripLeading().lines().findFirst().orElse("");
        return first.matches("\\{\\s*\"t\"\\s*:.*");
    }

    @Override
    public ReadDocument read(String text, ReadingHints hints) {
        return InventoryReader.read(text);
    }
}
