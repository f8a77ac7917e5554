package lucid.server.audit;

import java.io.StringWriter;
import java.time.Instant;
import java.util.List;
import javax.xml.stream.XMLOutputFactory;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamWriter;

/** Entries of the record as a feed (Atom, RFC 4287). */
final class RecordFeed {

    private static final String ATOM = "http://www.w3.org/2005/Atom";
    /** Of the instance whose record it is; an entry keeps its name wherever the server stands. */
    private static final String NAME = "urn:lucid-verdict:record:";

    private RecordFeed() {}

    /**
     * @param entries the newest first
     * @param now when there are none yet
     */
    static String of(List<AuditEntry> entries, Instant now) {
        StringWriter text = new StringWriter();
        try {
            XMLStreamWriter xml = XMLOutputFactory.newFactory().createXMLStreamWriter(text);
            xml.writeStartDocument("UTF-8", "1.0");
            xml.writeStartElement("feed");
            xml.writeDefaultNamespace(ATOM);
            element(xml, "title", "Lucid Verdict: the record");
            element(xml, "id", NAME + "feed");
            element(xml, "updated", (entries.isEmpty() ? now : entries.get(0).at()).toString());
            for (AuditEntry entry : entries) {
                entry(xml, entry);
            }
            xml.writeEndElement();
            xml.writeEndDocument();
            xml.close();
        } catch (XMLStreamException e) {
            throw new IllegalStateException(e);
        }
        return text.toString();
    }

    private static void entry(XMLStreamWriter xml, AuditEntry entry) throws XMLStreamException {
        xml.writeStartElement("entry");
        element(xml, "title", entry.subject().isEmpty() ? word(entry) : word(entry) + ": " + entry.subject());
        // The hash names the entry and all before it.
        element(xml, "id", NAME + entry.hash());
        element(xml, "updated", entry.at().toString());
        xml.writeStartElement("author");
        element(xml, "name", entry.author());
        xml.writeEndElement();
        xml.writeEmptyElement("category");
        xml.writeAttribute("term", entry.kind().name());
        element(xml, "content", entry.sentence());
        xml.writeEndElement();
    }

    private static String word(AuditEntry entry) {
        String word = entry.kind().name().toLowerCase().replace('_', ' ');
        return Character.toUpperCase(word.charAt(0)) + word.substring(1);
    }

    private static void element(XMLStreamWriter xml, String name, String text) throws XMLStreamException {
        xml.writeStartElement(name);
        xml.writeCharacters(legal(text));
        xml.writeEndElement();
    }

    /** XML 1.0, section 2.2 leaves out most control characters. */
    private static String legal(String text) {
        return text.codePoints()
                .map(sign ->
                        sign < 0x20 && sign != '\t' && sign != '\n' || sign == 0xFFFE || sign == 0xFFFF ? ' ' : sign)
                .collect(StringBuilder::new, StringBuilder::appendCodePoint, StringBuilder::append)
                .toString();
    }
}
