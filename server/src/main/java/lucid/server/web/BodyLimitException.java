package lucid.server.web;

import java.io.IOException;
import java.time.Duration;
import org.springframework.http.HttpStatus;

/** A body that is longer, or comes more slowly, than its sender may send. */
public final class BodyLimitException extends IOException {

    private final transient HttpStatus status;

    private BodyLimitException(HttpStatus status, String reason) {
        super(reason);
        this.status = status;
    }

    /** @param longest in bytes */
    public static BodyLimitException tooLong(long longest) {
        return new BodyLimitException(
                HttpStatus.CONTENT_TOO_LARGE,
                "This is longer than you may send: at most "
                        + (longest >= 1024 * 1024 ? longest / 1024 / 1024 + " MB" : longest / 1024 + " kB") + ".");
    }

    public static BodyLimitException tooSlow(Duration within) {
        return new BodyLimitException(
                HttpStatus.REQUEST_TIMEOUT,
                "This came too slowly: a request must be whole within " + within.toSeconds() + " seconds.");
    }

    HttpStatus status() {
        return status;
    }
}
