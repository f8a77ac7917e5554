package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import com.networknt.schema.InputFormat;
import com.networknt.schema.SchemaRegistry;
import com.networknt.schema.SpecificationVersion;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.Base64;
import java.util.Map;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.TimeUnit;
import lucid.server.LucidServer.Client;
import org.jose4j.jwa.AlgorithmConstraints;
import org.jose4j.jwa.AlgorithmConstraints.ConstraintType;
import org.jose4j.jwk.PublicJsonWebKey;
import org.jose4j.jws.JsonWebSignature;
import org.jose4j.lang.JoseException;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** Orders as they leave the house: signed, asked for again, waited for; and how a host comes by the right to ask. */
class SignedOrdersTest {

    private static final JsonMapper JSON = new JsonMapper();

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    @BeforeAll
    static void twoKiosks() {
        SERVER.populations(Examples.POPULATIONS);
        SERVER.machine().documents(Map.of("a.json", Examples.notice("DSK-1", "1", "1.5")));
        SERVER.machine()
                .report(Examples.hosts(Map.of("ksk-1", "kiosk 1.0", "ksk-2", "kiosk 1.0"))
                        .getBytes());
    }

    private static Instant clock() {
        return Instant.parse(
                SERVER.machine().get("/api/clock").json().path("now").asString());
    }

    private static JsonNode orders(Client asks, String host) throws JoseException {
        return JSON.readTree(read(asks.get("/api/orders/" + host).text()).getPayload());
    }

    private static String tag(LucidServer.Answer answer) {
        return answer.headers().firstValue("ETag").orElseThrow();
    }

    private static void forced(String update, String population) {
        SERVER.analyst()
                .post(
                        "/api/verdicts",
                        Examples.verdict(
                                update,
                                "FORCE",
                                population,
                                LocalDate.ofInstant(clock(), ZoneOffset.UTC).plusDays(4),
                                "EXPLOITED"));
    }

    @Test
    void theirSignatureIsReadByALibraryOfOthers() throws JoseException {
        JsonNode key = SERVER.analyst().get("/api/orders-key").json();
        String compact = SERVER.machine().get("/api/orders/ksk-1").text();
        JsonWebSignature signature = read(compact);
        assertThat(signature.verifySignature()).isTrue();
        assertThat(signature.getKeyIdHeaderValue()).isEqualTo(key.path("id").asString());
        assertThat(signature.getHeader("typ")).isEqualTo("orders-1+json");
        assertThat(JSON.readTree(signature.getPayload()).path("host").asString())
                .isEqualTo("ksk-1");
        String[] parts = compact.split("\\.");
        JsonWebSignature altered = read(parts[0] + "."
                + Base64.getUrlEncoder()
                        .withoutPadding()
                        .encodeToString(signature
                                .getPayload()
                                .replace("WITHHELD", "OFFERED!")
                                .getBytes(StandardCharsets.UTF_8))
                + "." + parts[2]);
        assertThat(altered.verifySignature()).as("altered").isFalse();
    }

    @Test
    void theyAreOfTheirSchemaAndNothingComesUntilTheyChange() throws JoseException {
        String schema = SERVER.machine().get("/api/schemas/orders-1").text();
        JsonNode first = orders(SERVER.machine(), "ksk-2");
        assertThat(SchemaRegistry.withDefaultDialect(SpecificationVersion.DRAFT_2020_12)
                        .getSchema(schema)
                        .validate(first.toString(), InputFormat.JSON))
                .isEmpty();
        String tag = tag(SERVER.machine().get("/api/orders/ksk-2"));
        LucidServer.Answer again = SERVER.machine().get("/api/orders/ksk-2", "If-None-Match", tag);
        assertThat(again.status()).isEqualTo(304);
        assertThat(again.text()).isEmpty();
        assertThat(orders(SERVER.machine(), "ksk-2").path("serial").asLong())
                .isEqualTo(first.path("serial").asLong());
        SERVER.restart();
        assertThat(SERVER.machine()
                        .get("/api/orders/ksk-2", "If-None-Match", tag)
                        .status())
                .as("the same before and after a restart")
                .isEqualTo(304);
    }

    @Test
    void whoWaitsIsToldAsSoonAsSomethingElseHolds() throws Exception {
        SERVER.machine().documents(Map.of("w.json", Examples.notice("DSK-WAIT", "1", "1.6")));
        LucidServer.Answer before = SERVER.machine().get("/api/orders/ksk-1");
        long serial =
                JSON.readTree(read(before.text()).getPayload()).path("serial").asLong();
        CompletableFuture<LucidServer.Answer> waits = CompletableFuture.supplyAsync(
                () -> SERVER.machine().get("/api/orders/ksk-1?wait=120", "If-None-Match", tag(before)));
        forced("DSK-WAIT", "kiosks");
        LucidServer.Answer told = waits.get(100, TimeUnit.SECONDS);
        assertThat(told.status()).isEqualTo(200);
        JsonNode content = JSON.readTree(read(told.text()).getPayload());
        assertThat(content.path("serial").asLong()).isGreaterThan(serial);
        assertThat(content.toString()).contains("forced: exploited");
        assertThat(SERVER.machine().get("/api/orders/ksk-1?wait=9999").status()).isEqualTo(422);
    }

    private static JsonWebSignature read(String compact) throws JoseException {
        JsonWebSignature signature = new JsonWebSignature();
        signature.setAlgorithmConstraints(new AlgorithmConstraints(ConstraintType.PERMIT, "EdDSA"));
        signature.setCompactSerialization(compact);
        signature.setKey(PublicJsonWebKey.Factory.newPublicJwk(Map.of(
                        "kty",
                        "OKP",
                        "crv",
                        "Ed25519",
                        "x",
                        SERVER.machine().get("/api/orders-key").json().path("x").asString()))
                .getKey());
        return signature;
    }

    @Test
    void aHostIsEnrolledOnceAndItsTokenIsItsOwn() {
        String once = SERVER.administrator()
                .post("/api/tokens", Map.of("name", "ksk-2", "scope", "ENROL", "host", "ksk-2"))
                .json()
                .path("token")
                .asString();
        JsonNode enrolled =
                SERVER.withToken(once).post("/api/enrolments", Map.of()).json();
        assertThat(enrolled.path("host").asString()).isEqualTo("ksk-2");
        assertThat(enrolled.path("key").asString()).startsWith("-----BEGIN PUBLIC KEY-----");
        assertThat(SERVER.withToken(once).post("/api/enrolments", Map.of()).status())
                .isEqualTo(401);
        Client host = SERVER.withToken(enrolled.path("token").asString());
        assertThat(host.get("/api/orders/ksk-2").status()).isEqualTo(200);
        assertThat(host.get("/api/orders/ksk-1").status()).isEqualTo(404);
        JsonNode token =
                SERVER.administrator().get("/api/tokens?text=KSK-2").json().path("tokens");
        assertThat(token.findValuesAsString("name")).contains("ksk-2");
        assertThat(token.toString()).contains("\"scope\":\"HOST\",\"host\":\"ksk-2\"");
        token.forEach(one -> {
            if (one.path("name").asString().equals("ksk-2")) {
                assertThat(one.path("lastUsed").asString()).isNotEmpty();
            }
        });
    }
}
