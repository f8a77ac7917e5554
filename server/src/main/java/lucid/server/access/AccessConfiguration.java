package lucid.server.access;

import jakarta.servlet.DispatcherType;
import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import jakarta.servlet.http.HttpSession;
import java.io.IOException;
import java.time.Duration;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.function.Supplier;
import java.util.stream.Stream;
import lucid.server.web.ContentPolicy;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.boot.tomcat.servlet.TomcatServletWebServerFactory;
import org.springframework.boot.web.server.WebServerFactoryCustomizer;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.http.HttpMethod;
import org.springframework.security.authentication.UsernamePasswordAuthenticationToken;
import org.springframework.security.config.Customizer;
import org.springframework.security.config.annotation.web.builders.HttpSecurity;
import org.springframework.security.core.Authentication;
import org.springframework.security.core.authority.SimpleGrantedAuthority;
import org.springframework.security.core.context.SecurityContextHolder;
import org.springframework.security.core.userdetails.UserDetailsService;
import org.springframework.security.core.userdetails.UsernameNotFoundException;
import org.springframework.security.web.SecurityFilterChain;
import org.springframework.security.web.csrf.CookieCsrfTokenRepository;
import org.springframework.security.web.csrf.CsrfFilter;
import org.springframework.security.web.csrf.CsrfToken;
import org.springframework.security.web.csrf.CsrfTokenRequestAttributeHandler;
import org.springframework.security.web.csrf.CsrfTokenRequestHandler;
import org.springframework.security.web.firewall.FirewalledRequest;
import org.springframework.security.web.firewall.HttpFirewall;
import org.springframework.security.web.firewall.RequestRejectedException;
import org.springframework.security.web.firewall.StrictHttpFirewall;
import org.springframework.security.web.header.HeaderWriterFilter;
import org.springframework.security.web.header.writers.ReferrerPolicyHeaderWriter;
import org.springframework.web.filter.OncePerRequestFilter;

/** Who may do what: one table of routes. */
@Configuration
class AccessConfiguration {

    private static final String READER = "READER";
    private static final String DESK = "DESK";
    private static final String OPERATOR = "OPERATOR";
    private static final String ANALYST = "ANALYST";
    private static final String APPROVER = "APPROVER";
    private static final String ADMINISTRATOR = "ADMINISTRATOR";
    private static final String IMPORT = "IMPORT";
    private static final String REPORT = "REPORT";
    private static final String ENROL = "ENROL";
    private static final String HOST = "HOST";
    private static final String BACKUP = "BACKUP";
    private static final String MONITOR = "MONITOR";
    private static final String CALENDAR = "CALENDAR";
    private static final String SLOTS = "SLOTS";
    private static final String FEED = "FEED";

    /** A person who must choose a password or set up a second factor first has this role and no other. */
    private static final String PENDING = "PENDING";

    private static final String[] EVERY_PERSON = {READER, DESK, OPERATOR, ANALYST, APPROVER, ADMINISTRATOR};
    private static final String[] READS_EVERYTHING = {READER, ANALYST, APPROVER, ADMINISTRATOR};

