package lucid.server.access;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.security.SecureRandom;
import java.time.Clock;
import java.util.Base64;
import java.util.HexFormat;
import java.util.Optional;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.security.crypto.factory.PasswordEncoderFactories;
import org.springframework.security.crypto.password.PasswordEncoder;
import org.springframework.stereotype.Service;

/** Checks and makes passwords and tokens. Both are stored as hashes only. */
@Service
class AccessService {

    private static final int SHORTEST_PASSWORD = 10;

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
        return account.filter(a -> matches).map(a -> new Caller.Person(a.name(), a.displayName(), a.role()));
    }

    Optional<Caller.Machine> machine(String token) {
        return mapper.tokenByDigest(digest(token)).map(t -> new Caller.Machine(t.name(), t.scope()));
    }

    void addPerson(String login, String displayName, Role role, String password) {
        if (!login.matches("[a-z0-9][a-z0-9._-]{0,59}")) {
            throw ProblemException.badField("name", "a name to sign in with has lower-case letters, digits, dots and hyphens");
        }
        if (displayName.isBlank() || displayName.length() > 100) {
            throw ProblemException.badField("displayName", "the name that the record shows has 1 to 100 characters");
        }
        if (password.length() < SHORTEST_PASSWORD) {
            throw ProblemException.badField("password", "a password has at least " + SHORTEST_PASSWORD + " characters");
        }
        if (mapper.account(login).isPresent()) {
            throw new ProblemException(HttpStatus.CONFLICT, "name", "there is already somebody who signs in as " + login);
        }
        mapper.addAccount(new AccessMapper.Account(login, displayName.strip(), role, passwords.encode(password)));
    }

    /** @return the token; it cannot be read again */
    String addToken(String name, Scope scope) {
        if (!name.matches("[a-z0-9][a-z0-9._-]{0,59}")) {
            throw ProblemException.badField("name", "a token's name has lower-case letters, digits, dots and hyphens");
        }
        if (mapper.tokens().stream().anyMatch(t -> t.name().equals(name))) {
            throw new ProblemException(HttpStatus.CONFLICT, "name", "there is already a token called " + name);
        }
        String token = secret();
        mapper.addToken(name, digest(token), scope, clock.instant());
        return token;
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

    private static String digest(String token) {
        try {
            return HexFormat.of().formatHex(MessageDigest.getInstance("SHA-256").digest(token.getBytes(StandardCharsets.UTF_8)));
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }
}
