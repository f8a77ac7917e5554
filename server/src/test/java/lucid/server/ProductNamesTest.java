package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.Map;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.MethodOrderer;
import org.junit.jupiter.api.Order;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.TestMethodOrder;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;

/** An advisory whose products nobody knows, until somebody says what they are. */
@TestMethodOrder(MethodOrderer.OrderAnnotation.class)
class ProductNamesTest {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    private static String advisory(String id, String name, String fixed) {
        return """
                {"document": {"csaf_version": "2.0", "category": "csaf_security_advisory", "title": "%s", "publisher": {"name": "Halyard", "category": "vendor", "namespace": "https://halyard.example"},
                  "tracking": {"id": "%s", "version": "1", "status": "final", "revision_history": [{"number": "1", "date": "%s", "summary": "First."}], "initial_release_date": "%s", "current_release_date": "%s"}},
                 "product_tree": {"branches": [{"category": "product_name", "name": "%s", "branches": [
                    {"category": "product_version", "name": "%s", "product": {"product_id": "P", "name": "%s %s"}}]}]},
                 "vulnerabilities": [{"cve": "CVE-2026-9000041", "product_status": {"fixed": ["P"]}}]}
                """.formatted(id, id, Instant.now(), Instant.now(), Instant.now(), name, fixed, name, fixed);
    }

    @BeforeAll
    static void aVendorWithNamesOfItsOwn() {
        SERVER.machine()
                .report((Examples.host("pn-1", "kiosk", "1.0", Instant.now())
                                + Examples.host("pn-2", "kiosk", "3.0", Instant.now())
                                + """
                                {"t":"host","host":"pn-3","platform":"Tarn Linux 4","at":"%s"}
                                {"t":"product","purl":"pkg:rpm/tarn/libtls-libs?arch=x86_64","version":"3.2.8-1","source":"libtls"}
                                {"t":"end","lines":2}
                                """.formatted(Instant.now()))
                        .getBytes(StandardCharsets.UTF_8));
        Map<String, String> documents = new LinkedHashMap<>();
        documents.put("pn-1.json", advisory("PN-1", "The Desk", "2.0"));
        documents.put("pn-2.json", advisory("PN-2", "The Desk", "2.5"));
        documents.put(
                "pn-3.json",
                advisory("PN-3", "Something else", "7").replace("Something else 7", "libtls-0:3.2.9-1.src"));
        SERVER.machine().documents(documents);
    }

    private static JsonNode update(String id) {
        return SERVER.reader().get("/api/cases/" + id).json();
    }

    private static int lacking(String id) {
        int lacking = 0;
        for (JsonNode population : update(id).path("populations")) {
            lacking += population.path("lacking").asInt();
        }
        return lacking;
    }

    private static Map<String, Object> draft(String how, String pattern, String product) {
        Map<String, Object> draft = new LinkedHashMap<>(Map.of("vendor", "Halyard", "how", how, "pattern", pattern));
        if (!product.isEmpty()) {
            draft.put("product", product);
        }
        return draft;
    }

    @Test
    @Order(1)
    void whatCouldNotBeReadNeedsJudgementAndIsNamed() {
        assertThat(update("PN-1").path("cues").get(0).path("type").asString()).isEqualTo("PRODUCTS_NOT_READ");
        assertThat(update("PN-1").path("update").path("unread").size()).isEqualTo(1);
        assertThat(SERVER.analyst().get("/api/docket?show=OPEN").text()).contains("PN-1");
        JsonNode vendor = SERVER.reader().get("/api/unread-products").json().get(0);
        assertThat(vendor.path("vendor").asString()).isEqualTo("Halyard");
        assertThat(vendor.path("packagesOf").toString()).isEqualTo("[\"pkg:rpm/tarn/*\"]");
        JsonNode desk = vendor.path("products").get(0);
        assertThat(desk.path("name").asString()).isEqualTo("The Desk");
        assertThat(desk.path("versions").size()).isEqualTo(2);
        assertThat(desk.path("updates").size()).isEqualTo(2);
        assertThat(desk.path("candidates").toString()).isEqualTo("[\"pkg:generic/desk\"]");
    }

