package lucid.server.access;

import java.security.SecureRandom;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.Base64;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.OptionalLong;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.stream.Collectors;
import lucid.core.fleet.HostName;
import lucid.formats.document.Format;
import lucid.formats.document.Texts;
import lucid.server.storage.Settings;
import lucid.server.web.Digests;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Service;

/** Checks and makes passwords and tokens. Both are stored as hashes only. */
@Service
class AccessService {

    private static final int LONGEST_TOKEN_DAYS = 3_660;
    private static final String SECOND_FACTOR_ROLES = "second-factor-roles";
    private static final String LOGIN = "[a-z0-9][a-z0-9._-]{0,59}";

    private final Passwords passwords = new Passwords();
    private final SecureRandom random = new SecureRandom();
    /** The last time step whose code was used since the server started, by sign-in name. */
    private final Map<String, Long> usedSteps = new ConcurrentHashMap<>();

    private final AccessMapper mapper;
    private final Settings settings;
    private final Clock clock;
    /** Compared when there is no such account, so that the answer takes as long as for one that exists. */
    private final String hashOfNothing;

    AccessService(AccessMapper mapper, Settings settings, Clock clock) {
        this.mapper = mapper;
        this.settings = settings;
        this.clock = clock;
        this.hashOfNothing = passwords.hashUnchecked(secret());
    }

    /** True for what can be a name to sign in with. */
    static boolean canBeLogin(String name) {
        return name.matches(LOGIN);
    }

    /** The account to which name and password belong. */
    Optional<AccessMapper.Account> account(String login, String password) {
        Optional<AccessMapper.Account> account = mapper.account(login);
        boolean matches = passwords.matches(
                password, account.map(AccessMapper.Account::passwordHash).orElse(hashOfNothing));
        return account.filter(a -> matches);
    }

    /** The person of a session as the account is now; empty if it was removed or changed since. */
    Optional<AccessMapper.Account> current(Caller.Person person) {
        return mapper.account(person.login()).filter(account -> account.version() == person.version());
    }

    Caller.Person person(AccessMapper.Account a) {
        Set<String> populations = a.populationIds();
        Caller.Pending pending = a.oneTime()
                ? Caller.Pending.CHOOSE_PASSWORD
                : !a.secondFactorConfirmed() && secondFactorRoles().contains(a.role())
                        ? Caller.Pending.SET_UP_SECOND_FACTOR
                        : Caller.Pending.NOTHING;
        return new Caller.Person(a.name(), a.displayName(), a.role(), populations, pending, a.version());
    }

    /** The person of an account for whom a provider vouches: no password is asked for, so none must be chosen. */
    Caller.Person vouchedFor(AccessMapper.Account a) {
        return new Caller.Person(
                a.name(), a.displayName(), a.role(), a.populationIds(), Caller.Pending.NOTHING, a.version());
    }

    private Caller.Person person(String login) {
        return person(mapper.account(login).orElseThrow());
    }

    /** Roles that must have a second factor. */
    Set<Role> secondFactorRoles() {
        return settings.find(SECOND_FACTOR_ROLES).stream()
                .flatMap(text -> Arrays.stream(text.split(",")))
                .filter(name -> !name.isEmpty())
                .map(Role::valueOf)
                .collect(Collectors.toUnmodifiableSet());
    }

    void requireSecondFactorOf(Set<Role> roles) {
        settings.keep(
                SECOND_FACTOR_ROLES, roles.stream().sorted().map(Role::name).collect(Collectors.joining(",")));
    }

    boolean hasSecondFactor(Caller.Person person) {
        return mapper.account(person.login())
                .filter(AccessMapper.Account::secondFactorConfirmed)
                .isPresent();
    }

    /**
     * The time step of a code of the second factor, which counts as used from now on; empty if it is none, or was used
     * before.
     */
    OptionalLong newCode(AccessMapper.Account account, String code) {
        OptionalLong step =
                SecondFactor.step(account.secondFactorKey(), code, clock.instant(), account.secondFactorStep());
        if (step.isEmpty()) {
            return step;
        }
        Long before = usedSteps.getOrDefault(account.name(), 0L);
        boolean isNew = step.getAsLong() > before
                && (before == 0
                        ? usedSteps.putIfAbsent(account.name(), step.getAsLong()) == null
                        : usedSteps.replace(account.name(), before, step.getAsLong()));
        return isNew ? step : OptionalLong.empty();
    }

    /** Keeps that the code of a time step was used; false if another request did so before. */
    boolean keepCode(AccessMapper.Account account, long step) {
        return mapper.useStep(account.name(), step) == 1;
    }

    String beginSecondFactor(Caller.Person person) {
        String key = SecondFactor.newKey(random);
        if (mapper.beginSecondFactor(person.login(), key) == 0) {
            throw new ProblemException(
                    HttpStatus.CONFLICT, "code", "a second factor is set up already; give that one up first");
        }
        return key;
    }

