package lucid.server.access;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import jakarta.servlet.http.HttpSession;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import lucid.server.audit.AuditEntry;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.security.core.Authentication;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.security.web.csrf.CsrfToken;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Signing in and out, one's own sessions, password and second factor. */
@RestController
@RequestMapping("/api/sessions")
class SessionController {

    private final AccessService access;
    private final Sessions sessions;
    private final SignInThrottle throttle;
    private final SecurityLog log;
    private final SnapshotStore store;
    private final SignedIn signedIn;

    SessionController(
            AccessService access,
            Sessions sessions,
            SignedIn signedIn,
            SignInThrottle throttle,
            SecurityLog log,
            SnapshotStore store) {
        this.access = access;
        this.sessions = sessions;
        this.signedIn = signedIn;
        this.throttle = throttle;
        this.log = log;
        this.store = store;
    }

    /** @param code of the second factor, where the account has one */
    record SignIn(String name, String password, Optional<String> code) {}

    /**
     * @param login empty if nobody is signed in
     * @param pending what must be done before anything else
     * @param populations of an operator: its own
     * @param secondFactor true if signing in asks for a code
     */
    record Session(
            Optional<String> login,
            Optional<String> displayName,
            Optional<Role> role,
            Caller.Pending pending,
            Set<String> populations,
            boolean secondFactor) {
        static Session of(Caller.Person person, boolean secondFactor) {
            return new Session(
                    Optional.of(person.login()),
                    Optional.of(person.displayName()),
                    Optional.of(person.role()),
                    person.pending(),
                    person.populations(),
                    secondFactor);
        }
    }

    record NewPassword(String old, String chosen) {}

    /** Who is signed in; also hands out the token that protects against forged requests. */
    @GetMapping("/current")
    Session current(Authentication authentication, HttpServletRequest request) {
        ((CsrfToken) request.getAttribute(CsrfToken.class.getName())).getToken();
        return authentication != null && authentication.getPrincipal() instanceof Caller.Person person
                ? Session.of(person, access.hasSecondFactor(person))
                : new Session(
                        Optional.empty(), Optional.empty(), Optional.empty(), Caller.Pending.NOTHING, Set.of(), false);
    }

    @PostMapping
    Session signIn(@RequestBody SignIn signIn, HttpServletRequest request, HttpServletResponse response) {
        // What can be no name is counted together, so that made-up ones are not kept.
        String name = Optional.ofNullable(signIn.name())
                .filter(AccessService::canBeLogin)
                .orElse("");
        Optional<Duration> wait = throttle.begin(name, request.getRemoteAddr());
        if (wait.isPresent()) {
            long seconds = wait.get().toSeconds() + 1;
            response.setHeader("Retry-After", String.valueOf(seconds));
            throw new ProblemException(
                    HttpStatus.TOO_MANY_REQUESTS,
                    "password",
                    "too many tries; wait " + (seconds < 90 ? seconds + " seconds" : (seconds + 59) / 60 + " minutes"));
        }
        Optional<AccessMapper.Account> account =
                access.account(name, Optional.ofNullable(signIn.password()).orElse(""));
        if (account.isEmpty()) {
            log.failedSignIn(name, request.getRemoteAddr());
            throw new ProblemException(HttpStatus.UNAUTHORIZED, "password", "name and password do not belong together");
        }
        if (account.get().secondFactorConfirmed()) {
            String code = signIn.code()
                    .map(String::strip)
                    .filter(text -> !text.isEmpty())
                    .orElseThrow(() -> {
                        // The password is right: no guess is counted for a question that was not asked yet, nor are
                        // those that were forgotten.
                        throttle.takeBack(name, request.getRemoteAddr());
                        return new ProblemException(
                                HttpStatus.UNAUTHORIZED,
                                "code",
                                "the six digits that your authenticator shows now are asked for as well");
                    });
            if (!isCode(account.get(), code)) {
                log.failedSignIn(name, request.getRemoteAddr());
                throw new ProblemException(
                        HttpStatus.UNAUTHORIZED,
                        "code",
                        "these are not the digits of now, or they were used before; wait for the next");
            }
        }
        throttle.succeeded(name, request.getRemoteAddr());
        return signedIn.begin(access.person(account.get()), request, response);
    }

