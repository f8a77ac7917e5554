package lucid.formats.document;

import java.io.ByteArrayInputStream;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.function.Consumer;
import javax.xml.stream.XMLInputFactory;
import javax.xml.stream.XMLStreamConstants;
import javax.xml.stream.XMLStreamException;
import javax.xml.stream.XMLStreamReader;

/**
 * Walks through an XML document, one child of the root after the other, so that no more than one of them is held.
 * Document type declarations are refused, and with them every entity that is not XML's own.
 */
public final class XmlDocument {

    private static final int DEEPEST = 50;
    private static final int MOST_ELEMENTS_OF_A_CHILD = 200_000;

    private static final XMLInputFactory FACTORY = XMLInputFactory.newDefaultFactory();

    static {
        FACTORY.setProperty(XMLInputFactory.SUPPORT_DTD, false);
        FACTORY.setProperty(XMLInputFactory.IS_SUPPORTING_EXTERNAL_ENTITIES, false);
        FACTORY.setProperty(XMLInputFactory.IS_COALESCING, true);
    }

    private final XMLStreamReader in;
    private int elements;

    private XmlDocument(XMLStreamReader in) {
        this.in = in;
    }

    /** The root with its attributes, but without children. */
    public static XmlElement root(byte[] document) {
        return walk(document, child -> {}, true);
    }

    /** Hands on every child of the root in turn. */
    public static void children(byte[] document, Consumer<XmlElement> taker) {
        walk(document, taker, false);
    }

    private static XmlElement walk(byte[] document, Consumer<XmlElement> taker, boolean rootOnly) {
        XMLStreamReader in = null;
        try {
            in = FACTORY.createXMLStreamReader(new ByteArrayInputStream(document));
            return new XmlDocument(in).walk(taker, rootOnly);
        } catch (XMLStreamException e) {
            String place = e.getLocation() == null || e.getLocation().getLineNumber() < 0
                    ? ""
                    : "line " + e.getLocation().getLineNumber();
            throw new RefusedDocumentException(place, "this is not valid XML: " + firstLine(e.getMessage()));
        } finally {
            close(in);
        }
    }

    private static void close(XMLStreamReader in) {
        try {
            if (in != null) {
                in.close();
            }
        } catch (XMLStreamException e) {
            throw new IllegalStateException(e);
        }
    }

    /** The parser repeats the place in its message; that stands in front already. */
    private static String firstLine(String message) {
        return message.replaceFirst("(?s)^ParseError at .*?Message: ", "")
                .lines()
                .findFirst()
                .orElse("")
                .strip();
    }

    private XmlElement walk(Consumer<XmlElement> taker, boolean rootOnly) throws XMLStreamException {
        while (in.next() != XMLStreamConstants.START_ELEMENT) {
            requireNoDeclaration();
        }
        XmlElement root = new XmlElement(in.getLocalName(), attributes(), List.of(), "", "/" + in.getLocalName());
        if (rootOnly) {
            return root;
        }
        Map<String, Integer> counts = new HashMap<>();
        int event = in.next();
        while (event != XMLStreamConstants.END_ELEMENT) {
            if (event == XMLStreamConstants.START_ELEMENT) {
                elements = 0;
                taker.accept(element(
                        root.place() + "/" + in.getLocalName() + "[" + counts.merge(in.getLocalName(), 1, Integer::sum)
                                + "]",
                        2));
            }
            requireNoDeclaration();
            event = in.next();
        }
        while (in.hasNext()) {
            in.next();
        }
        return root;
    }

    /** Reads the element that has just begun, up to its end. */
    private XmlElement element(String place, int depth) throws XMLStreamException {
        if (depth > DEEPEST || ++elements > MOST_ELEMENTS_OF_A_CHILD) {
            throw new RefusedDocumentException(
                    place,
                    "a limit is passed: at most " + DEEPEST + " levels deep and " + MOST_ELEMENTS_OF_A_CHILD
                            + " elements in one child of the root");
        }
        String name = in.getLocalName();
        Map<String, String> attributes = attributes();
        List<XmlElement> children = new ArrayList<>();
        Map<String, Integer> counts = new HashMap<>();
        StringBuilder text = new StringBuilder();
        for (int event = in.next(); event != XMLStreamConstants.END_ELEMENT; event = in.next()) {
            requireNoDeclaration();
            if (event == XMLStreamConstants.START_ELEMENT) {
                children.add(element(
                        place + "/" + in.getLocalName() + "[" + counts.merge(in.getLocalName(), 1, Integer::sum) + "]",
                        depth + 1));
            } else if (event == XMLStreamConstants.CHARACTERS || event == XMLStreamConstants.CDATA) {
                text.append(in.getText());
                if (text.length() > Limits.LONGEST_TEXT) {
                    throw new RefusedDocumentException(
                            place, "a text has at most " + Limits.LONGEST_TEXT + " characters");
                }
            }
        }
        return new XmlElement(
                name,
                attributes,
                List.copyOf(children),
                prose(text.toString(), place).strip(),
                place);
    }

    private static String prose(String text, String place) {
        try {
            return Texts.prose(text);
        } catch (IllegalArgumentException e) {
            throw new RefusedDocumentException(place, e.getMessage());
        }
    }

    private Map<String, String> attributes() {
        Map<String, String> attributes = new HashMap<>();
        for (int i = 0; i < in.getAttributeCount(); i++) {
            attributes.put(
                    in.getAttributeLocalName(i),
                    prose(in.getAttributeValue(i), "line " + in.getLocation().getLineNumber()));
        }
        return attributes;
    }

    private void requireNoDeclaration() {
        int event = in.getEventType();
        if (event == XMLStreamConstants.DTD || event == XMLStreamConstants.ENTITY_REFERENCE) {
            throw new RefusedDocumentException(
                    "line " + in.getLocation().getLineNumber(),
                    "document type declarations and their entities are not read");
        }
    }
}
