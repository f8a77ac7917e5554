package lucid.server.web;

import java.util.function.UnaryOperator;
import lucid.formats.document.Texts;
import org.springframework.http.HttpStatus;

/** A request that cannot be carried out, as problem details (RFC 9457) tell it: which field, and why. */
public class ProblemException extends RuntimeException {

    private final HttpStatus status;
    private final String field;
    private final Integer position;

    public ProblemException(HttpStatus status, String field, String reason) {
        this(status, field, reason, null);
    }

    private ProblemException(HttpStatus status, String field, String reason, Integer position) {
        super(reason);
        this.status = status;
        this.field = field;
        this.position = position;
    }

    public static ProblemException badField(String field, String reason) {
        return new ProblemException(HttpStatus.UNPROCESSABLE_CONTENT, field, reason);
    }

    /** @param position index of the offending character in the field's text */
    public static ProblemException badText(String field, String reason, int position) {
        return new ProblemException(HttpStatus.UNPROCESSABLE_CONTENT, field, reason, position);
    }

    /**
     * A text of one line that a person gave for a field, without blanks at its ends.
     *
     * @param longest characters
     * @param missing what to do if it is empty
     * @throws ProblemException 422 if it is empty, longer or no line
     */
    public static String requireLine(String field, String text, int longest, String missing) {
        return require(field, text, longest, missing, Texts::line);
    }

    /** As {@link #requireLine}, of any number of lines. */
    public static String requireProse(String field, String text, int longest, String missing) {
        return require(field, text, longest, missing, Texts::prose);
    }

    private static String require(
            String field, String text, int longest, String missing, UnaryOperator<String> checked) {
        if (text == null || text.isBlank()) {
            throw badField(field, missing);
        }
        if (text.strip().length() > longest) {
            throw badField(field, "this is too long: at most " + longest + " characters");
        }
        try {
            return checked.apply(text.strip());
        } catch (IllegalArgumentException e) {
            throw badField(field, "it " + e.getMessage());
        }
    }

    /** The same, said of one of several. */
    public ProblemException of(Object which) {
        return new ProblemException(status, field, which + ": " + getMessage(), position);
    }

    public static ProblemException notFound(String what) {
        return new ProblemException(HttpStatus.NOT_FOUND, "", what);
    }

    HttpStatus status() {
        return status;
    }

    public String field() {
        return field;
    }

    Integer position() {
        return position;
    }
}