    /**
     * True for a code of now that was not used before. On a full disk that it was used is remembered only while the
     * server runs, so that people can still come in and look.
     */
    private boolean isCode(AccessMapper.Account account, String code) {
        OptionalLong step = access.newCode(account, code);
        if (step.isEmpty()) {
            return false;
        }
        try {
            return store.write(
                    snapshot -> new SnapshotStore.Change<>(snapshot, access.keepCode(account, step.getAsLong())));
        } catch (ProblemException full) {
            return true;
        }
    }

    /** Chooses one's own password; other sessions of the person end. */
    @PutMapping("/current/password")
    Session choosePassword(
            @RequestBody NewPassword password,
            @AuthenticationPrincipal Caller.Person person,
            HttpServletRequest request,
            HttpServletResponse response) {
        Caller.Person changed = store.write(snapshot -> {
            Caller.Person next = access.changePassword(
                    person,
                    Optional.ofNullable(password.old()).orElse(""),
                    Optional.ofNullable(password.chosen()).orElse(""));
            store.record(AuditEntry.Kind.ACCESS, "", person, person.displayName() + " chose a password.");
            return new SnapshotStore.Change<>(snapshot, next);
        });
        return goOn(changed, request, response);
    }

    /**
     * @param key in Base32, for who types it
     * @param address that an authenticator reads from a snapshot
     */
    record NewSecondFactor(String key, String address) {}

    /** Begins to set up a second factor; it counts once a first code has shown that it works. */
    @PostMapping("/current/second-factor")
    NewSecondFactor beginSecondFactor(@AuthenticationPrincipal Caller.Person person) {
        String key = store.write(snapshot -> new SnapshotStore.Change<>(snapshot, access.beginSecondFactor(person)));
        return new NewSecondFactor(key, SecondFactor.address(person.login(), key));
    }

    /** @param code that the authenticator shows now */
    record Code(String code) {}

    /**
     * Shows that the authenticator has the key; from now on signing in asks for its codes. Other sessions of the person
     * end.
     */
    @PutMapping("/current/second-factor")
    Session confirmSecondFactor(
            @RequestBody Code code,
            @AuthenticationPrincipal Caller.Person person,
            HttpServletRequest request,
            HttpServletResponse response) {
        Caller.Person changed = store.write(snapshot -> {
            Caller.Person next = access.confirmSecondFactor(
                    person, Optional.ofNullable(code.code()).orElse(""));
            store.record(AuditEntry.Kind.ACCESS, "", person, person.displayName() + " set up a second factor.");
            return new SnapshotStore.Change<>(snapshot, next);
        });
        return goOn(changed, request, response);
    }

    record Password(String password) {}

    /** Goes back to the password alone, where the role allows it. */
    @DeleteMapping("/current/second-factor")
    Session removeSecondFactor(
            @RequestBody Password password,
            @AuthenticationPrincipal Caller.Person person,
            HttpServletRequest request,
            HttpServletResponse response) {
        Caller.Person changed = store.write(snapshot -> {
            Caller.Person next = access.removeSecondFactor(
                    person, Optional.ofNullable(password.password()).orElse(""));
            store.record(AuditEntry.Kind.ACCESS, "", person, person.displayName() + " gave up the second factor.");
            return new SnapshotStore.Change<>(snapshot, next);
        });
        return goOn(changed, request, response);
    }

    /** One's own sessions that are open, the one used last first. */
    @GetMapping
    List<Sessions.OpenSession> open(@AuthenticationPrincipal Caller.Person person, HttpServletRequest request) {
        return sessions.of(person.login(), request.getSession(false));
    }

    /** Ends one of one's own sessions. */
    @DeleteMapping("/{id}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void end(@PathVariable String id, @AuthenticationPrincipal Caller.Person person) {
        if (!sessions.end(person.login(), id)) {
            throw ProblemException.notFound("you have no such session; it may have ended");
        }
    }

    /** Ends all of one's own sessions but this one. */
    @DeleteMapping
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void endOthers(@AuthenticationPrincipal Caller.Person person, HttpServletRequest request) {
        sessions.endOthers(person.login(), request.getSession(false));
    }

    /** Every session of what the account was before ends, and this browser goes on with a new one. */
    private Session goOn(Caller.Person changed, HttpServletRequest request, HttpServletResponse response) {
        sessions.endAll(changed.login());
        return signedIn.begin(changed, request, response);
    }

    @DeleteMapping("/current")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void signOut(HttpServletRequest request) {
        HttpSession session = request.getSession(false);
        if (session != null) {
            session.invalidate();
        }
    }
}
