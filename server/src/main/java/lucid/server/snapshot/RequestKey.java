package lucid.server.snapshot;

import java.security.Principal;
import java.util.Optional;
import lucid.server.web.Digests;
import lucid.server.web.ProblemException;

/**
 * Tells a request that is sent again from another one.
 *
 * @param id the sender's {@code Idempotency-Key}, with the part of the request that it stands for
 * @param digest SHA-256 of what is asked
 */
public record RequestKey(String caller, String id, String digest) {

    private static final int LONGEST = 200;

    public static Optional<RequestKey> of(Optional<String> header, Principal caller, String part, byte[] request) {
        header.filter(key -> key.isBlank() || key.length() > LONGEST).ifPresent(key -> {
            throw ProblemException.badField("Idempotency-Key", "a key has 1 to " + LONGEST + " characters");
        });
        return header.map(key -> new RequestKey(caller.getName(), key + " " + part, Digests.sha256(request)));
    }
}
