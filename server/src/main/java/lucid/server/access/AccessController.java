package lucid.server.access;

import java.security.Principal;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import lucid.formats.document.Format;
import lucid.server.audit.AuditEntry;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.ETags;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** People and machine tokens, for the administrator. */
@RestController
@RequestMapping("/api")
class AccessController {

    private static final int TOKENS_SHOWN = 50;

    private final AccessService access;
    private final Sessions sessions;
    private final AccessMapper mapper;
    private final SnapshotStore store;
    private final TokenUse uses;

    AccessController(AccessService access, Sessions sessions, AccessMapper mapper, SnapshotStore store, TokenUse uses) {
        this.uses = uses;
        this.access = access;
        this.sessions = sessions;
        this.mapper = mapper;
        this.store = store;
    }

    /**
     * @param secondFactor true if signing in asks for a code
     * @param byProvider true if it is tied to somebody at the provider of identities
     * @param version the ETag of the account: what a change must name in If-Match
     */
    record Account(
            String name,
            String displayName,
            Role role,
            List<String> populations,
            boolean oneTime,
            boolean secondFactor,
            boolean byProvider,
            String version) {
        static Account of(AccessMapper.Account a, boolean byProvider) {
            return new Account(
                    a.name(),
                    a.displayName(),
                    a.role(),
                    a.populationIds().stream().sorted().toList(),
                    a.oneTime(),
                    a.secondFactorConfirmed(),
                    byProvider,
                    ETags.of(a.version()));
        }
    }

    /** @param populations of an operator: ids of its own */
    record NewAccount(String name, String displayName, Role role, List<String> populations, String password) {}

    /**
     * @param password a new one-time password, if one is to be given
     * @param withoutSecondFactor true to take the second factor away
     */
    record ChangedAccount(
            String displayName,
            Role role,
            List<String> populations,
            Optional<String> password,
            Optional<Boolean> withoutSecondFactor) {}

    /**
     * @param lastUsed none: never
     * @param formats that it may bring
     */
    record Token(
            String name,
            Scope scope,
            Optional<String> host,
            Instant created,
            Optional<Instant> expires,
            Optional<Instant> lastUsed,
            List<Format> formats) {}

    /**
     * @param host of the scopes HOST and ENROL: the one host that it is for
     * @param days after which it expires, never if none
     * @param formats of the scope IMPORT: what it may bring; none: everything that people do not judge
     */
    record NewToken(String name, Scope scope, Optional<String> host, Optional<Integer> days, List<Format> formats) {}

    /** @param token shown this once */
    record MadeToken(String name, Scope scope, String token) {}

    @GetMapping("/accounts")
    List<Account> accounts() {
        Set<String> byProvider = mapper.accountsWithSubject();
        return mapper.accounts().stream()
                .map(account -> Account.of(account, byProvider.contains(account.name())))
                .toList();
    }

    @PostMapping("/accounts")
    @ResponseStatus(HttpStatus.CREATED)
    Account add(@RequestBody NewAccount account, Principal who) {
        Role role = requireRole(account.role());
        return store.write(snapshot -> {
            access.addPerson(
                    text(account.name()),
                    text(account.displayName()),
                    role,
                    list(account.populations()),
                    text(account.password()));
            AccessMapper.Account added = find(account.name());
            store.record(AuditEntry.Kind.ACCESS, "", who, words(added) + " was added as " + word(role) + ".");
            return new SnapshotStore.Change<>(snapshot, Account.of(added, false));
        });
    }

    /** Changes an account; sessions of the person end. */
    @PutMapping("/accounts/{name}")
    Account change(
            @PathVariable String name,
            @RequestHeader(name = HttpHeaders.IF_MATCH, required = false) String ifMatch,
            @RequestBody ChangedAccount account,
            Principal who) {
        Role role = requireRole(account.role());
        Account changed = store.write(snapshot -> {
            AccessMapper.Account before = find(name);
            ETags.require(
                    ifMatch,
                    ETags.of(before.version()),
                    "somebody else changed " + name + " meanwhile; look again before you change it");
            access.changePerson(
                    before,
                    text(account.displayName()),
                    role,
                    list(account.populations()),
                    account.password(),
                    account.withoutSecondFactor().orElse(false));
            AccessMapper.Account after = find(name);
            store.record(
                    AuditEntry.Kind.ACCESS,
                    "",
                    who,
                    "The account of " + words(after) + " was changed: "
                            + (before.role() == role ? word(role) : "from " + word(before.role()) + " to " + word(role))
                            + (account.password().isPresent() ? ", with a new one-time password" : "")
                            + (account.withoutSecondFactor().orElse(false) ? ", without a second factor" : "") + ".");
            return new SnapshotStore.Change<>(
                    snapshot, Account.of(after, mapper.subjectOf(after.name()).isPresent()));
        });
        sessions.endAll(name);
        return changed;
    }

