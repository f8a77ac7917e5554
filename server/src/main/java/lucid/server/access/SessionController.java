package lucid.server.access;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import jakarta.servlet.http.HttpSession;
import java.util.Optional;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.security.core.Authentication;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.security.web.context.HttpSessionSecurityContextRepository;
import org.springframework.security.web.csrf.CsrfToken;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Signing in and out. */
@RestController
@RequestMapping("/api/sessions")
class SessionController {

    private final AccessService access;
    private final HttpSessionSecurityContextRepository contexts = new HttpSessionSecurityContextRepository();

    SessionController(AccessService access) {
        this.access = access;
    }

    record SignIn(String name, String password) {}

    /** @param login empty if nobody is signed in */
    record Session(Optional<String> login, Optional<String> displayName, Optional<Role> role) {}

    /** Who is signed in; also hands out the token that protects against forged requests. */
    @GetMapping("/current")
    Session current(Authentication authentication, HttpServletRequest request) {
        ((CsrfToken) request.getAttribute(CsrfToken.class.getName())).getToken();
        return authentication != null && authentication.getPrincipal() instanceof Caller.Person person ? session(person) : new Session(Optional.empty(), Optional.empty(), Optional.empty());
    }

    @PostMapping
    Session signIn(@RequestBody SignIn signIn, HttpServletRequest request, HttpServletResponse response) {
        Caller.Person person = access.person(Optional.ofNullable(signIn.name()).orElse(""), Optional.ofNullable(signIn.password()).orElse(""))
                .orElseThrow(() -> new ProblemException(HttpStatus.UNAUTHORIZED, "password", "name and password do not belong together"));
        if (request.getSession(false) != null) {
            request.changeSessionId();
        }
        var context = SecurityContextHolder.createEmptyContext();
        context.setAuthentication(AccessConfiguration.authentication(person));
        contexts.saveContext(context, request, response);
        return session(person);
    }

    @DeleteMapping("/current")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void signOut(HttpServletRequest request) {
        HttpSession session = request.getSession(false);
        if (session != null) {
            session.invalidate();
        }
    }

    private static Session session(Caller.Person person) {
        return new Session(Optional.of(person.login()), Optional.of(person.displayName()), Optional.of(person.role()));
    }
}
