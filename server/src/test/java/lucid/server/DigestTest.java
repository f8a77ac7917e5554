package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;
import static org.awaitility.Awaitility.await;

import com.icegreen.greenmail.util.GreenMail;
import com.icegreen.greenmail.util.ServerSetup;
import jakarta.mail.MessagingException;
import jakarta.mail.internet.MimeMessage;
import java.io.IOException;
import java.time.Duration;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import org.junit.jupiter.api.AfterAll;
import org.junit.jupiter.api.BeforeAll;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.JsonNode;

/** What each person should know, on screen and by mail; a real mail server takes the mails. */
class DigestTest extends JudgingFixture {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    private static final GreenMail MAIL = new GreenMail(new ServerSetup(0, "127.0.0.1", ServerSetup.PROTOCOL_SMTP));
    private static final Duration LONG = Duration.ofMinutes(3);

    DigestTest() {
        super(SERVER);
    }

    @BeforeAll
    static void startMail() {
        MAIL.start();
    }

    @AfterAll
    static void stopMail() {
        MAIL.stop();
    }

    private static Map<String, Object> server(int port) {
        return Map.of(
                "host",
                "127.0.0.1",
                "port",
                port,
                "security",
                "NONE",
                "from",
                "lucid@example.org",
                "address",
                "http://127.0.0.1:8040/");
    }

    private static List<String> sections(LucidServer.Client person) {
        return person.get("/api/digest?hours=48")
                .json()
                .path("sections")
                .valueStream()
                .map(section -> section.path("title").asString())
                .toList();
    }

    @Test
    void eachRoleIsToldWhatIsItsOwn() {
        SERVER.analyst().post("/api/verdicts", draft("BLOCK", 5, "kiosks"), "If-Match", "*");
        assertThat(SERVER.analyst()
                        .post(
                                "/api/exceptions",
                                Map.of(
                                        "update",
                                        update,
                                        "scope",
                                        "UPDATE",
                                        "hosts",
                                        "name = odd-1",
                                        "until",
                                        inDays(4).toString(),
                                        "reason",
                                        "certificate",
                                        "owner",
                                        "S. Orrin",
                                        "measure",
                                        ""),
                                "If-Match",
                                "*")
                        .status())
                .isEqualTo(201);
        JsonNode analyst = SERVER.analyst().get("/api/digest").json();
        assertThat(analyst.toString())
                .contains("To judge: ", "Ends within seven days", "Block ends: " + update + " (Ticket kiosks)")
                .contains("M. Aldane (m.aldane): Blocked " + update)
                .contains("/cases/" + update);
        assertThat(sections(SERVER.person("s.orrin"))).containsExactly("Yours");
        assertThat(SERVER.person("s.orrin").get("/api/digest").text()).contains("Your exception no. ");
        assertThat(SERVER.person("b.tove").get("/api/digest").text()).doesNotContain("ksk", "M. Aldane");
        assertThat(SERVER.analyst().get("/api/digest?hours=0").status()).isEqualTo(422);
        assertThat(SERVER.analyst().get("/api/digest?zone=Mars").status()).isEqualTo(422);
    }

    @Test
    void aMailComesAtItsHourAndWhatCouldNotBeSentIsTriedAgain() throws MessagingException, IOException {
        LucidServer.Client administrator = SERVER.administrator();
        LucidServer.Client fenn = SERVER.person("j.fenn");
        assertThat(fenn.get("/api/digest-mail").json().path("canBeSent").asBoolean())
                .isFalse();
        assertThat(administrator
                        .put("/api/mail-server", null, server(MAIL.getSmtp().getPort()))
                        .status())
                .isEqualTo(204);
        assertThat(administrator
                        .post("/api/mail-server/trials", Map.of("to", "k.strand@example.org"))
                        .json()
                        .path("failure")
                        .isString())
                .isFalse();
        assertThat(MAIL.getReceivedMessages()).hasSize(1);
        assertThat(fenn.put(
                                "/api/digest-mail",
                                null,
                                Map.of("address", "J <j.fenn@example.org>", "hour", 7, "zone", "Europe/Oslo"))
                        .status())
                .isEqualTo(422);
        assertThat(fenn.put(
                                "/api/digest-mail",
                                null,
                                Map.of("address", "j.fenn@example.org", "hour", 7, "zone", "Europe/Oslo"))
                        .status())
                .isEqualTo(204);
        SERVER.machine().post("/api/clock/advances", Map.of("hours", 25));
        await().atMost(LONG).until(() -> MAIL.getReceivedMessages().length > 1);
        MimeMessage mail = MAIL.getReceivedMessages()[1];
        assertThat(mail.getAllRecipients()[0].toString()).isEqualTo("j.fenn@example.org");
        assertThat(mail.getSubject()).startsWith("Lucid Verdict, ").contains("to judge");
        assertThat(mail.getContent().toString())
                .contains("/cases/" + update, "http://127.0.0.1:8040/account")
                .doesNotContain("8040//");
        await().atMost(LONG)
                .until(() ->
                        fenn.get("/api/digest-mail").json().path("lastSent").isString());

        administrator.put("/api/mail-server", null, server(1));
        SERVER.machine().post("/api/clock/advances", Map.of("hours", 24));
        await().atMost(LONG)
                .until(() -> fenn.get("/api/digest-mail").json().path("failure").isString());
        int sent = MAIL.getReceivedMessages().length;
        administrator.put("/api/mail-server", null, server(MAIL.getSmtp().getPort()));
        // Whatever the hour is at which this test runs: an hour later may be past midnight.
        SERVER.machine().post("/api/clock/advances", Map.of("hours", 1));
        await().atMost(LONG).until(() -> MAIL.getReceivedMessages().length > sent);
        assertThat(fenn.delete("/api/digest-mail").status()).isEqualTo(204);
        assertThat(fenn.delete("/api/digest-mail").status()).isEqualTo(404);
    }

    @Test
    void thePasswordOfTheMailServerIsNeverTold() {
        LucidServer.Client administrator = SERVER.administrator();
        Map<String, Object> with = new HashMap<>(server(25));
        with.put("user", "lucid");
        with.put("password", "not-to-be-told");
        assertThat(administrator.put("/api/mail-server", null, with).status()).isEqualTo(204);
        String told = administrator.get("/api/mail-server").text();
        assertThat(told).contains("\"hasPassword\":true").doesNotContain("not-to-be-told");
        with.remove("password");
        administrator.put("/api/mail-server", null, with);
        assertThat(administrator.get("/api/mail-server").text())
                .as("it stays as it was")
                .contains("\"hasPassword\":true");
        with.put("host", "mail.example.org");
        assertThat(administrator
                        .put("/api/mail-server", null, with)
                        .json()
                        .path("field")
                        .asString())
                .as("a password does not cross a network in the open")
                .isEqualTo("security");
        with.put("host", "127.0.0.1");
        with.put("address", "javascript:alert(1)");
        assertThat(administrator.put("/api/mail-server", null, with).status()).isEqualTo(422);
        assertThat(administrator.delete("/api/mail-server").status()).isEqualTo(204);
        assertThat(administrator.get("/api/mail-server").json().path("server").isObject())
                .isFalse();
        assertThat(SERVER.reader().get("/api/record").text()).doesNotContain("not-to-be-told");
    }
}