    @DeleteMapping("/accounts/{name}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void remove(@PathVariable String name, Principal who) {
        store.write(snapshot -> {
            AccessMapper.Account account = find(name);
            access.removePerson(account);
            store.record(AuditEntry.Kind.ACCESS, "", who, "The account of " + words(account) + " was removed.");
            return new SnapshotStore.Change<>(snapshot, true);
        });
        sessions.endAll(name);
    }

    private static String words(AccessMapper.Account account) {
        return account.displayName() + " (" + account.name() + ")";
    }

    private AccessMapper.Account find(String name) {
        return mapper.account(name).orElseThrow(() -> ProblemException.notFound("nobody signs in as " + name));
    }

    /** @param all how many there are with that text, of which these are the first */
    record TokenPage(List<Token> tokens, int all) {}

    /** @param text part of the name of a token or its host; every host that was enrolled has one */
    @GetMapping("/tokens")
    TokenPage tokens(@RequestParam Optional<String> text) {
        String part = text.orElse("").strip().toLowerCase(Locale.ROOT);
        List<Token> first = mapper.tokens(part, TOKENS_SHOWN).stream()
                .map(t -> new Token(
                        t.name(),
                        t.scope(),
                        Optional.ofNullable(t.host()),
                        t.createdAt(),
                        Optional.ofNullable(t.expiresAt()),
                        uses.last(t),
                        Bringer.read(t.formats()).stream().sorted().toList()))
                .toList();
        return new TokenPage(first, mapper.countTokens(part));
    }

    @PostMapping("/tokens")
    @ResponseStatus(HttpStatus.CREATED)
    MadeToken add(@RequestBody NewToken token, Principal who) {
        Scope scope = Optional.ofNullable(token.scope())
                .filter(asked -> !asked.isPersonal())
                .orElseThrow(() -> ProblemException.badField("scope", "choose what it may do"));
        return store.write(snapshot -> {
            String secret = access.addToken(
                    text(token.name()), scope, token.host(), token.days(), Set.copyOf(list(token.formats())));
            store.record(
                    AuditEntry.Kind.ACCESS,
                    "",
                    who,
                    "The token " + token.name() + " was made; it may "
                            + scope.name().toLowerCase()
                            + token.host().map(host -> " as " + host).orElse("")
                            + token.days().map(days -> " for " + days + " days").orElse("") + ".");
            return new SnapshotStore.Change<>(snapshot, new MadeToken(token.name(), scope, secret));
        });
    }

    @DeleteMapping("/tokens/{name}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void revoke(@PathVariable String name, Principal who) {
        store.write(snapshot -> {
            if (mapper.revokeToken(name) == 0) {
                throw ProblemException.notFound("there is no token " + name);
            }
            store.record(AuditEntry.Kind.ACCESS, "", who, "The token " + name + " was revoked.");
            return new SnapshotStore.Change<>(snapshot, true);
        });
    }

    /** @param roles that must have a second factor to do anything */
    record SecondFactorRoles(List<Role> roles) {}

    @GetMapping("/second-factor-roles")
    SecondFactorRoles secondFactorRoles() {
        return new SecondFactorRoles(
                access.secondFactorRoles().stream().sorted().toList());
    }

    /** Asks roles for a second factor. Who has none is asked for it when signing in next; sessions of those end now. */
    @PutMapping("/second-factor-roles")
    SecondFactorRoles requireSecondFactor(@RequestBody SecondFactorRoles asked, Principal who) {
        Set<Role> roles = Set.copyOf(list(asked.roles()));
        store.write(snapshot -> {
            access.requireSecondFactorOf(roles);
            store.record(
                    AuditEntry.Kind.ACCESS,
                    "",
                    who,
                    roles.isEmpty()
                            ? "No role is asked for a second factor any more."
                            : "A second factor is asked of: "
                                    + roles.stream()
                                            .sorted()
                                            .map(AccessController::word)
                                            .collect(Collectors.joining(", "))
                                    + ".");
            return new SnapshotStore.Change<>(snapshot, true);
        });
        mapper.accounts().stream()
                .filter(account -> roles.contains(account.role()) && !account.secondFactorConfirmed())
                .forEach(account -> sessions.endAll(account.name()));
        return secondFactorRoles();
    }

    private static Role requireRole(Role role) {
        return Optional.ofNullable(role).orElseThrow(() -> ProblemException.badField("role", "choose a role"));
    }

    private static String word(Role role) {
        return role.name().toLowerCase();
    }

    private static String text(String text) {
        return Optional.ofNullable(text).orElse("");
    }

    private static <T> List<T> list(List<T> list) {
        return Optional.ofNullable(list).orElse(List.of());
    }
}
