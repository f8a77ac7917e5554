package lucid.formats.table;

import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.TextReader;

/** A table of hosts, as one of the formats that are read. */
public final class HostTableFormat implements TextReader {

    @Override
    public String reads() {
        return "a table of hosts";
    }

    @Override
    public boolean recognises(String text) {
        String start = text.stripLeading();
        return !start.startsWith("{") && !start.startsWith("[") && HostTable.recognises(start);
    }

    @Override
    public ReadDocument read(String text, ReadingHints hints) {
        return HostTableReader.read(text.stripLeading(), hints);
    }
}
