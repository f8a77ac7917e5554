package lucid.server.access;

import com.nimbusds.jose.JOSEException;
import com.nimbusds.jose.jwk.JWKSet;
import com.nimbusds.jose.jwk.RSAKey;
import com.nimbusds.jose.jwk.gen.RSAKeyGenerator;
import com.nimbusds.jose.jwk.source.ImmutableJWKSet;
import com.nimbusds.jose.jwk.source.JWKSource;
import com.nimbusds.jose.proc.SecurityContext;
import java.io.IOException;
import java.net.CookieManager;
import java.net.URI;
import java.net.URLEncoder;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.net.http.HttpResponse.BodyHandlers;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.List;
import org.apache.catalina.Context;
import org.apache.catalina.LifecycleException;
import org.apache.catalina.startup.Tomcat;
import org.apache.tomcat.util.descriptor.web.FilterDef;
import org.apache.tomcat.util.descriptor.web.FilterMap;
import org.springframework.context.annotation.Bean;
import org.springframework.core.annotation.Order;
import org.springframework.security.config.Customizer;
import org.springframework.security.config.annotation.web.builders.HttpSecurity;
import org.springframework.security.config.annotation.web.configuration.EnableWebSecurity;
import org.springframework.security.config.annotation.web.configuration.OAuth2AuthorizationServerConfiguration;
import org.springframework.security.config.annotation.web.configurers.oauth2.server.authorization.OAuth2AuthorizationServerConfigurer;
import org.springframework.security.core.userdetails.User;
import org.springframework.security.core.userdetails.UserDetailsService;
import org.springframework.security.oauth2.core.AuthorizationGrantType;
import org.springframework.security.oauth2.core.ClientAuthenticationMethod;
import org.springframework.security.oauth2.jwt.JwtDecoder;
import org.springframework.security.oauth2.server.authorization.client.InMemoryRegisteredClientRepository;
import org.springframework.security.oauth2.server.authorization.client.RegisteredClient;
import org.springframework.security.oauth2.server.authorization.client.RegisteredClientRepository;
import org.springframework.security.oauth2.server.authorization.settings.AuthorizationServerSettings;
import org.springframework.security.oauth2.server.authorization.settings.ClientSettings;
import org.springframework.security.oauth2.server.authorization.token.JwtEncodingContext;
import org.springframework.security.oauth2.server.authorization.token.OAuth2TokenCustomizer;
import org.springframework.security.provisioning.InMemoryUserDetailsManager;
import org.springframework.security.web.SecurityFilterChain;
import org.springframework.security.web.authentication.LoginUrlAuthenticationEntryPoint;
import org.springframework.web.context.support.AnnotationConfigWebApplicationContext;
import org.springframework.web.filter.DelegatingFilterProxy;
import org.springframework.web.servlet.DispatcherServlet;

/**
 * A provider of identities as others run one, on this machine, with some people and one client that must prove itself.
 */
final class IdentityProvider implements AutoCloseable {

    static final String CLIENT = "lucid";
    static final String SECRET = "a secret of the client";
    static final String PASSWORD = "there-it-is-another";
    /** The one who is asked for a second factor there. */
    static final String CAREFUL = "k.strand";

    private final Tomcat tomcat = new Tomcat();
    private final int port;

    /** @param comeBack where it may send browsers back to */
    IdentityProvider(String comeBack, Path folder) throws LifecycleException, IOException {
        tomcat.setBaseDir(Files.createDirectories(folder).toString());
        tomcat.setPort(0);
        tomcat.getConnector().setProperty("address", "127.0.0.1");
        AnnotationConfigWebApplicationContext provider = new AnnotationConfigWebApplicationContext();
        provider.register(Provider.class);
        provider.addBeanFactoryPostProcessor(beans -> beans.registerSingleton("comeBack", comeBack));
        Context context = tomcat.addContext("", folder.toString());
        Tomcat.addServlet(context, "provider", new DispatcherServlet(provider)).setLoadOnStartup(1);
        context.addServletMappingDecoded("/", "provider");
        FilterDef security = new FilterDef();
        security.setFilterName("security");
        security.setFilter(new DelegatingFilterProxy("springSecurityFilterChain", provider));
        context.addFilterDef(security);
        FilterMap everywhere = new FilterMap();
        everywhere.setFilterName("security");
        everywhere.addURLPattern("/*");
        context.addFilterMap(everywhere);
        tomcat.start();
        port = tomcat.getConnector().getLocalPort();
    }

    String issuer() {
        return "http://127.0.0.1:" + port;
    }

