package lucid.server.access;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import jakarta.servlet.http.HttpSession;
import java.time.Duration;
import java.util.Optional;
import java.util.Set;
import lucid.server.record.RecordEntry;
import lucid.server.state.State;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.security.core.Authentication;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.security.web.context.HttpSessionSecurityContextRepository;
import org.springframework.security.web.csrf.CsrfToken;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Signing in and out, and one's own password. */
@RestController
@RequestMapping("/api/sessions")
class SessionController {

    private final AccessService access;
    private final SignInThrottle throttle;
    private final State state;
    private final HttpSessionSecurityContextRepository contexts = new HttpSessionSecurityContextRepository();

    SessionController(AccessService access, SignInThrottle throttle, State state) {
        this.access = access;
        this.throttle = throttle;
        this.state = state;
    }

    record SignIn(String name, String password) {}

    /**
     * @param login empty if nobody is signed in
     * @param oneTime true if a password must be chosen before anything else
     * @param populations of an operator: its own
     */
    record Session(Optional<String> login, Optional<String> displayName, Optional<Role> role, boolean oneTime, Set<String> populations) {}

    record NewPassword(String old, String chosen) {}

    /** Who is signed in; also hands out the token that protects against forged requests. */
    @GetMapping("/current")
    Session current(Authentication authentication, HttpServletRequest request) {
        ((CsrfToken) request.getAttribute(CsrfToken.class.getName())).getToken();
        return authentication != null && authentication.getPrincipal() instanceof Caller.Person person ? session(person)
                : new Session(Optional.empty(), Optional.empty(), Optional.empty(), false, Set.of());
    }

    @PostMapping
    Session signIn(@RequestBody SignIn signIn, HttpServletRequest request, HttpServletResponse response) {
        String name = Optional.ofNullable(signIn.name()).orElse("");
        Optional<Duration> wait = throttle.wait(name, request.getRemoteAddr());
        if (wait.isPresent()) {
            long seconds = wait.get().toSeconds() + 1;
            response.setHeader("Retry-After", String.valueOf(seconds));
            throw new ProblemException(HttpStatus.TOO_MANY_REQUESTS, "password", "too many tries; wait " + (seconds < 90 ? seconds + " seconds" : (seconds + 59) / 60 + " minutes"));
        }
        Optional<Caller.Person> person = access.person(name, Optional.ofNullable(signIn.password()).orElse(""));
        if (person.isEmpty()) {
            throttle.failed(name, request.getRemoteAddr());
            throw new ProblemException(HttpStatus.UNAUTHORIZED, "password", "name and password do not belong together");
        }
        throttle.succeeded(name);
        remember(person.get(), request, response);
        return session(person.get());
    }

    /** Chooses one's own password; other sessions of the person end. */
    @PutMapping("/current/password")
    Session choosePassword(@RequestBody NewPassword password, Authentication authentication, HttpServletRequest request, HttpServletResponse response) {
        Caller.Person person = (Caller.Person) authentication.getPrincipal();
        Caller.Person changed = state.write(picture -> {
            Caller.Person next = access.changePassword(person, Optional.ofNullable(password.old()).orElse(""), Optional.ofNullable(password.chosen()).orElse(""));
            state.record(RecordEntry.Kind.ACCESS, "", person, person.displayName() + " chose a password.");
            return new State.Written<>(picture, next);
        });
        remember(changed, request, response);
        return session(changed);
    }

    private void remember(Caller.Person person, HttpServletRequest request, HttpServletResponse response) {
        if (request.getSession(false) != null) {
            request.changeSessionId();
        }
        var context = SecurityContextHolder.createEmptyContext();
        context.setAuthentication(AccessConfiguration.authentication(person));
        contexts.saveContext(context, request, response);
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
        return new Session(Optional.of(person.login()), Optional.of(person.displayName()), Optional.of(person.role()), person.oneTime(), person.populations());
    }
}
