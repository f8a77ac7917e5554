package lucid.server.web;

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

    public static ProblemException notFound(String what) {
        return new ProblemException(HttpStatus.NOT_FOUND, "", what);
    }

    HttpStatus status() {
        return status;
    }

    String field() {
        return field;
    }

    Integer position() {
        return position;
    }
}