    @Bean
    SecurityFilterChain routes(
            HttpSecurity http,
            AccessService access,
            Sessions sessions,
            SecurityLog log,
            TokenUse uses,
            @Value("${lucid.strict-transport-days:0}") int strictTransportDays)
            throws Exception {
        return http.authorizeHttpRequests(routes -> routes
                        // The same request going on: it was let in before.
                        .dispatcherTypeMatchers(DispatcherType.ASYNC, DispatcherType.ERROR, DispatcherType.FORWARD)
                        .permitAll()
                        .requestMatchers("/api/sessions/current/password", "/api/sessions/current/second-factor")
                        .hasAnyRole(with(EVERY_PERSON, PENDING))
                        .requestMatchers("/api/sessions/current")
                        .permitAll()
                        .requestMatchers(
                                HttpMethod.POST,
                                "/api/sessions",
                                "/api/sessions/openid",
                                "/api/sessions/openid/beginnings")
                        .permitAll()
                        .requestMatchers(HttpMethod.GET, "/api/sessions/openid")
                        .permitAll()
                        .requestMatchers("/api/sessions/**")
                        .hasAnyRole(with(EVERY_PERSON, PENDING))
                        .requestMatchers("/api/openapi/**", "/api/schemas/**")
                        .permitAll()
                        .requestMatchers(
                                HttpMethod.POST,
                                "/api/documents/*/retries",
                                "/api/documents/*/dismissals",
                                "/api/documents/*/readings",
                                "/api/documents/readings",
                                "/api/documents/preview",
                                "/api/documents/imports")
                        .hasAnyRole(ANALYST, ADMINISTRATOR)
                        .requestMatchers(HttpMethod.POST, "/api/product-mappings/**")
                        .hasAnyRole(ANALYST, ADMINISTRATOR)
                        .requestMatchers(HttpMethod.DELETE, "/api/product-mappings/*")
                        .hasAnyRole(ANALYST, ADMINISTRATOR)
                        .requestMatchers(HttpMethod.PUT, "/api/sharing-level")
                        .hasRole(ADMINISTRATOR)
                        .requestMatchers(HttpMethod.POST, "/api/documents")
                        .hasAnyRole(ANALYST, ADMINISTRATOR, IMPORT)
                        .requestMatchers(HttpMethod.POST, "/api/reports")
                        .hasAnyRole(REPORT, IMPORT, HOST)
                        .requestMatchers(HttpMethod.GET, "/api/orders/*")
                        .hasAnyRole(REPORT, IMPORT, HOST)
                        .requestMatchers(HttpMethod.POST, "/api/order-receipts")
                        .hasAnyRole(REPORT, IMPORT, HOST)
                        .requestMatchers(HttpMethod.GET, "/api/orders-key")
                        .hasAnyRole(with(EVERY_PERSON, IMPORT, REPORT, HOST))
                        .requestMatchers(HttpMethod.POST, "/api/enrolments")
                        .hasRole(ENROL)
                        .requestMatchers(HttpMethod.GET, "/api/clock")
                        .hasAnyRole(with(EVERY_PERSON, IMPORT, REPORT, HOST, BACKUP))
                        .requestMatchers("/api/clock/advances")
                        .hasAnyRole(ANALYST, IMPORT)
                        .requestMatchers("/api/clock/steps")
                        .hasRole(IMPORT)
                        .requestMatchers(
                                "/api/accounts/**",
                                "/api/tokens/**",
                                "/api/allowed-hosts/**",
                                "/api/backup-schedule",
                                "/api/openid-provider",
                                "/api/second-factor-roles")
                        .hasRole(ADMINISTRATOR)
                        .requestMatchers("/api/backup")
                        .hasAnyRole(ADMINISTRATOR, BACKUP)
                        .requestMatchers("/api/record/verification")
                        .hasAnyRole(with(READS_EVERYTHING, BACKUP))
                        .requestMatchers(
                                HttpMethod.GET,
                                "/api/carriers/**",
                                "/api/hosts/**",
                                "/api/asks",
                                "/api/operator-work",
                                "/api/search",
                                "/api/populations",
                                "/api/events")
                        .hasAnyRole(EVERY_PERSON)
                        .requestMatchers(HttpMethod.POST, "/api/asks")
                        .hasAnyRole(ANALYST, DESK, OPERATOR)
                        .requestMatchers("/api/operator-work/entries/**")
                        .hasAnyRole(ANALYST, OPERATOR)
                        .requestMatchers(HttpMethod.GET, "/api/people")
                        .hasAnyRole(ANALYST, ADMINISTRATOR)
                        .requestMatchers(HttpMethod.POST, "/api/responsibilities/hand-overs")
                        .hasAnyRole(ANALYST, ADMINISTRATOR)
                        .requestMatchers("/api/objections/**")
                        .hasAnyRole(EVERY_PERSON)
                        .requestMatchers(HttpMethod.POST, "/api/host-names")
                        .hasAnyRole(EVERY_PERSON)
                        .requestMatchers(HttpMethod.POST, "/api/feeds/*/imports")
                        .hasAnyRole(ANALYST, ADMINISTRATOR)
                        .requestMatchers(HttpMethod.GET, "/api/feeds", "/api/trusted-keys")
                        .hasAnyRole(READS_EVERYTHING)
                        .requestMatchers("/api/feeds/**", "/api/trusted-keys/**")
                        .hasRole(ADMINISTRATOR)
                        .requestMatchers("/api/failure-reports")
                        .hasAnyRole(ANALYST, DESK)
                        .requestMatchers("/api/host-filters/**")
                        .hasAnyRole(EVERY_PERSON)
                        .requestMatchers(
                                HttpMethod.POST,
                                "/api/proposals/*/approvals",
                                "/api/proposals/*/returns",
                                "/api/exceptions/proposals/*/approvals",
                                "/api/exceptions/renewals/proposals/*/approvals")
                        .hasRole(APPROVER)
                        .requestMatchers(HttpMethod.PUT, "/api/approval-rules")
                        .hasRole(ADMINISTRATOR)
                        .requestMatchers(HttpMethod.POST, "/api/verdicts/preview")
                        .hasAnyRole(ANALYST, APPROVER)
                        .requestMatchers(HttpMethod.GET, "/api/metrics")
                        .hasAnyRole(with(READS_EVERYTHING, MONITOR))
                        .requestMatchers(HttpMethod.GET, "/api/calendar")
                        .hasAnyRole(with(READS_EVERYTHING, CALENDAR))
                        .requestMatchers(HttpMethod.GET, "/api/operator-work/calendar")
                        .hasAnyRole(OPERATOR, SLOTS)
                        .requestMatchers(HttpMethod.GET, "/api/record/feed")
                        .hasAnyRole(with(READS_EVERYTHING, FEED))
                        .requestMatchers("/api/mail-server/**")
                        .hasRole(ADMINISTRATOR)
                        .requestMatchers("/api/digest", "/api/digest-mail")
                        .hasAnyRole(EVERY_PERSON)
                        .requestMatchers("/api/addresses/SLOTS")
                        .hasRole(OPERATOR)
                        .requestMatchers("/api/addresses/*")
                        .hasAnyRole(READS_EVERYTHING)
                        .requestMatchers(HttpMethod.GET, "/api/**")
                        .hasAnyRole(READS_EVERYTHING)
                        .requestMatchers("/api/**")
                        .hasRole(ANALYST)
                        .anyRequest()
                        .permitAll())
                .csrf(csrf -> csrf.csrfTokenRepository(CookieCsrfTokenRepository.withHttpOnlyFalse())
                        .csrfTokenRequestHandler(new HeaderOnly())
                        // A browser never adds a bearer token by itself, so a request that has one was not forged
                        // through it.
                        .requireCsrfProtectionMatcher(request -> CsrfFilter.DEFAULT_CSRF_MATCHER.matches(request)
                                && bearerToken(request).isEmpty()))
                .headers(headers -> headers.addHeaderWriter(new ContentPolicy())
                        .httpStrictTransportSecurity(strict -> {
                            if (strictTransportDays == 0) {
                                strict.disable();
                            } else {
                                strict.maxAgeInSeconds(Duration.ofDays(strictTransportDays)
                                                .toSeconds())
                                        .includeSubDomains(false);
                            }
                        })
                        .referrerPolicy(
                                referrer -> referrer.policy(ReferrerPolicyHeaderWriter.ReferrerPolicy.NO_REFERRER))
                        .permissionsPolicyHeader(permissions ->
                                permissions.policy("camera=(), geolocation=(), microphone=(), payment=(), usb=()")))
                .exceptionHandling(e -> e.authenticationEntryPoint((request, response, problem) ->
                                refuse(response, 401, "Sign in, or send a valid token."))
                        .accessDeniedHandler((request, response, problem) -> {
                            Authentication caller =
                                    SecurityContextHolder.getContext().getAuthentication();
                            if (caller != null && caller.getPrincipal() instanceof Caller known) {
                                log.refused(known, request.getMethod(), request.getRequestURI());
                            }
                            refuse(response, 403, "Your role does not allow this.");
                        }))
                // Who it is comes first; how much a caller may send is asked before anything of it is read.
                .addFilterAfter(new AccountFilter(access, sessions), HeaderWriterFilter.class)
                .addFilterAfter(new TokenFilter(access, uses), AccountFilter.class)
                .addFilterAfter(new CallerLimits(System::nanoTime), TokenFilter.class)
                .formLogin(form -> form.disable())
                .httpBasic(basic -> basic.disable())
                .logout(logout -> logout.disable())
                .requestCache(cache -> cache.disable())
                .cors(Customizer.withDefaults())
                .build();
    }