    Caller.Person confirmSecondFactor(Caller.Person person, String code) {
        AccessMapper.Account account = mapper.account(person.login()).orElseThrow();
        if (account.secondFactorKey() == null || account.secondFactorConfirmed()) {
            throw new ProblemException(HttpStatus.CONFLICT, "code", "nothing waits to be confirmed; begin anew");
        }
        OptionalLong step = SecondFactor.step(account.secondFactorKey(), code, clock.instant(), 0);
        change(account.withSecondFactor(
                account.secondFactorKey(),
                true,
                step.orElseThrow(() -> ProblemException.badField(
                        "code", "these are not the digits of now; is the clock of the authenticator right?"))));
        return person(person.login());
    }

    Caller.Person removeSecondFactor(Caller.Person person, String password) {
        AccessMapper.Account account = account(person.login(), password)
                .orElseThrow(() -> ProblemException.badField("password", "this is not your password"));
        if (secondFactorRoles().contains(account.role())) {
            throw new ProblemException(
                    HttpStatus.CONFLICT,
                    "password",
                    "your role asks for a second factor; an administrator can take it away, so that you set up another");
        }
        change(account.withSecondFactor(null, false, 0));
        return person(person.login());
    }

    Optional<Caller.Machine> machine(String token) {
        return mapper.tokenByDigest(Digests.sha256(token))
                .filter(t -> t.expiresAt() == null || t.expiresAt().isAfter(clock.instant()))
                .flatMap(t -> t.scope().isPersonal()
                        ? ownerOf(t).map(owner -> machine(t, populationsOf(owner)))
                        : Optional.of(machine(t, Optional.empty())));
    }

    private Caller.Machine machine(AccessMapper.Token token, Optional<Set<String>> onlyPopulations) {
        return new Caller.Machine(
                token.name(),
                token.scope(),
                Optional.ofNullable(token.host()).map(HostName::new),
                onlyPopulations,
                mayBring(token.scope(), Bringer.read(token.formats())));
    }

    /** Whose address it is, as long as that person may see what it opens. */
    private Optional<AccessMapper.Account> ownerOf(AccessMapper.Token token) {
        return mapper.ownerOf(token.name()).flatMap(mapper::account).filter(owner -> token.scope()
                .isFor(owner.role()));
    }

    private static Optional<Set<String>> populationsOf(AccessMapper.Account owner) {
        return owner.role() == Role.OPERATOR ? Optional.of(owner.populationIds()) : Optional.empty();
    }

    /** The secret of a person's own address, in the place of an earlier one. */
    String makeAddress(Caller.Person person, Scope scope) {
        mapper.revokeAddress(person.login(), scope);
        String name = scope.name().toLowerCase(Locale.ROOT) + "-" + person.login();
        String secret = addToken(name, scope, Optional.empty(), Optional.empty(), Set.of());
        mapper.giveTo(name, person.login());
        return secret;
    }

    Optional<Instant> addressSince(Caller.Person person, Scope scope) {
        return mapper.addressSince(person.login(), scope);
    }

    /** False if there was none. */
    boolean revokeAddress(Caller.Person person, Scope scope) {
        return mapper.revokeAddress(person.login(), scope) > 0;
    }

    /** An account whose password must be changed first. */
    void addPerson(String login, String displayName, Role role, List<String> populations, String password) {
        String name = requireDisplayName(displayName, login);
        add(login, name, role, populations, passwords.hash(password, List.of(login, name)), true);
    }

    /** An account of the demo, whose password everybody knows. */
    void addDemoPerson(String login, String displayName, Role role, List<String> populations, String password) {
        add(login, displayName, role, populations, passwords.hashUnchecked(password), false);
    }

    private void add(
            String login, String displayName, Role role, List<String> populations, String hash, boolean oneTime) {
        if (!canBeLogin(login)) {
            throw ProblemException.badField(
                    "name", "a name to sign in with has lower-case letters, digits, dots and hyphens, 60 at most");
        }
        if (mapper.account(login).isPresent()) {
            throw new ProblemException(
                    HttpStatus.CONFLICT, "name", "there is already somebody who signs in as " + login);
        }
        mapper.addAccount(new AccessMapper.Account(
                login, displayName, role, requirePopulations(role, populations), hash, oneTime, null, false, 0, 1));
    }

