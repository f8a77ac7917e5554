package lucid.server.web;

import java.util.Arrays;
import org.springframework.http.HttpStatus;

/** Entity tags (RFC 9110, section 8.8.3) of what two people can change at the same time. */
public final class ETags {

    private ETags() {}

    public static String of(Object version) {
        return "\"" + version + "\"";
    }

    /**
     * @param ifMatch header of the request: versions with commas (RFC 9110, section 13.1.1), or {@code *} for whatever
     *     stands
     * @throws ProblemException 428 (RFC 6585, section 3) if there is none, 412 with {@code reason} if the present
     *     version is none of those named
     */
    public static void require(String ifMatch, String present, String reason) {
        if (ifMatch == null || ifMatch.isBlank()) {
            throw new ProblemException(
                    HttpStatus.PRECONDITION_REQUIRED,
                    "version",
                    "name in If-Match the version that you saw, so that nothing is decided over what another changed meanwhile");
        }
        if (!names(ifMatch, present)) {
            throw new ProblemException(HttpStatus.PRECONDITION_FAILED, "version", reason);
        }
    }

    /** @return false if there is no header */
    public static boolean names(String ifMatch, String version) {
        return ifMatch != null
                && (ifMatch.equals("*")
                        || Arrays.stream(ifMatch.split(",")).map(String::strip).anyMatch(version::equals));
    }
}