    /**
     * The token against forged requests is read from its header only: to look for it in a form, the whole body would be
     * taken in before anybody knows who sends it.
     */
    private static final class HeaderOnly implements CsrfTokenRequestHandler {
        private final CsrfTokenRequestAttributeHandler attributes = new CsrfTokenRequestAttributeHandler();

        @Override
        public void handle(HttpServletRequest request, HttpServletResponse response, Supplier<CsrfToken> token) {
            attributes.handle(request, response, token);
        }

        @Override
        public String resolveCsrfTokenValue(HttpServletRequest request, CsrfToken token) {
            return request.getHeader(token.getHeaderName());
        }
    }

    private static String[] with(String[] roles, String... others) {
        return Stream.concat(Arrays.stream(roles), Arrays.stream(others)).toArray(String[]::new);
    }

    /**
     * Identifiers of any legal spelling stand in addresses, encoded; routes and rights are both matched on the same
     * segments, decoded one by one. A semicolon or backslash as itself has no business there.
     */
    @Bean
    HttpFirewall firewall() {
        StrictHttpFirewall firewall = new StrictHttpFirewall() {
            @Override
            public FirewalledRequest getFirewalledRequest(HttpServletRequest request) {
                if (request.getRequestURI().indexOf(';') >= 0
                        || request.getRequestURI().indexOf('\\') >= 0) {
                    throw new RequestRejectedException("a semicolon or backslash stands in the path as itself");
                }
                return super.getFirewalledRequest(request);
            }
        };
        firewall.setAllowUrlEncodedSlash(true);
        firewall.setAllowUrlEncodedPercent(true);
        firewall.setAllowUrlEncodedDoubleSlash(true);
        firewall.setAllowBackSlash(true);
        firewall.setAllowSemicolon(true);
        return firewall;
    }

