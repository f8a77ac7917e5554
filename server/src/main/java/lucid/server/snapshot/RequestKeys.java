package lucid.server.snapshot;

import java.nio.charset.StandardCharsets;
import java.security.Principal;
import java.util.Optional;
import lucid.server.audit.AuditLog;
import lucid.server.web.Digests;
import lucid.server.web.ProblemException;
import org.springframework.stereotype.Component;
import tools.jackson.databind.json.JsonMapper;

/**
 * Reads the header {@code Idempotency-Key}, by which a request that is sent again after a broken connection is known.
 */
@Component
public class RequestKeys {

    private static final int LONGEST = 200;

    private final JsonMapper json;

    RequestKeys(JsonMapper json) {
        this.json = json;
    }

    /**
     * @param header as it was sent; null: none
     * @param part what of the sender's requests it stands for: a key is known again within one part
     * @param request all that is asked; another request with the same key is refused
     */
    public Optional<RequestKey> of(String header, Principal who, String part, Object request) {
        if (header == null) {
            return Optional.empty();
        }
        if (header.isBlank() || header.length() > LONGEST) {
            throw ProblemException.badField("Idempotency-Key", "a key has 1 to " + LONGEST + " characters");
        }
        return Optional.of(new RequestKey(
                AuditLog.nameOf(who),
                header + " " + part,
                Digests.sha256(json.writeValueAsString(request).getBytes(StandardCharsets.UTF_8))));
    }
}
