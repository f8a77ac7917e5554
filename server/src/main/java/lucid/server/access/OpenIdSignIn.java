package lucid.server.access;

import com.nimbusds.jose.JOSEException;
import com.nimbusds.jose.JWSAlgorithm;
import com.nimbusds.jose.proc.BadJOSEException;
import com.nimbusds.jose.util.DefaultResourceRetriever;
import com.nimbusds.oauth2.sdk.AuthorizationCodeGrant;
import com.nimbusds.oauth2.sdk.GeneralException;
import com.nimbusds.oauth2.sdk.ParseException;
import com.nimbusds.oauth2.sdk.ResponseType;
import com.nimbusds.oauth2.sdk.Scope;
import com.nimbusds.oauth2.sdk.TokenRequest;
import com.nimbusds.oauth2.sdk.TokenResponse;
import com.nimbusds.oauth2.sdk.auth.ClientSecretBasic;
import com.nimbusds.oauth2.sdk.auth.Secret;
import com.nimbusds.oauth2.sdk.http.HTTPRequest;
import com.nimbusds.oauth2.sdk.id.ClientID;
import com.nimbusds.oauth2.sdk.id.Issuer;
import com.nimbusds.oauth2.sdk.id.State;
import com.nimbusds.oauth2.sdk.pkce.CodeChallengeMethod;
import com.nimbusds.oauth2.sdk.pkce.CodeVerifier;
import com.nimbusds.openid.connect.sdk.AuthenticationRequest;
import com.nimbusds.openid.connect.sdk.AuthenticationResponse;
import com.nimbusds.openid.connect.sdk.AuthenticationResponseParser;
import com.nimbusds.openid.connect.sdk.Nonce;
import com.nimbusds.openid.connect.sdk.OIDCTokenResponse;
import com.nimbusds.openid.connect.sdk.OIDCTokenResponseParser;
import com.nimbusds.openid.connect.sdk.claims.IDTokenClaimsSet;
import com.nimbusds.openid.connect.sdk.op.OIDCProviderMetadata;
import com.nimbusds.openid.connect.sdk.validators.IDTokenValidator;
import java.io.IOException;
import java.io.Serializable;
import java.net.URI;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Component;

/**
 * Signing in by a provider: the authorization code of OpenID Connect Core 1.0 (section 3.1), with a proof of who asked
 * for it (RFC 7636) and, where it tells one, the issuer in its answer (RFC 9207). Nothing of what it hands out is kept:
 * its word is taken once, for who somebody is.
 */
@Component
class OpenIdSignIn {

    private static final int MILLISECONDS = 10_000;
    private static final int LONGEST_ANSWER = 200_000;
    /** How somebody was asked who they are: by more than one means (RFC 8176, section 2). */
    private static final String BY_SEVERAL_MEANS = "mfa";

    /** What the browser's session keeps until it comes back. */
    record Begun(String issuer, String state, String nonce, String verifier) implements Serializable {}

    /** @param address to which the browser goes */
    record Start(URI address, Begun begun) {}

    /**
     * @param subject who it is there, for good
     * @param name by which the person signs in there
     * @param severalMeans true if the provider says that it asked for a second factor
     */
    record Identity(String subject, Optional<String> name, boolean severalMeans) {}

    Start begin(OpenIdProvider.Configured by) {
        State state = new State();
        Nonce nonce = new Nonce();
        CodeVerifier verifier = new CodeVerifier();
        URI address = new AuthenticationRequest.Builder(
                        ResponseType.CODE,
                        new Scope("openid", "profile"),
                        new ClientID(by.client()),
                        URI.create(by.comeBack()))
                .endpointURI(description(by).getAuthorizationEndpointURI())
                .state(state)
                .nonce(nonce)
                .codeChallenge(verifier, CodeChallengeMethod.S256)
                .build()
                .toURI();
        return new Start(address, new Begun(by.issuer(), state.getValue(), nonce.getValue(), verifier.getValue()));
    }