    /**
     * The web server leaves encoded slashes and backslashes in a path as they are, instead of refusing or decoding
     * them.
     */
    @Bean
    WebServerFactoryCustomizer<TomcatServletWebServerFactory> encodedSlashes() {
        return factory -> factory.addConnectorCustomizers(connector -> {
            connector.setEncodedSolidusHandling("passthrough");
            connector.setEncodedReverseSolidusHandling("passthrough");
        });
    }

    /** Keeps the framework from making a user of its own. */
    @Bean
    UserDetailsService noOtherUsers() {
        return name -> {
            throw new UsernameNotFoundException(name);
        };
    }

    static Authentication authentication(Caller caller) {
        String role = caller instanceof Caller.Person person
                ? (person.pending() == Caller.Pending.NOTHING ? person.role().name() : PENDING)
                : ((Caller.Machine) caller).scope().name();
        String authority = "ROLE_" + role;
        return UsernamePasswordAuthenticationToken.authenticated(
                caller, null, List.of(new SimpleGrantedAuthority(authority)));
    }

    private static Optional<String> bearerToken(HttpServletRequest request) {
        return Optional.ofNullable(request.getHeader("Authorization"))
                .filter(h -> h.startsWith("Bearer "))
                .map(h -> h.substring("Bearer ".length()).strip());
    }

    /**
     * A program that shows calendars or feeds can send no header: the secret stands in the address of that one thing.
     */
    private static Optional<String> addressKey(HttpServletRequest request) {
        return request.getMethod().equals("GET")
                ? Stream.ofNullable(request.getQueryString())
                        .flatMap(query -> Stream.of(query.split("&")))
                        .filter(part -> part.startsWith("key="))
                        .map(part -> part.substring("key=".length()))
                        .findFirst()
                : Optional.empty();
    }

    static void refuse(HttpServletResponse response, int status, String detail) throws IOException {
        response.setStatus(status);
        response.setContentType("application/problem+json");
        response.getWriter()
                .write("{\"status\":" + status + ",\"title\":\"Not allowed\",\"detail\":\"" + detail + "\"}");
    }

    /** A request with a bearer token is the machine's, whatever session it may also carry. */
    private static final class TokenFilter extends OncePerRequestFilter {
        private final AccessService access;

        private final TokenUse uses;

        TokenFilter(AccessService access, TokenUse uses) {
            this.uses = uses;
            this.access = access;
        }

        @Override
        protected void doFilterInternal(HttpServletRequest request, HttpServletResponse response, FilterChain chain)
                throws ServletException, IOException {
            Optional<String> token = bearerToken(request);
            Optional<String> key = token.isPresent() ? Optional.empty() : addressKey(request);
            if (token.isEmpty() && key.isEmpty()) {
                chain.doFilter(request, response);
                return;
            }
            Optional<Caller.Machine> machine = token.flatMap(access::machine).or(() -> key.flatMap(access::machine)
                    .filter(one -> one.scope().isPersonal()));
            if (machine.isEmpty()) {
                refuse(response, 401, "This token is not known here; it may have been revoked.");
                return;
            }
            uses.used(machine.get().tokenName());
            var context = SecurityContextHolder.createEmptyContext();
            context.setAuthentication(authentication(machine.get()));
            SecurityContextHolder.setContext(context);
            try {
                chain.doFilter(request, response);
            } finally {
                SecurityContextHolder.clearContext();
            }
        }
    }

    /**
     * A session counts only while it is open and the account is what it was, by whatever spelling of an address it
     * comes: routes are matched on decoded paths, so that nothing here may depend on the path.
     */
    private static final class AccountFilter extends OncePerRequestFilter {
        private final AccessService access;

        private final Sessions sessions;

        AccountFilter(AccessService access, Sessions sessions) {
            this.access = access;
            this.sessions = sessions;
        }

        @Override
        protected void doFilterInternal(HttpServletRequest request, HttpServletResponse response, FilterChain chain)
                throws ServletException, IOException {
            Authentication authentication = SecurityContextHolder.getContext().getAuthentication();
            HttpSession session = request.getSession(false);
            if (authentication != null
                    && authentication.getPrincipal() instanceof Caller.Person person
                    && (!sessions.isOpen(session) || access.current(person).isEmpty())) {
                SecurityContextHolder.setContext(SecurityContextHolder.createEmptyContext());
                if (session != null) {
                    session.invalidate();
                }
            }
            chain.doFilter(request, response);
        }
    }
}
