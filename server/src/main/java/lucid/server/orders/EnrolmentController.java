package lucid.server.orders;

import lucid.core.fleet.HostName;
import lucid.server.access.Caller;
import lucid.server.access.Enrolments;
import org.springframework.http.HttpStatus;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Hosts are enrolled here. */
@RestController
class EnrolmentController {

    private final Enrolments enrolments;
    private final SigningKey key;

    EnrolmentController(Enrolments enrolments, SigningKey key) {
        this.enrolments = enrolments;
        this.key = key;
    }

    /**
     * @param token the host's own, told this once
     * @param keyId thumbprint of the key by which it checks its orders
     * @param key in PEM
     */
    record Enrolment(HostName host, String token, String keyId, String key) {}

    /** Gives a host its own token for the one that was made for its enrolment, which is void from then on. */
    @PostMapping("/api/enrolments")
    @ResponseStatus(HttpStatus.CREATED)
    Enrolment enrol(@AuthenticationPrincipal Caller caller) {
        SigningKey.PublicKey known = key.publicKey();
        Enrolments.Enrolled enrolled = enrolments.enrol(caller);
        return new Enrolment(enrolled.host(), enrolled.token(), known.id(), known.pem());
    }
}