    /** Goes to the provider as a browser does, signs in there, and tells the address to which it is sent back. */
    String signedInAt(String address, String name) throws IOException, InterruptedException {
        HttpClient browser =
                HttpClient.newBuilder().cookieHandler(new CookieManager()).build();
        HttpResponse<String> asked = get(browser, address);
        if (asked.statusCode() == 302 && !location(asked).startsWith(issuer() + "/login")) {
            return location(asked);
        }
        HttpResponse<String> entered = browser.send(
                HttpRequest.newBuilder(URI.create(issuer() + "/login"))
                        .header("Content-Type", "application/x-www-form-urlencoded")
                        .POST(BodyPublishers.ofString("username=" + URLEncoder.encode(name, StandardCharsets.UTF_8)
                                + "&password=" + PASSWORD))
                        .build(),
                BodyHandlers.ofString());
        return location(get(browser, location(entered)));
    }

    private static HttpResponse<String> get(HttpClient browser, String address)
            throws IOException, InterruptedException {
        return browser.send(
                HttpRequest.newBuilder(URI.create(address))
                        .header("Accept", "text/html")
                        .build(),
                BodyHandlers.ofString());
    }

    private String location(HttpResponse<String> response) {
        return URI.create(issuer())
                .resolve(response.headers().firstValue("Location").orElseThrow())
                .toString();
    }

    @Override
    public void close() throws LifecycleException {
        tomcat.stop();
        tomcat.destroy();
    }

    /** Not marked as a configuration: the server under test would take it for one of its own. */
    @EnableWebSecurity
    static class Provider {

        @Bean
        @Order(1)
        SecurityFilterChain protocol(HttpSecurity http) throws Exception {
            OAuth2AuthorizationServerConfigurer server = new OAuth2AuthorizationServerConfigurer();
            return http.securityMatcher(server.getEndpointsMatcher())
                    .with(server, configured -> configured.oidc(Customizer.withDefaults()))
                    .authorizeHttpRequests(all -> all.anyRequest().authenticated())
                    .csrf(csrf -> csrf.disable())
                    .exceptionHandling(e -> e.authenticationEntryPoint(new LoginUrlAuthenticationEntryPoint("/login")))
                    .build();
        }

        @Bean
        @Order(2)
        SecurityFilterChain people(HttpSecurity http) throws Exception {
            return http.authorizeHttpRequests(all -> all.anyRequest().authenticated())
                    .csrf(csrf -> csrf.disable())
                    .formLogin(Customizer.withDefaults())
                    .build();
        }

        @Bean
        UserDetailsService known() {
            return new InMemoryUserDetailsManager(List.of("m.aldane", CAREFUL, "s.nobody", "j.fenn").stream()
                    .map(name -> User.withUsername(name)
                            .password("{noop}" + PASSWORD)
                            .build())
                    .toList());
        }

        @Bean
        RegisteredClientRepository clients(String comeBack) {
            return new InMemoryRegisteredClientRepository(RegisteredClient.withId(CLIENT)
                    .clientId(CLIENT)
                    .clientSecret("{noop}" + SECRET)
                    .clientAuthenticationMethod(ClientAuthenticationMethod.CLIENT_SECRET_BASIC)
                    .authorizationGrantType(AuthorizationGrantType.AUTHORIZATION_CODE)
                    .redirectUri(comeBack)
                    .scope("openid")
                    .scope("profile")
                    .clientSettings(
                            ClientSettings.builder().requireProofKey(true).build())
                    .build());
        }

        @Bean
        OAuth2TokenCustomizer<JwtEncodingContext> claims() {
            return context -> {
                if (context.getTokenType().getValue().equals("id_token")) {
                    String name = context.getPrincipal().getName();
                    context.getClaims()
                            .claim("sub", "person-" + name.hashCode())
                            .claim("preferred_username", name);
                    context.getClaims().claim("amr", name.equals(CAREFUL) ? List.of("pwd", "mfa") : List.of("pwd"));
                }
            };
        }

        @Bean
        JWKSource<SecurityContext> keys() throws JOSEException {
            RSAKey key = new RSAKeyGenerator(2048).keyID("one").generate();
            return new ImmutableJWKSet<>(new JWKSet(key));
        }

        @Bean
        JwtDecoder decoder(JWKSource<SecurityContext> keys) {
            return OAuth2AuthorizationServerConfiguration.jwtDecoder(keys);
        }

        @Bean
        AuthorizationServerSettings settings() {
            return AuthorizationServerSettings.builder().build();
        }
    }
}
