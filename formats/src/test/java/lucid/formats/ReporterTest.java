package lucid.formats;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.concurrent.TimeUnit;
import lucid.core.fleet.HostReport;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.condition.EnabledIf;
import org.junit.jupiter.api.io.TempDir;
import tools.jackson.databind.json.JsonMapper;

/** {@code reporter/lucid-report} against dpkg databases of the test's own. */
@EnabledIf("dpkgIsInstalled")
class ReporterTest {

    @TempDir
    Path folder;

    static boolean dpkgIsInstalled() throws Exception {
        return "required".equals(System.getenv("LUCID_ORACLES")) || new ProcessBuilder("sh", "-c", "command -v dpkg-query").start().waitFor() == 0;
    }

    private record Ran(int exit, byte[] output, String errors) {}

    @BeforeEach
    void anOperatingSystem() throws IOException {
        Files.writeString(folder.resolve("os-release"), "NAME=\"Fathom OS\"\nID=fathom\nVERSION_ID='31'\nPRETTY_NAME=\"$(touch " + folder.resolve("executed") + ")\"\n");
    }

    private void installed(String... stanzas) throws IOException {
        Files.writeString(folder.resolve("status"), String.join("\n", stanzas));
    }

    private static String stanza(String name, String version, String status) {
        return "Package: " + name + "\nStatus: install ok " + status + "\nMaintainer: nobody <nobody@example.invalid>\nArchitecture: amd64\nVersion: " + version
                + "\nDescription: a package\n";
    }

    private Ran run(String... options) throws Exception {
        List<String> command = new ArrayList<>(List.of("sh", Path.of("..", "reporter", "lucid-report").toString(), "--dpkg-admindir", folder.toString(),
                "--os-release", folder.resolve("os-release").toString()));
        command.addAll(List.of(options));
        Path errors = folder.resolve("errors");
        Process process = new ProcessBuilder(command).redirectError(errors.toFile()).start();
        byte[] output = process.getInputStream().readAllBytes();
        assertThat(process.waitFor(30, TimeUnit.SECONDS)).isTrue();
        return new Ran(process.exitValue(), output, Files.readString(errors));
    }

    @Test
    void reportsWhatIsInstalledAndNothingElse() throws Exception {
        installed(stanza("libtls", "1:3.2.8-2+u1", "installed"), stanza("libstream++6", "12~rc1-1", "triggers-pending") + "Triggers-Pending: something\n", stanza("gone", "1.0", "config-files"),
                stanza("broken", "1.0", "half-installed"));
        Ran ran = run("--print", "--name", "bri-auk-1");
        assertThat(ran.exit()).as(ran.errors()).isZero();
        ReadDocument document = Documents.read(ran.output(), ReadingHints.none(Instant.EPOCH));
        assertThat(document.problems()).isEmpty();
        HostReport host = ((Content.OfInventory) document.content()).reports().get(0);
        assertThat(host.name()).isEqualTo("bri-auk-1");
        assertThat(host.platform()).isEqualTo("Fathom OS 31");
        assertThat(host.products()).extracting(p -> p.build() + " " + p.version()).containsExactlyInAnyOrder(
                "pkg:deb/fathom/libtls on fathom-31 for amd64 1:3.2.8-2+u1", "pkg:deb/fathom/libstream%2B%2B6 on fathom-31 for amd64 12~rc1-1");
        assertThat(host.traits()).containsKeys("kernel", "machine");
        assertThat(folder.resolve("executed")).as("os-release is read as text").doesNotExist();
        Schemas schema = Schemas.named("inventory-line-1");
        new String(ran.output(), StandardCharsets.UTF_8).lines().forEach(line -> assertThat(schema.problems(new JsonMapper().readTree(line))).as(line).isEmpty());
    }

    @Test
    void aNameWithQuotesStaysAName() throws Exception {
        installed(stanza("libtls", "1.0", "installed"));
        HostReport host = ((Content.OfInventory) Documents.read(run("--print", "--name", "a\"b\\c").output(), ReadingHints.none(Instant.EPOCH)).content()).reports().get(0);
        assertThat(host.name()).isEqualTo("a\"b\\c");
    }

    @Test
    void reportsNothingRatherThanAnEmptyHost() throws Exception {
        installed("");
        assertThat(run("--print")).satisfies(ran -> {
            assertThat(ran.exit()).isNotZero();
            assertThat(ran.output()).isEmpty();
            assertThat(ran.errors()).contains("missing or empty");
        });
        installed(stanza("gone", "1.0", "config-files"));
        assertThat(run("--print")).satisfies(ran -> {
            assertThat(ran.exit()).isNotZero();
            assertThat(ran.output()).isEmpty();
            assertThat(ran.errors()).contains("no installed package");
        });
    }

    @Test
    void aDatabaseThatBreaksInTheMiddleIsNotReportedInPart() throws Exception {
        installed(stanza("libtls", "1.0", "installed"), stanza("late", "1.0", "triggers-pending"));
        Ran ran = run("--print");
        assertThat(ran.exit()).isNotZero();
        assertThat(ran.output()).isEmpty();
        assertThat(ran.errors()).contains("dpkg-query cannot read");
    }

    @Test
    void saysWhatItNeedsAndWhenItCannotSend() throws Exception {
        installed(stanza("libtls", "1.0", "installed"));
        assertThat(run().errors()).contains("use --print, or --server");
        assertThat(run("--server", "http://127.0.0.1:1").errors()).contains("--token-file");
        Path token = Files.writeString(folder.resolve("token"), "secret");
        Ran unreachable = run("--server", "http://127.0.0.1:1", "--token-file", token.toString());
        assertThat(unreachable.exit()).isNotZero();
        assertThat(unreachable.errors()).contains("could not be sent").doesNotContain("secret");
    }
}
