package lucid.formats.document;

import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.OffsetDateTime;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.function.UnaryOperator;
import lucid.core.fleet.HostName;
import lucid.core.update.UpdateId;
import tools.jackson.databind.JsonNode;

/** A value in a JSON document together with its JSON pointer (RFC 6901), so that every refusal can say where. */
public record JsonPlace(JsonNode node, String pointer) {

    /** The longest identifier or other one-line text that is taken, in characters. */
    private static final int LONGEST_LINE = 500;

    private static final Duration MOST_AHEAD = Duration.ofDays(1);

    public static JsonPlace root(JsonNode node) {
        return new JsonPlace(node, "");
    }

    public RefusedDocumentException refused(String reason) {
        return new RefusedDocumentException(pointer, reason);
    }

    public JsonPlace get(String name) {
        return new JsonPlace(
                node.path(name), pointer + "/" + name.replace("~", "~0").replace("/", "~1"));
    }

    public boolean exists() {
        return !node.isMissingNode() && !node.isNull();
    }

    /** The members of an array; none if it is missing. */
    public List<JsonPlace> items() {
        if (!exists()) {
            return List.of();
        }
        if (!node.isArray()) {
            throw refused("expected a list");
        }
        List<JsonPlace> items = new ArrayList<>();
        for (int i = 0; i < node.size(); i++) {
            items.add(new JsonPlace(node.get(i), pointer + "/" + i));
        }
        return items;
    }

    /** A text that must be there and not be blank. */
    public String text() {
        if (!exists()) {
            throw refused("a text is missing");
        }
        if (!node.isString() || node.stringValue().isBlank()) {
            throw refused("expected a text");
        }
        return checked(Texts::prose, node.stringValue()).strip();
    }

    private String checked(UnaryOperator<String> check, String text) {
        try {
            return check.apply(text);
        } catch (IllegalArgumentException e) {
            throw refused(e.getMessage());
        }
    }

    /** A text of one line: an identifier, a name, a version. */
    public String line() {
        String line = checked(Texts::line, text());
        if (line.length() > LONGEST_LINE) {
            throw refused("longer than " + LONGEST_LINE + " characters");
        }
        return line;
    }

    /** An update that is known elsewhere, or may never be. */
    public UpdateId update() {
        return new UpdateId(line());
    }

    /** A host, by a name that can stand in an address. */
    public HostName host() {
        return new HostName(identifier());
    }

    /** A text of one line by which something is found again, also in an address. */
    public String identifier() {
        return checked(Texts::identifier, line());
    }

    /**
     * A whole number.
     *
     * @throws RefusedDocumentException if it is none from {@code least} to {@code most}; a fraction of zero is no
     *     fraction
     */
    public int integer(int least, int most) {
        if (!node.isNumber()
                || node.isFloatingPointNumber() && node.doubleValue() != Math.rint(node.doubleValue())
                || !(node.doubleValue() >= least && node.doubleValue() <= most)) {
            throw refused("expected a whole number from " + least + " to " + most);
        }
        return (int) node.doubleValue();
    }

    /** A text, if one is there; an empty one, or something else in its place, is as good as none. */
    public Optional<String> textIfAny() {
        return node.isString() && !node.stringValue().isBlank() ? Optional.of(text()) : Optional.empty();
    }

    public Optional<String> optionalText() {
        return exists() ? Optional.of(text()) : Optional.empty();
    }

    /** An ISO 8601 instant with an offset. */
    public Instant instant() {
        String text = line();
        try {
            return Texts.plausible(OffsetDateTime.parse(text).toInstant());
        } catch (DateTimeException e) {
            throw refused("'" + text + "' is no instant such as 2026-11-12T09:00:00Z");
        } catch (IllegalArgumentException e) {
            throw refused(e.getMessage());
        }
    }

    /**
     * When something was told that is told by now: the instant here, and that of reading where there is none. A clock
     * that is ahead by less than a day is set back to then, one that is further ahead is refused, since what is still
     * to come would stay new for ever.
     */
    public Instant told(Instant received) {
        Instant at = exists() ? instant() : received;
        if (at.isAfter(received.plus(MOST_AHEAD))) {
            throw refused(at + " is still to come");
        }
        return at.isAfter(received) ? received : at;
    }

    /** True for an address that a browser can follow: http or https. */
    public static boolean isWebAddress(String address) {
        return address.matches("https?://\\S+");
    }

    /** @throws IllegalArgumentException for anything but an http or https address */
    public static String requireWebAddress(String address) {
        if (!isWebAddress(address)) {
            throw new IllegalArgumentException("'" + address + "' is no web address");
        }
        return address;
    }

    public double number() {
        if (!node.isNumber()) {
            throw refused("expected a number");
        }
        return node.doubleValue();
    }

    /** What {@code convert} makes of this value; what it cannot take is refused here. */
    public <T> T as(Function<String, T> convert) {
        String line = line();
        try {
            return convert.apply(line);
        } catch (IllegalArgumentException | DateTimeException e) {
            throw refused(e.getMessage());
        }
    }
}
