package lucid.server.access;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Path;
import java.util.List;
import java.util.Map;
import lucid.server.LucidServer;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import org.junit.jupiter.api.io.TempDir;

/** Signing in by a provider of identities, against a real one. */
class OpenIdTest {

    private static final String HERE = "https://lucid.example.org";

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    @TempDir
    static Path folder;

    private static IdentityProvider provider;

    @BeforeAll
    static void aProvider() throws Exception {
        provider = new IdentityProvider(HERE + "/signed-in", folder.resolve("provider"));
        assertThat(set(provider.issuer(), IdentityProvider.SECRET).status()).isEqualTo(204);
    }

    @AfterAll
    static void close() throws Exception {
        provider.close();
    }

    private static LucidServer.Answer set(String issuer, String secret) {
        return SERVER.administrator()
                .put(
                        "/api/openid-provider",
                        "*",
                        Map.of(
                                "name",
                                "Harbour accounts",
                                "issuer",
                                issuer,
                                "client",
                                IdentityProvider.CLIENT,
                                "secret",
                                secret,
                                "address",
                                HERE + "/"));
    }

    private static LucidServer.Client browser() {
        LucidServer.Client browser = SERVER.nobody();
        browser.get("/api/sessions/current");
        return browser;
    }

    private static String begin(LucidServer.Client browser) {
        return browser.post("/api/sessions/openid/beginnings", Map.of())
                .json()
                .path("address")
                .asString();
    }

    private static LucidServer.Answer comeBack(LucidServer.Client browser, String address) {
        return browser.post("/api/sessions/openid", Map.of("address", address));
    }

    private static LucidServer.Answer signIn(LucidServer.Client browser, String name) throws Exception {
        return comeBack(browser, provider.signedInAt(begin(browser), name));
    }

    @Test
    void whoHasAnAccountHereComesInAsThatAndIsKnownBySubjectFromThenOn() throws Exception {
        LucidServer.Client browser = browser();
        assertThat(browser.get("/api/sessions/openid").json().path("name").asString())
                .isEqualTo("Harbour accounts");
        LucidServer.Answer answer = signIn(browser, "m.aldane");
        assertThat(answer.status()).as(answer.text()).isEqualTo(200);
        assertThat(answer.json().path("displayName").asString()).isEqualTo("M. Aldane");
        assertThat(browser.get("/api/sessions/current").json().path("role").asString())
                .isEqualTo("ANALYST");
        assertThat(browser.post("/api/case-notes", Map.of("update", "NONE-1", "words", "x"))
                        .status())
                .as("an analyst as with a password")
                .isEqualTo(404);
        assertThat(SERVER.administrator().get("/api/record").text())
                .contains("M. Aldane signs in by Harbour accounts as well.");
        assertThat(SERVER.administrator().get("/api/accounts").text()).contains("\"byProvider\":true");
        assertThat(signIn(browser(), "m.aldane").status()).isEqualTo(200);
    }

    @Test
    void whoHasNoAccountHereIsNobody() throws Exception {
        LucidServer.Client browser = browser();
        LucidServer.Answer answer = signIn(browser, "s.nobody");
        assertThat(answer.status()).isEqualTo(401);
        assertThat(answer.text()).contains("nobody signs in here as 's.nobody'");
        assertThat(browser.get("/api/sessions/current").json().has("login")).isFalse();
    }

    @Test
    void anAnswerCountsOnceAndOnlyForTheBrowserThatAsked() throws Exception {
        LucidServer.Client asked = browser();
        String address = provider.signedInAt(begin(asked), "j.fenn");
        assertThat(comeBack(browser(), address).text()).contains("this browser began no sign-in");
        assertThat(comeBack(asked, address.replaceAll("state=[^&]+", "state=another"))
                        .text())
                .contains("belongs to another sign-in");
        assertThat(comeBack(asked, address).text())
                .as("a sign-in that failed is begun anew")
                .contains("this browser began no sign-in");
        LucidServer.Client again = browser();
        String second = provider.signedInAt(begin(again), "j.fenn");
        assertThat(comeBack(again, second).status()).isEqualTo(200);
        LucidServer.Client thief = browser();
        begin(thief);
        assertThat(comeBack(thief, second).status()).isEqualTo(401);
        assertThat(comeBack(browser(), "nothing of the kind").status()).isEqualTo(401);
        assertThat(browser().delete("/api/sessions/openid").status())
                .as("the way in opens nothing else")
                .isEqualTo(401);
    }

    @Test
    void whatTheProviderRefusesIsTold() {
        LucidServer.Client browser = browser();
        String state = begin(browser).replaceAll(".*[?&]state=([^&]+).*", "$1");
        assertThat(comeBack(browser, HERE + "/signed-in?error=access_denied&state=" + state)
                        .text())
                .contains("by Harbour accounts: it says: access_denied");
    }

    @Test
    void aSecondFactorThatIsAskedForMustHaveBeenAskedForThere() throws Exception {
        LucidServer.Client administrator = SERVER.administrator();
        signIn(browser(), "m.aldane");
        administrator.put("/api/second-factor-roles", "*", Map.of("roles", List.of("ANALYST")));
        try {
            assertThat(signIn(browser(), "m.aldane").text()).contains("a second factor is asked of you");
        } finally {
            administrator.put("/api/second-factor-roles", "*", Map.of("roles", List.of()));
        }
        assertThat(signIn(browser(), IdentityProvider.CAREFUL).status()).isEqualTo(200);
    }

    @Test
    void anAccountIsFoundAnewOnceAnAdministratorSaysSo() throws Exception {
        signIn(browser(), "m.aldane");
        LucidServer.Client administrator = SERVER.administrator();
        assertThat(administrator.delete("/api/accounts/m.aldane/openid-subject").status())
                .isEqualTo(204);
        assertThat(administrator.delete("/api/accounts/m.aldane/openid-subject").status())
                .isEqualTo(404);
        assertThat(signIn(browser(), "m.aldane").status()).isEqualTo(200);
    }

    @Test
    void aProviderThatCannotBeUsedIsRefusedByField() {
        assertThat(set("http://provider.example.org", "s").text()).contains("\"issuer\"", "http only on this machine");
        assertThat(set("http://127.0.0.1:1", "s").text()).contains("\"issuer\"", "cannot be reached");
        assertThat(set(provider.issuer() + "/other", "s").text()).contains("\"issuer\"");
        assertThat(SERVER.administrator().get("/api/openid-provider").text())
                .contains(HERE + "/signed-in", "\"hasSecret\":true")
                .doesNotContain(IdentityProvider.SECRET);
    }
}