    /**
     * @param password empty: as it was; else a one-time password
     * @param withoutSecondFactor true to take the second factor away, so that the person sets up another
     */
    void changePerson(
            AccessMapper.Account before,
            String displayName,
            Role role,
            List<String> populations,
            Optional<String> password,
            boolean withoutSecondFactor) {
        requireAnotherAdministrator(before, role);
        String name = requireDisplayName(displayName, before.name());
        AccessMapper.Account next = new AccessMapper.Account(
                before.name(),
                name,
                role,
                requirePopulations(role, populations),
                before.passwordHash(),
                before.oneTime(),
                before.secondFactorKey(),
                before.secondFactorConfirmed(),
                before.secondFactorStep(),
                before.version());
        if (password.isPresent()) {
            next = next.with(passwords.hash(password.get(), List.of(before.name(), name)), true);
        }
        change(withoutSecondFactor ? next.withSecondFactor(null, false, 0) : next);
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
        change(account.with(passwords.hash(chosen, List.of(account.name(), account.displayName())), false));
        return person(person.login());
    }

    private void change(AccessMapper.Account account) {
        if (mapper.changeAccount(account) == 0) {
            throw new ProblemException(
                    HttpStatus.PRECONDITION_FAILED,
                    "version",
                    "somebody else changed " + account.name() + " meanwhile; look again before you change it");
        }
    }

    void removePerson(AccessMapper.Account account) {
        requireAnotherAdministrator(account, null);
        mapper.removeAccount(account.name());
        mapper.addFormer(account, clock.instant());
    }

    private void requireAnotherAdministrator(AccessMapper.Account account, Role next) {
        boolean last = account.role() == Role.ADMINISTRATOR
                && next != Role.ADMINISTRATOR
                && mapper.accounts().stream()
                                .filter(a -> a.role() == Role.ADMINISTRATOR)
                                .count()
                        == 1;
        if (last) {
            throw new ProblemException(
                    HttpStatus.CONFLICT, "role", account.name() + " is the only administrator; make another one first");
        }
    }

    /** @param login of the account itself, with which it may share the name */
    private String requireDisplayName(String displayName, String login) {
        try {
            String name = Names.requirePerson(displayName);
            mapper.accounts().stream()
                    .filter(other -> !other.name().equals(login)
                            && Names.compared(other.displayName()).equals(Names.compared(name)))
                    .findFirst()
                    .ifPresent(other -> {
                        throw new ProblemException(
                                HttpStatus.CONFLICT,
                                "displayName",
                                other.name() + " is called " + other.displayName()
                                        + " already; the record could not tell them apart");
                    });
            return name;
        } catch (IllegalArgumentException e) {
            throw ProblemException.badField("displayName", e.getMessage());
        }
    }

    private static String requirePopulations(Role role, List<String> populations) {
        if (role == Role.OPERATOR && populations.isEmpty()) {
            throw ProblemException.badField("populations", "say which populations are the operator's own");
        }
        return role == Role.OPERATOR ? String.join(",", populations) : "";
    }

    /**
     * @param days after which it expires; empty: never
     * @param formats of the scope IMPORT: what it may bring; empty: everything that is not judged
     * @return the token; it cannot be read again
     */
    String addToken(String name, Scope scope, Optional<String> host, Optional<Integer> days, Set<Format> formats) {
        if (!name.matches(LOGIN)) {
            throw ProblemException.badField("name", "a token's name has lower-case letters, digits, dots and hyphens");
        }
        if (scope.isOfOneHost()) {
            requireHost(host);
        }
        if (days.filter(d -> d < 1 || d > LONGEST_TOKEN_DAYS).isPresent()) {
            throw ProblemException.badField("days", "a token lasts 1 to " + LONGEST_TOKEN_DAYS + " days");
        }
        if (mapper.isToken(name)) {
            throw new ProblemException(HttpStatus.CONFLICT, "name", "there is already a token called " + name);
        }
        String token = secret();
        Instant expires =
                days.map(d -> clock.instant().plus(Duration.ofDays(d))).orElse(null);
        mapper.addToken(
                new AccessMapper.Token(
                        name,
                        scope,
                        scope.isOfOneHost() ? host.orElseThrow().strip() : null,
                        clock.instant(),
                        expires,
                        Bringer.write(mayBring(scope, formats)),
                        null),
                Digests.sha256(token));
        return token;
    }

    private static Set<Format> mayBring(Scope scope, Set<Format> asked) {
        return switch (scope) {
            case IMPORT -> asked.isEmpty() ? Bringer.unjudged() : asked;
            case REPORT, HOST -> Set.of(Format.INVENTORY, Format.CYCLONEDX);
            case ENROL, BACKUP, MONITOR, CALENDAR, SLOTS, FEED -> Set.of();
        };
    }

    private static void requireHost(Optional<String> host) {
        try {
            if (host.filter(name -> !name.isBlank() && name.length() <= 255).isEmpty()) {
                throw new IllegalArgumentException("name the host whose token this is");
            }
            Texts.identifier(host.get());
        } catch (IllegalArgumentException e) {
            throw ProblemException.badField("host", e.getMessage());
        }
    }

    /** A token of that name, new if there was one. */
    String renewToken(String name, Scope scope, Set<Format> formats) {
        mapper.revokeToken(name);
        return addToken(name, scope, Optional.empty(), Optional.empty(), formats);
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
