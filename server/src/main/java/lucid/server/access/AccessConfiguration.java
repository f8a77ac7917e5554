package lucid.server.access;

import jakarta.servlet.DispatcherType;
import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import jakarta.servlet.http.HttpSession;
import java.io.IOException;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
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
import org.springframework.security.web.authentication.UsernamePasswordAuthenticationFilter;
import org.springframework.security.web.context.SecurityContextHolderFilter;
import org.springframework.security.web.csrf.CookieCsrfTokenRepository;
import org.springframework.security.web.csrf.CsrfFilter;
import org.springframework.security.web.csrf.CsrfTokenRequestAttributeHandler;
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
    private static final String HOST = "HOST";
    private static final String BACKUP = "BACKUP";

    /** A person whose password must be changed first has this role and no other. */
    private static final String ONE_TIME = "ONE_TIME";

    private static final String[] EVERY_PERSON = {READER, DESK, OPERATOR, ANALYST, APPROVER, ADMINISTRATOR};
    private static final String[] READS_EVERYTHING = {READER, ANALYST, APPROVER, ADMINISTRATOR};

    @Bean
    SecurityFilterChain routes(HttpSecurity http, AccessService access) throws Exception {
        return http
                .authorizeHttpRequests(routes -> routes
                        // The same request going on: it was let in before.
                        .dispatcherTypeMatchers(DispatcherType.ASYNC, DispatcherType.ERROR, DispatcherType.FORWARD).permitAll()
                        .requestMatchers(HttpMethod.PUT, "/api/sessions/current/password").hasAnyRole(with(EVERY_PERSON, ONE_TIME))
                        .requestMatchers("/api/sessions/**", "/api/openapi/**", "/api/schemas/**").permitAll()
                        .requestMatchers(HttpMethod.POST, "/api/documents/*/trials", "/api/documents/previews", "/api/documents/fetches").hasAnyRole(ANALYST, ADMINISTRATOR)
                        .requestMatchers(HttpMethod.POST, "/api/documents").hasAnyRole(ANALYST, ADMINISTRATOR, IMPORT)
                        .requestMatchers(HttpMethod.POST, "/api/reports").hasAnyRole(REPORT, IMPORT, HOST)
                        .requestMatchers(HttpMethod.GET, "/api/clock").hasAnyRole(with(EVERY_PERSON, IMPORT, REPORT, HOST, BACKUP))
                        .requestMatchers("/api/clock/advances").hasAnyRole(ANALYST, IMPORT)
                        .requestMatchers("/api/accounts/**", "/api/tokens/**", "/api/allowed-hosts/**").hasRole(ADMINISTRATOR)
                        .requestMatchers("/api/backup").hasAnyRole(ADMINISTRATOR, BACKUP)
                        .requestMatchers("/api/record/verification").hasAnyRole(with(READS_EVERYTHING, BACKUP))
                        .requestMatchers(HttpMethod.GET, "/api/carriers/**", "/api/hosts/**", "/api/search", "/api/populations", "/api/events").hasAnyRole(EVERY_PERSON)
                        .requestMatchers(HttpMethod.POST, "/api/feeds/*/fetches").hasAnyRole(ANALYST, ADMINISTRATOR)
                        .requestMatchers(HttpMethod.GET, "/api/feeds", "/api/trusted-keys").hasAnyRole(READS_EVERYTHING)
                        .requestMatchers("/api/feeds/**", "/api/trusted-keys/**").hasRole(ADMINISTRATOR)
                        .requestMatchers("/api/failure-reports").hasAnyRole(ANALYST, DESK)
                        .requestMatchers("/api/host-filters/**").hasAnyRole(EVERY_PERSON)
                        .requestMatchers(HttpMethod.GET, "/api/**").hasAnyRole(READS_EVERYTHING)
                        .requestMatchers("/api/**").hasRole(ANALYST)
                        .anyRequest().permitAll())
                .csrf(csrf -> csrf
                        .csrfTokenRepository(CookieCsrfTokenRepository.withHttpOnlyFalse())
                        .csrfTokenRequestHandler(new CsrfTokenRequestAttributeHandler())
                        // A browser never adds a bearer token by itself, so a request that has one was not forged through it.
                        .requireCsrfProtectionMatcher(request ->
                                CsrfFilter.DEFAULT_CSRF_MATCHER.matches(request) && bearerToken(request).isEmpty()))
                .headers(headers -> headers
                        .contentSecurityPolicy(policy -> policy.policyDirectives(
                                // Components write their styles into the page; scripts come from here only.
                                "default-src 'self'; style-src 'self' 'unsafe-inline'; img-src 'self' data:; object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'"))
                        .referrerPolicy(referrer -> referrer.policy(ReferrerPolicyHeaderWriter.ReferrerPolicy.NO_REFERRER))
                        .permissionsPolicyHeader(permissions -> permissions.policy("camera=(), geolocation=(), microphone=(), payment=(), usb=()")))
                .exceptionHandling(e -> e
                        .authenticationEntryPoint((request, response, problem) -> refuse(response, 401, "Sign in, or send a valid token."))
                        .accessDeniedHandler((request, response, problem) -> refuse(response, 403, "Your role does not allow this.")))
                .addFilterBefore(new TokenFilter(access), UsernamePasswordAuthenticationFilter.class)
                .addFilterAfter(new AccountFilter(access), SecurityContextHolderFilter.class)
                .formLogin(form -> form.disable())
                .httpBasic(basic -> basic.disable())
                .logout(logout -> logout.disable())
                .requestCache(cache -> cache.disable())
                .cors(Customizer.withDefaults())
                .build();
    }

    private static String[] with(String[] roles, String... others) {
        return Stream.concat(Arrays.stream(roles), Arrays.stream(others)).toArray(String[]::new);
    }

    /** Keeps the framework from making a user of its own. */
    @Bean
    UserDetailsService noOtherUsers() {
        return name -> {
            throw new UsernameNotFoundException(name);
        };
    }

    static Authentication authentication(Caller caller) {
        String role = caller instanceof Caller.Person person ? (person.oneTime() ? ONE_TIME : person.role().name()) : ((Caller.Machine) caller).scope().name();
        String authority = "ROLE_" + role;
        return UsernamePasswordAuthenticationToken.authenticated(caller, null, List.of(new SimpleGrantedAuthority(authority)));
    }

    private static Optional<String> bearerToken(HttpServletRequest request) {
        return Optional.ofNullable(request.getHeader("Authorization")).filter(h -> h.startsWith("Bearer ")).map(h -> h.substring("Bearer ".length()).strip());
    }

    private static void refuse(HttpServletResponse response, int status, String detail) throws IOException {
        response.setStatus(status);
        response.setContentType("application/problem+json");
        response.getWriter().write("{\"status\":" + status + ",\"title\":\"Not allowed\",\"detail\":\"" + detail + "\"}");
    }

    /** A request with a bearer token is the machine's, whatever session it may also carry. */
    private static final class TokenFilter extends OncePerRequestFilter {
        private final AccessService access;

        TokenFilter(AccessService access) {
            this.access = access;
        }

        @Override
        protected void doFilterInternal(HttpServletRequest request, HttpServletResponse response, FilterChain chain) throws ServletException, IOException {
            Optional<String> token = bearerToken(request);
            if (token.isEmpty()) {
                chain.doFilter(request, response);
                return;
            }
            Optional<Caller.Machine> machine = access.machine(token.get());
            if (machine.isEmpty()) {
                refuse(response, 401, "This token is not known here; it may have been revoked.");
                return;
            }
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

    /** A session counts only as long as the account is what it was: who was removed or given another role must sign in again. */
    private static final class AccountFilter extends OncePerRequestFilter {
        private final AccessService access;

        AccountFilter(AccessService access) {
            this.access = access;
        }

        @Override
        protected boolean shouldNotFilter(HttpServletRequest request) {
            return !request.getRequestURI().startsWith("/api/");
        }

        @Override
        protected void doFilterInternal(HttpServletRequest request, HttpServletResponse response, FilterChain chain) throws ServletException, IOException {
            Authentication authentication = SecurityContextHolder.getContext().getAuthentication();
            if (authentication != null && authentication.getPrincipal() instanceof Caller.Person person && access.current(person).isEmpty()) {
                SecurityContextHolder.setContext(SecurityContextHolder.createEmptyContext());
                HttpSession session = request.getSession(false);
                if (session != null) {
                    session.invalidate();
                }
            }
            chain.doFilter(request, response);
        }
    }
}
