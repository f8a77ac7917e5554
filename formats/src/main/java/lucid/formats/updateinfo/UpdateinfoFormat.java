package lucid.formats.updateinfo;

import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.XmlReader;

/** The updateinfo of an rpm repository, as one of the formats that are read. */
public final class UpdateinfoFormat implements XmlReader {

    @Override
    public String reads() {
        return "the updateinfo of an rpm repository";
    }

    @Override
    public String root() {
        return "updates";
    }

    @Override
    public ReadDocument read(byte[] document, ReadingHints hints) {
        return UpdateinfoReader.read(document, hints);
    }
}
