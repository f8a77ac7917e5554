package lucid.server.access;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import jakarta.servlet.http.HttpSession;
import java.net.URI;
import java.net.URISyntaxException;
import java.util.Optional;
import java.util.Set;
import lucid.server.audit.AuditEntry;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/**
 * Signing in by a provider beside passwords. Accounts are made here and nowhere else: the provider says who somebody
 * is, the account says what they may do.
 */
@RestController
@RequestMapping("/api")
class OpenIdController {

    private static final Set<String> LOOPBACK = Set.of("127.0.0.1", "localhost", "[::1]");
    private static final String BEGUN = OpenIdController.class.getName();
    private static final int SECONDS_TO_COME_BACK = 600;
    private static final int LONGEST = 500;

    private final OpenIdProvider provider;
    private final OpenIdSignIn protocol;
    private final AccessService access;
    private final AccessMapper mapper;
    private final SignedIn signedIn;
    private final SecurityLog log;
    private final SnapshotStore store;

    OpenIdController(
            OpenIdProvider provider,
            OpenIdSignIn protocol,
            AccessService access,
            AccessMapper mapper,
            SignedIn signedIn,
            SecurityLog log,
            SnapshotStore store) {
        this.provider = provider;
        this.protocol = protocol;
        this.access = access;
        this.mapper = mapper;
        this.signedIn = signedIn;
        this.log = log;
        this.store = store;
    }

    /** @param name of the provider; none: there is none */
    record OpenIdWay(Optional<String> name) {}

    @GetMapping("/sessions/openid")
    OpenIdWay way() {
        return new OpenIdWay(provider.configured().map(OpenIdProvider.Configured::name));
    }

    /** @param address to which the browser goes */
    record OpenIdStart(String address) {}

    /** Begins a sign-in; the browser comes back within ten minutes. */
    @PostMapping("/sessions/openid/beginnings")
    OpenIdStart begin(HttpServletRequest request) {
        OpenIdSignIn.Start start = protocol.begin(required());
        HttpSession session = request.getSession();
        if (session.isNew()) {
            session.setMaxInactiveInterval(SECONDS_TO_COME_BACK);
        }
        session.setAttribute(BEGUN, start.begun());
        return new OpenIdStart(start.address().toString());
    }

    /** @param address with which the browser came back */
    record OpenIdAnswer(String address) {}

    /** Signs in who the provider vouches for. */
    @PostMapping("/sessions/openid")
    SessionController.Session signIn(
            @RequestBody OpenIdAnswer answer, HttpServletRequest request, HttpServletResponse response) {
        OpenIdProvider.Configured by = required();
        HttpSession session = request.getSession(false);
        Object begun = session == null ? null : session.getAttribute(BEGUN);
        if (!(begun instanceof OpenIdSignIn.Begun known) || !known.issuer().equals(by.issuer())) {
            throw OpenIdSignIn.refused(by, "this browser began no sign-in, or too long ago; begin anew");
        }
        session.removeAttribute(BEGUN);
        OpenIdSignIn.Identity identity = protocol.identity(
                by, known, Optional.ofNullable(answer.address()).orElse(""));
        Caller.Person person;
        try {
            person = person(by, identity);
        } catch (ProblemException refused) {
            log.failedSignIn(identity.name().filter(AccessService::canBeLogin).orElse(""), request.getRemoteAddr());
            throw refused;
        }
        session.invalidate();
        return signedIn.begin(person, request, response);
    }

    private Caller.Person person(OpenIdProvider.Configured by, OpenIdSignIn.Identity identity) {
        AccessMapper.Account account = mapper.accountOfSubject(by.issuer(), identity.subject())
                .flatMap(mapper::account)
                .orElseGet(() -> bound(by, identity));
        if (!identity.severalMeans()
                && (account.secondFactorConfirmed()
                        || access.secondFactorRoles().contains(account.role()))) {
            throw OpenIdSignIn.refused(
                    by,
                    "a second factor is asked of you, and it does not say that it asked for one; use your password");
        }
        return access.vouchedFor(account);
    }

