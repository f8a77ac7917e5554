package lucid.server.access;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.security.web.context.HttpSessionSecurityContextRepository;
import org.springframework.stereotype.Component;

/** A browser goes on as somebody, however they showed who they are. */
@Component
class SignedIn {

    private final AccessService access;
    private final Sessions sessions;
    private final HttpSessionSecurityContextRepository contexts = new HttpSessionSecurityContextRepository();

    SignedIn(AccessService access, Sessions sessions) {
        this.access = access;
        this.sessions = sessions;
    }

    SessionController.Session begin(Caller.Person person, HttpServletRequest request, HttpServletResponse response) {
        sessions.begin(person, request);
        var context = SecurityContextHolder.createEmptyContext();
        context.setAuthentication(AccessConfiguration.authentication(person));
        contexts.saveContext(context, request, response);
        return SessionController.Session.of(person, access.hasSecondFactor(person));
    }
}
