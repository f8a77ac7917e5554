package lucid.server.web;

import org.springframework.http.HttpStatus;

/** Entity tags (RFC 9110, section 8.8.3) of what two people can change at the same time. */
public final class ETags {

    private ETags() {}

    public static String of(Object version) {
        return "\"" + version + "\"";
    }

    /**
     * @param ifMatch header of the request; without one the change is taken as it comes
     * @throws ProblemException 412 with {@code reason}, if it names another version than the present one
     */
    public static void require(String ifMatch, String present, String reason) {
        if (ifMatch != null && !ifMatch.equals("*") && !ifMatch.equals(present)) {
            throw new ProblemException(HttpStatus.PRECONDITION_FAILED, "version", reason);
        }
    }
}
