package lucid.server.access;

import java.security.Principal;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import lucid.server.record.RecordEntry;
import lucid.server.state.State;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** People and machine tokens, for the administrator. */
@RestController
@RequestMapping("/api")
class AccessController {

    private final AccessService access;
    private final AccessMapper mapper;
    private final State state;

    AccessController(AccessService access, AccessMapper mapper, State state) {
        this.access = access;
        this.mapper = mapper;
        this.state = state;
    }

    record Account(String name, String displayName, Role role) {}

    record NewAccount(String name, String displayName, Role role, String password) {}

    record Token(String name, Scope scope, Instant created) {}

    record NewToken(String name, Scope scope) {}

    /** @param token shown this once */
    record MadeToken(String name, Scope scope, String token) {}

    @GetMapping("/accounts")
    List<Account> accounts() {
        return mapper.accounts().stream().map(a -> new Account(a.name(), a.displayName(), a.role())).toList();
    }

    @PostMapping("/accounts")
    @ResponseStatus(HttpStatus.CREATED)
    Account add(@RequestBody NewAccount account, Principal who) {
        Role role = Optional.ofNullable(account.role()).orElseThrow(() -> ProblemException.badField("role", "choose a role"));
        return state.write(picture -> {
            access.addPerson(Optional.ofNullable(account.name()).orElse(""), Optional.ofNullable(account.displayName()).orElse(""), role,
                    Optional.ofNullable(account.password()).orElse(""));
            state.record(RecordEntry.Kind.ACCESS, "", who, account.displayName().strip() + " was added as " + role.name().toLowerCase() + ".");
            return new State.Written<>(picture, new Account(account.name(), account.displayName().strip(), role));
        });
    }

    @GetMapping("/tokens")
    List<Token> tokens() {
        return mapper.tokens().stream().map(t -> new Token(t.name(), t.scope(), t.created())).toList();
    }

    @PostMapping("/tokens")
    @ResponseStatus(HttpStatus.CREATED)
    MadeToken add(@RequestBody NewToken token, Principal who) {
        Scope scope = Optional.ofNullable(token.scope()).orElseThrow(() -> ProblemException.badField("scope", "choose what it may do"));
        return state.write(picture -> {
            String secret = access.addToken(Optional.ofNullable(token.name()).orElse(""), scope);
            state.record(RecordEntry.Kind.ACCESS, "", who, "The token " + token.name() + " was made; it may " + scope.name().toLowerCase() + ".");
            return new State.Written<>(picture, new MadeToken(token.name(), scope, secret));
        });
    }

    @DeleteMapping("/tokens/{name}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void revoke(@PathVariable String name, Principal who) {
        state.write(picture -> {
            if (mapper.revokeToken(name) == 0) {
                throw ProblemException.notFound("there is no token " + name);
            }
            state.record(RecordEntry.Kind.ACCESS, "", who, "The token " + name + " was revoked.");
            return new State.Written<>(picture, true);
        });
    }
}
