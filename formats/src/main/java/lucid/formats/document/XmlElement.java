package lucid.formats.document;

import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * An element of an XML document, with everything in it.
 *
 * @param text of the element itself, without its children's, stripped
 * @param place path from the root, such as {@code /updates/update[3]/id}
 */
public record XmlElement(
        String name, Map<String, String> attributes, List<XmlElement> children, String text, String place) {

    private static final int LONGEST_LINE = 500;

    public List<XmlElement> children(String childName) {
        return children.stream().filter(child -> child.name().equals(childName)).toList();
    }

    public Optional<XmlElement> child(String childName) {
        return children(childName).stream().findFirst();
    }

    /** The text of a child, if it has one that is not empty. */
    public Optional<String> textOf(String childName) {
        return child(childName).map(XmlElement::text).filter(text -> !text.isEmpty());
    }

    /** An attribute, if it is there and not blank. */
    public Optional<String> attribute(String attributeName) {
        return Optional.ofNullable(attributes.get(attributeName))
                .map(String::strip)
                .filter(value -> !value.isEmpty());
    }

    /** A text of one line that must be there: an identifier, a name, a version. */
    public String line(String what, Optional<String> value) {
        String given = value.orElseThrow(() -> refused(what + " is missing"));
        try {
            String line = Texts.line(given);
            if (line.length() > LONGEST_LINE) {
                throw new IllegalArgumentException("must be one line of at most " + LONGEST_LINE + " characters");
            }
            return line;
        } catch (IllegalArgumentException e) {
            throw refused(what + " " + e.getMessage());
        }
    }

    /** As {@link #line}, for a text by which something is found again, also in an address. */
    public String identifier(String what, Optional<String> value) {
        try {
            return Texts.identifier(line(what, value));
        } catch (IllegalArgumentException e) {
            throw refused(what + " " + e.getMessage());
        }
    }

    public RefusedDocumentException refused(String reason) {
        return new RefusedDocumentException(place, reason);
    }
}