    @Test
    @Order(2)
    void aMappingIsTriedBeforeItIsUsed() {
        JsonNode read = SERVER.analyst()
                .post("/api/product-mappings/preview", draft("NAME", "The Desk", "pkg:generic/desk"))
                .json();
        assertThat(read.size()).isEqualTo(2);
        assertThat(read.get(0).path("lacking").asInt()).isEqualTo(1);
        assertThat(read.get(0).path("having").asInt()).isEqualTo(1);
        assertThat(read.get(0).path("unread").asInt()).isZero();
        assertThat(update("PN-1").path("update").path("unread").size())
                .as("nothing was changed")
                .isEqualTo(1);
        for (String wrong : new String[] {"desk", "pkg:generic/desk@2.0", "pkg:rpm/tarn/*"}) {
            LucidServer.Answer refused =
                    SERVER.analyst().post("/api/product-mappings/preview", draft("NAME", "The Desk", wrong));
            assertThat(refused.status()).isEqualTo(422);
            assertThat(refused.json().path("field").asString()).isEqualTo("product");
        }
        assertThat(SERVER.analyst()
                        .post("/api/product-mappings", draft("NAME", " ", "pkg:generic/desk"))
                        .json()
                        .path("field")
                        .asString())
                .isEqualTo("pattern");
        assertThat(SERVER.reader()
                        .post("/api/product-mappings", draft("NAME", "The Desk", "pkg:generic/desk"))
                        .status())
                .isEqualTo(403);
    }

    @Test
    @Order(3)
    void aMappingReadsWhatCameBeforeAndWhatComes() {
        assertThat(SERVER.analyst()
                        .post("/api/product-mappings", draft("NAME", "The Desk", "pkg:generic/desk"))
                        .status())
                .isEqualTo(201);
        assertThat(lacking("PN-1")).isEqualTo(1);
        assertThat(update("PN-1").path("update").path("unread").size()).isZero();
        assertThat(update("PN-1").path("cues").toString()).contains("NEW").doesNotContain("PRODUCTS_NOT_READ");
        SERVER.machine().documents(Map.of("pn-4.json", advisory("PN-4", "The Desk", "4.0")));
        assertThat(lacking("PN-4")).isEqualTo(2);
        assertThat(SERVER.rebuilt().catalogue().updates())
                .containsExactlyInAnyOrderElementsOf(
                        SERVER.snapshot().catalogue().updates());
        assertThat(SERVER.reader().get("/api/record").text())
                .contains("In documents of Halyard 'The Desk' means pkg:generic/desk.");
    }

    @Test
    @Order(4)
    void namesOfSourcePackagesReachWhatIsBuiltFromThem() {
        assertThat(SERVER.analyst()
                        .post("/api/product-mappings", draft("PACKAGE", "*", "pkg:rpm/tarn/*"))
                        .status())
                .isEqualTo(201);
        assertThat(lacking("PN-3"))
                .as("the host has libtls-libs, built from libtls")
                .isEqualTo(1);
        assertThat(SERVER.reader().get("/api/unread-products").json().size()).isZero();
    }

    @Test
    @Order(5)
    void whatNoHostHasIsToldToo() {
        SERVER.machine().documents(Map.of("pn-5.json", advisory("PN-5", "A winch", "1.1")));
        assertThat(SERVER.analyst()
                        .post("/api/product-mappings", draft("NAME", "A winch", ""))
                        .status())
                .isEqualTo(201);
        assertThat(update("PN-5").path("cues").size()).isZero();
        assertThat(SERVER.reader().get("/api/record").text())
                .contains("'A winch' means something that no host here has.");
    }

    @Test
    @Order(6)
    void aMappingThatIsRemovedLeavesItsProductsNotReadAgain() {
        JsonNode desk = null;
        for (JsonNode mapping : SERVER.reader().get("/api/product-mappings").json()) {
            desk = mapping.path("pattern").asString().equals("The Desk") ? mapping : desk;
        }
        String path = "/api/product-mappings/" + desk.path("number").asLong();
        assertThat(SERVER.reader().delete(path).status()).isEqualTo(403);
        assertThat(SERVER.analyst().delete(path).status()).isEqualTo(204);
        assertThat(SERVER.analyst().delete(path).status()).isEqualTo(404);
        assertThat(lacking("PN-1")).isZero();
        assertThat(update("PN-1").path("cues").get(0).path("type").asString()).isEqualTo("PRODUCTS_NOT_READ");
    }

    @Test
    @Order(7)
    void aRestartKeepsMappingsAndSources() {
        SERVER.restart();
        assertThat(SERVER.reader().get("/api/product-mappings").json().size()).isEqualTo(2);
        assertThat(lacking("PN-3")).isEqualTo(1);
        assertThat(update("PN-1").path("update").path("unread").size()).isEqualTo(1);
    }
}