    /** By its name once; from then on by what the provider never gives to somebody else. */
    private AccessMapper.Account bound(OpenIdProvider.Configured by, OpenIdSignIn.Identity identity) {
        String name = identity.name()
                .filter(AccessService::canBeLogin)
                .orElseThrow(() -> OpenIdSignIn.refused(by, "it does not say by which name you sign in"));
        AccessMapper.Account account = mapper.account(name)
                .orElseThrow(() -> OpenIdSignIn.refused(
                        by, "nobody signs in here as '" + name + "'; an administrator adds the account first"));
        return store.write(snapshot -> {
            if (mapper.subjectOf(name)
                    .filter(other -> other.issuer().equals(by.issuer()))
                    .isPresent()) {
                throw OpenIdSignIn.refused(
                        by,
                        "the account '" + name
                                + "' belongs to somebody else there; an administrator can let it be found anew");
            }
            mapper.keepSubject(name, by.issuer(), identity.subject());
            store.record(
                    AuditEntry.Kind.ACCESS,
                    "",
                    access.vouchedFor(account),
                    account.displayName() + " signs in by " + by.name() + " as well.");
            return new SnapshotStore.Change<>(snapshot, account);
        });
    }

    private OpenIdProvider.Configured required() {
        return provider.configured()
                .orElseThrow(() -> ProblemException.notFound("people sign in here by password only"));
    }

    /** @param hasSecret true if the client is not public; the secret itself is shown to nobody */
    record OpenIdProviderView(
            String name, String issuer, String client, boolean hasSecret, String address, String comeBack) {}

    record OpenIdProviderState(Optional<OpenIdProviderView> provider) {}

    @GetMapping("/openid-provider")
    OpenIdProviderState state() {
        return new OpenIdProviderState(provider.configured()
                .map(by -> new OpenIdProviderView(
                        by.name(), by.issuer(), by.client(), by.secret().isPresent(), by.address(), by.comeBack())));
    }

    /** @param secret none: as it was; empty: there is none */
    record NewOpenIdProvider(String name, String issuer, String client, Optional<String> secret, String address) {}

    /** Sets the provider, after its description of itself was read once. */
    @PutMapping("/openid-provider")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void set(@RequestBody NewOpenIdProvider wanted, @AuthenticationPrincipal Caller.Person person) {
        Optional<OpenIdProvider.Configured> before = provider.configured();
        OpenIdProvider.Configured configured = new OpenIdProvider.Configured(
                ProblemException.requireLine("name", wanted.name(), 60, "write by which name people know it"),
                address("issuer", wanted.issuer(), "write the address under which it describes itself"),
                ProblemException.requireLine("client", wanted.client(), LONGEST, "write by which it knows this server"),
                wanted.secret()
                        .or(() -> before.filter(same -> same.issuer().equals(wanted.issuer()))
                                .flatMap(OpenIdProvider.Configured::secret))
                        .filter(secret -> !secret.isEmpty()),
                address("address", wanted.address(), "write where browsers find this server")
                        .replaceAll("/+$", ""));
        try {
            protocol.description(configured);
        } catch (ProblemException unusable) {
            throw ProblemException.badField("issuer", unusable.getMessage());
        }
        store.write(snapshot -> {
            provider.keep(Optional.of(configured));
            store.record(
                    AuditEntry.Kind.ACCESS,
                    "",
                    person,
                    "People may sign in by " + configured.name() + " (" + configured.issuer()
                            + ") beside their passwords.");
            return new SnapshotStore.Change<>(snapshot, true);
        });
    }

    private static String address(String field, String text, String otherwise) {
        String line = ProblemException.requireLine(field, text, LONGEST, otherwise);
        try {
            URI uri = new URI(line);
            boolean open = "http".equals(uri.getScheme()) && LOOPBACK.contains(uri.getHost());
            if (uri.getHost() != null && (open || "https".equals(uri.getScheme())) && uri.getFragment() == null) {
                return line;
            }
        } catch (URISyntaxException e) {
            // Told below.
        }
        throw ProblemException.badField(field, otherwise + ", as https://…; http only on this machine");
    }

    @DeleteMapping("/openid-provider")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void forget(@AuthenticationPrincipal Caller.Person person) {
        store.write(snapshot -> {
            provider.keep(Optional.empty());
            store.record(AuditEntry.Kind.ACCESS, "", person, "People sign in by password only.");
            return new SnapshotStore.Change<>(snapshot, true);
        });
    }

    /** Lets an account be found anew by its name: at the provider it belongs to somebody else now. */
    @DeleteMapping("/accounts/{name}/openid-subject")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void unbind(@PathVariable String name, @AuthenticationPrincipal Caller.Person person) {
        store.write(snapshot -> {
            if (mapper.forgetSubject(name) == 0) {
                throw ProblemException.notFound("'" + name + "' signs in by password only");
            }
            store.record(
                    AuditEntry.Kind.ACCESS, "", person, "The account " + name + " is no longer tied to a provider.");
            return new SnapshotStore.Change<>(snapshot, true);
        });
    }
}
