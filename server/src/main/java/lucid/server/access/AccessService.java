package lucid.server.access;

import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.Base64;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import lucid.server.web.Digests;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.security.crypto.factory.PasswordEncoderFactories;
import org.springframework.security.crypto.password.PasswordEncoder;
import org.springframework.stereotype.Service;

/** Checks and makes passwords and tokens. Both are stored as hashes only. */
@Service
class AccessService {

    private static final int SHORTEST_PASSWORD = 10;
    /** In bytes: the hash takes no more. */
    private static final int LONGEST_PASSWORD = 72;
    private static final int LONGEST_TOKEN_DAYS = 3_660;

    private final PasswordEncoder passwords = PasswordEncoderFactories.createDelegatingPasswordEncoder();
    private final SecureRandom random = new SecureRandom();
    private final AccessMapper mapper;
    private final Clock clock;
    /** Compared when there is no such account, so that the answer takes as long as for one that exists. */
    private final String hashOfNothing;

    AccessService(AccessMapper mapper, Clock clock) {
        this.mapper = mapper;
        this.clock = clock;
        this.hashOfNothing = passwords.encode(secret());
    }

    Optional<Caller.Person> person(String login, String password) {
        Optional<AccessMapper.Account> account = mapper.account(login);
        boolean matches = passwords.matches(password, account.map(AccessMapper.Account::passwordHash).orElse(hashOfNothing));
        return account.filter(a -> matches).map(AccessService::person);
    }

    /** The person of a session as the account is now; empty if it was removed or changed since. */
    Optional<Caller.Person> current(Caller.Person person) {
        return mapper.account(person.login()).filter(account -> account.version() == person.version()).map(AccessService::person);
    }

    private static Caller.Person person(AccessMapper.Account a) {
        Set<String> populations = Arrays.stream(a.populations().split(",")).filter(id -> !id.isEmpty()).collect(Collectors.toUnmodifiableSet());
        return new Caller.Person(a.name(), a.displayName(), a.role(), populations, a.oneTime(), a.version());
    }

    Optional<Caller.Machine> machine(String token) {
        return mapper.tokenByDigest(Digests.sha256(token))
                .filter(t -> t.expires() == null || t.expires().isAfter(clock.instant()))
                .map(t -> new Caller.Machine(t.name(), t.scope(), t.host()));
    }

    /** @param oneTime true if the password is known to who made it, and must be changed first */
    void addPerson(String login, String displayName, Role role, List<String> populations, String password, boolean oneTime) {
        if (!login.matches("[a-z0-9][a-z0-9._-]{0,59}")) {
            throw ProblemException.badField("name", "a name to sign in with has lower-case letters, digits, dots and hyphens");
        }
        if (mapper.account(login).isPresent()) {
            throw new ProblemException(HttpStatus.CONFLICT, "name", "there is already somebody who signs in as " + login);
        }
        mapper.addAccount(new AccessMapper.Account(login, requireDisplayName(displayName), role, requirePopulations(role, populations), hash(password), oneTime, 1));
    }

    /** @param password empty: as it was; else a one-time password */
    void changePerson(AccessMapper.Account before, String displayName, Role role, List<String> populations, Optional<String> password) {
        requireAnotherAdministrator(before, role);
        change(new AccessMapper.Account(before.name(), requireDisplayName(displayName), role, requirePopulations(role, populations),
                password.map(this::hash).orElse(before.passwordHash()), before.oneTime() || password.isPresent(), before.version()));
    }

    /** A person's own choice of a password. */
    Caller.Person changePassword(Caller.Person person, String old, String chosen) {
        AccessMapper.Account account = mapper.account(person.login()).orElseThrow();
        if (!passwords.matches(old, account.passwordHash())) {
            throw ProblemException.badField("old", "this is not your password");
        }
        if (old.equals(chosen)) {
            throw ProblemException.badField("chosen", "choose another password than before");
        }
        change(new AccessMapper.Account(account.name(), account.displayName(), account.role(), account.populations(), hash(chosen), false, account.version()));
        return person(mapper.account(person.login()).orElseThrow());
    }

    private void change(AccessMapper.Account account) {
        if (mapper.changeAccount(account) == 0) {
            throw new ProblemException(HttpStatus.PRECONDITION_FAILED, "version", "somebody else changed " + account.name() + " meanwhile; look again before you change it");
        }
    }

    void removePerson(AccessMapper.Account account) {
        requireAnotherAdministrator(account, null);
        mapper.removeAccount(account.name());
    }

    private void requireAnotherAdministrator(AccessMapper.Account account, Role next) {
        boolean last = account.role() == Role.ADMINISTRATOR && next != Role.ADMINISTRATOR
                && mapper.accounts().stream().filter(a -> a.role() == Role.ADMINISTRATOR).count() == 1;
        if (last) {
            throw new ProblemException(HttpStatus.CONFLICT, "role", account.name() + " is the only administrator; make another one first");
        }
    }

    private static String requireDisplayName(String displayName) {
        if (displayName.isBlank() || displayName.length() > 100) {
            throw ProblemException.badField("displayName", "the name that the record shows has 1 to 100 characters");
        }
        return displayName.strip();
    }

    private static String requirePopulations(Role role, List<String> populations) {
        if (role == Role.OPERATOR && populations.isEmpty()) {
            throw ProblemException.badField("populations", "say which populations are the operator's own");
        }
        return role == Role.OPERATOR ? String.join(",", populations) : "";
    }

    private String hash(String password) {
        if (password.length() < SHORTEST_PASSWORD || password.getBytes(StandardCharsets.UTF_8).length > LONGEST_PASSWORD) {
            throw ProblemException.badField("password", "a password has at least " + SHORTEST_PASSWORD + " characters and at most " + LONGEST_PASSWORD + " bytes of UTF-8");
        }
        return passwords.encode(password);
    }

    /**
     * @param days after which it expires; empty: never
     * @return the token; it cannot be read again
     */
    String addToken(String name, Scope scope, Optional<String> host, Optional<Integer> days) {
        if (!name.matches("[a-z0-9][a-z0-9._-]{0,59}")) {
            throw ProblemException.badField("name", "a token's name has lower-case letters, digits, dots and hyphens");
        }
        if (scope == Scope.HOST && host.filter(h -> !h.isBlank() && h.length() <= 255).isEmpty()) {
            throw ProblemException.badField("host", "name the host whose token this is");
        }
        if (days.filter(d -> d < 1 || d > LONGEST_TOKEN_DAYS).isPresent()) {
            throw ProblemException.badField("days", "a token lasts 1 to " + LONGEST_TOKEN_DAYS + " days");
        }
        if (mapper.tokens().stream().anyMatch(t -> t.name().equals(name))) {
            throw new ProblemException(HttpStatus.CONFLICT, "name", "there is already a token called " + name);
        }
        String token = secret();
        Instant expires = days.map(d -> clock.instant().plus(Duration.ofDays(d))).orElse(null);
        mapper.addToken(new AccessMapper.Token(name, scope, scope == Scope.HOST ? host.orElseThrow().strip() : null, clock.instant(), expires), Digests.sha256(token));
        return token;
    }

    /** A token of that name, new if there was one. */
    String renewToken(String name, Scope scope) {
        mapper.revokeToken(name);
        return addToken(name, scope, Optional.empty(), Optional.empty());
    }

    boolean isEmpty() {
        return mapper.accounts().isEmpty();
    }

    /** 192 random bits. */
    String secret() {
        byte[] bytes = new byte[24];
        random.nextBytes(bytes);
        return Base64.getUrlEncoder().withoutPadding().encodeToString(bytes);
    }
}