    /** @param answer the address with which the browser came back */
    Identity identity(OpenIdProvider.Configured by, Begun begun, String answer) {
        OIDCProviderMetadata description = description(by);
        try {
            AuthenticationResponse response = AuthenticationResponseParser.parse(URI.create(answer));
            if (!new State(begun.state()).equals(response.getState())) {
                throw refused(by, "its answer belongs to another sign-in; begin anew");
            }
            if (response.getIssuer() != null && !response.getIssuer().getValue().equals(by.issuer())) {
                throw refused(by, "another provider answered");
            }
            if (!response.indicatesSuccess()) {
                throw refused(
                        by,
                        "it says: "
                                + response.toErrorResponse().getErrorObject().getCode());
            }
            HTTPRequest request = request(
                            by,
                            description,
                            new AuthorizationCodeGrant(
                                    response.toSuccessResponse().getAuthorizationCode(),
                                    URI.create(by.comeBack()),
                                    new CodeVerifier(begun.verifier())))
                    .toHTTPRequest();
            request.setConnectTimeout(MILLISECONDS);
            request.setReadTimeout(MILLISECONDS);
            request.setFollowRedirects(false);
            TokenResponse tokens = OIDCTokenResponseParser.parse(request.send());
            if (!tokens.indicatesSuccess()) {
                throw refused(
                        by,
                        "it says: "
                                + Optional.ofNullable(tokens.toErrorResponse()
                                                .getErrorObject()
                                                .getCode())
                                        .orElse("no"));
            }
            IDTokenClaimsSet claims = validator(by, description)
                    .validate(
                            ((OIDCTokenResponse) tokens.toSuccessResponse())
                                    .getOIDCTokens()
                                    .getIDToken(),
                            new Nonce(begun.nonce()));
            Set<String> methods = Optional.ofNullable(claims.getAMR()).stream()
                    .flatMap(List::stream)
                    .map(method -> method.getValue())
                    .collect(Collectors.toSet());
            return new Identity(
                    claims.getSubject().getValue(),
                    Optional.ofNullable(claims.getStringClaim("preferred_username")),
                    methods.contains(BY_SEVERAL_MEANS));
        } catch (IOException e) {
            throw unreachable(by);
        } catch (ParseException | BadJOSEException | JOSEException | IllegalArgumentException e) {
            throw refused(by, "its answer is none that can be believed");
        }
    }

    private static TokenRequest request(
            OpenIdProvider.Configured by, OIDCProviderMetadata description, AuthorizationCodeGrant grant) {
        URI endpoint = description.getTokenEndpointURI();
        ClientID client = new ClientID(by.client());
        return by.secret()
                .map(secret ->
                        new TokenRequest.Builder(endpoint, new ClientSecretBasic(client, new Secret(secret)), grant))
                .orElseGet(() -> new TokenRequest.Builder(endpoint, client, grant))
                .build();
    }

    /** Signed by the keys that it publishes, and by no secret that others may know. */
    private static IDTokenValidator validator(OpenIdProvider.Configured by, OIDCProviderMetadata description)
            throws IOException {
        JWSAlgorithm algorithm = Stream.of(
                        JWSAlgorithm.RS256,
                        JWSAlgorithm.ES256,
                        JWSAlgorithm.PS256,
                        JWSAlgorithm.RS512,
                        JWSAlgorithm.ES512,
                        JWSAlgorithm.EdDSA)
                .filter(
                        Optional.ofNullable(description.getIDTokenJWSAlgs()).orElse(List.of(JWSAlgorithm.RS256))
                                ::contains)
                .findFirst()
                .orElseThrow(() -> refused(by, "it signs in no way that is known here"));
        return new IDTokenValidator(
                new Issuer(by.issuer()),
                new ClientID(by.client()),
                algorithm,
                description.getJWKSetURI().toURL(),
                new DefaultResourceRetriever(MILLISECONDS, MILLISECONDS, LONGEST_ANSWER));
    }

    /** What it says of itself (OpenID Connect Discovery 1.0); its name must be the one that was set. */
    OIDCProviderMetadata description(OpenIdProvider.Configured by) {
        try {
            OIDCProviderMetadata described =
                    OIDCProviderMetadata.resolve(new Issuer(by.issuer()), MILLISECONDS, MILLISECONDS);
            if (described.getAuthorizationEndpointURI() == null || described.getTokenEndpointURI() == null) {
                throw refused(by, "it tells no place at which people sign in");
            }
            return described;
        } catch (IOException e) {
            throw unreachable(by);
        } catch (GeneralException e) {
            throw refused(by, "what it says of itself cannot be read: " + e.getMessage());
        }
    }

    private static ProblemException unreachable(OpenIdProvider.Configured by) {
        return new ProblemException(
                HttpStatus.BAD_GATEWAY, "openid", by.name() + " cannot be reached; a password works all the same");
    }

    static ProblemException refused(OpenIdProvider.Configured by, String why) {
        return new ProblemException(HttpStatus.UNAUTHORIZED, "openid", "by " + by.name() + ": " + why);
    }
}
