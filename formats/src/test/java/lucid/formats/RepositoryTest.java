package lucid.formats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import com.github.luben.zstd.Zstd;
import java.io.ByteArrayOutputStream;
import java.io.OutputStream;
import java.nio.charset.Charset;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.zip.GZIPOutputStream;
import lucid.core.update.Advisory;
import lucid.core.update.AffectedRange;
import lucid.core.update.Fix;
import lucid.core.update.Kind;
import lucid.core.update.ProductMappings;
import lucid.core.update.RestartNeed;
import lucid.formats.document.Content;
import lucid.formats.document.Format;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.RefusedDocumentException;
import lucid.formats.document.RepositoryFile;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.tukaani.xz.LZMA2Options;
import org.tukaani.xz.XZOutputStream;

/** The metadata of rpm repositories, compressed or not. */
class RepositoryTest {

    private static final ReadingHints TARN =
            new ReadingHints(Optional.of("tarn"), Optional.of("tarn-4"), Map.of(), ProductMappings.NONE, Instant.EPOCH);

    static final String UPDATEINFO = """
            <?xml version="1.0" encoding="UTF-8"?>
            <updates>
              <update from="errata@tarn.example" status="final" type="security" version="1.4">
                <id>TRN-2231</id><title>Important: libtls</title><issued date="2026-11-12 09:00:00"/><updated date="2026-11-13 10:30:00"/>
                <severity>Important</severity><summary>short</summary><description>A crafted hello overruns a buffer.</description>
                <references><reference href="https://tarn.example/TRN-2231" type="self" id="TRN-2231"/><reference href="https://tarn.example/cve/1" id="CVE-2026-9000001" type="cve" title="x"/>
                  <reference type="cve" title="CVE-2026-9000002" id=""/></references>
                <pkglist><collection short="T4"><name>Tarn 4</name>
                  <package name="libtls" epoch="1" version="3.2.9" release="1.t4" arch="x86_64" src="libtls.src.rpm"><filename>a.rpm</filename><reboot_suggested>True</reboot_suggested></package>
                  <package name="libtls" epoch="1" version="3.2.9" release="1.t4" arch="src"><filename>a.src.rpm</filename></package>
                  <package name="libtls++" version="3.2.9" release="1.t4" arch="noarch"/>
                </collection></pkglist>
              </update>
              <update type="odd"><id>TRN-1</id><issued date="1762938000"/></update>
              <update type="bugfix"><id>TRN-2</id></update>
              <update type="enhancement"><id>TRN-3</id><issued date="yesterday"/></update>
              <update type="newpackage"><id>TRN-1</id><issued date="2026-11-12"/></update>
              <update type="bugfix"><id>TRN-4</id><issued date="2026-11-12"/><pkglist><collection><package name="x" version="1 0" release="1" arch="noarch"/></collection></pkglist></update>
            </updates>
            """;

    private static ReadDocument read(byte[] document) {
        return Documents.read(document, TARN);
    }

    private static List<Advisory> advisories(ReadDocument document) {
        return ((Content.OfAdvisories) document.content()).advisories();
    }

    @Test
    void readsEachUpdateByItself() {
        ReadDocument document = read(UPDATEINFO.getBytes(StandardCharsets.UTF_8));
        assertThat(document.format()).isEqualTo(Format.UPDATEINFO);
        assertThat(document.subject()).isEqualTo("2 updates");
        Advisory advisory = advisories(document).get(0);
        assertThat(advisory.kind()).contains(Kind.SECURITY);
        assertThat(advisory.vendor()).isEqualTo("tarn");
        assertThat(advisory.revision()).isEqualTo("2026.11.13.10.30.0");
        assertThat(advisory.published()).isEqualTo(Instant.parse("2026-11-12T09:00:00Z"));
        assertThat(advisory.vulnerabilities())
                .extracting(v -> v.id())
                .containsExactly("CVE-2026-9000001", "CVE-2026-9000002");
        assertThat(advisory.restarts().ofAll()).contains(RestartNeed.HOST);
        assertThat(advisory.references()).hasSize(2);
        assertThat(advisory.fixes())
                .extracting(f -> f.build().toString())
                .containsExactly(
                        "pkg:rpm/tarn/libtls on tarn-4 for x86_64", "pkg:rpm/tarn/libtls%2B%2B on tarn-4 for noarch");
        assertThat(advisory.fixes().get(0).tracks()).containsExactly(AffectedRange.below("1:3.2.9-1.t4"));
        assertThat(advisories(document).get(1).kind())
                .as("an unknown type tells nothing")
                .isEmpty();
        assertThat(advisories(document).get(1).published()).isEqualTo(Instant.ofEpochSecond(1762938000));
        assertThat(document.problems())
                .extracting(Problem::place)
                .containsExactly(
                        "/updates/update[3]",
                        "/updates/update[4]/issued[1]",
                        "/updates/update[5]",
                        "/updates/update[6]/pkglist[1]/collection[1]/package[1]");
        assertThat(document.problems())
                .extracting(Problem::reason)
                .satisfiesExactly(
                        r -> assertThat(r).contains("TRN-2 does not say when"),
                        r -> assertThat(r).contains("'yesterday'"),
                        r -> assertThat(r).contains("twice"),
                        r -> assertThat(r).contains("no rpm version"));
    }

    @Test
    void whosePackagesTheyAreMustBeTold() {
        assertThatThrownBy(() ->
                        Documents.read(UPDATEINFO.getBytes(StandardCharsets.UTF_8), ReadingHints.none(Instant.EPOCH)))
                .hasMessageContaining("name the namespace");
    }

    @Test
    void readsEveryCompressionThatRepositoriesUse() throws Exception {
        byte[] plain = UPDATEINFO.getBytes(StandardCharsets.UTF_8);
        ByteArrayOutputStream gzip = new ByteArrayOutputStream();
        try (OutputStream out = new GZIPOutputStream(gzip)) {
            out.write(plain);
        }
        ByteArrayOutputStream xz = new ByteArrayOutputStream();
        try (OutputStream out = new XZOutputStream(xz, new LZMA2Options())) {
            out.write(plain);
        }
        for (byte[] compressed : List.of(gzip.toByteArray(), xz.toByteArray(), Zstd.compress(plain))) {
            assertThat(advisories(read(compressed))).hasSize(2);
            byte[] cut = java.util.Arrays.copyOf(compressed, compressed.length - 20);
            assertThatThrownBy(() -> read(cut))
                    .isInstanceOf(RefusedDocumentException.class)
                    .hasMessageContaining("not whole");
        }
    }

    @Test
    void nothingExpandsBeyondTheLongestDocument() throws Exception {
        byte[] zeros = new byte[16 * 1024 * 1024];
        ByteArrayOutputStream gzip = new ByteArrayOutputStream();
        ByteArrayOutputStream xz = new ByteArrayOutputStream();
        try (OutputStream a = new GZIPOutputStream(gzip);
                OutputStream b = new XZOutputStream(xz, new LZMA2Options(0))) {
            for (int i = 0; i < 5; i++) {
                a.write(zeros);
                b.write(zeros);
            }
        }
        for (byte[] bomb : List.of(gzip.toByteArray(), xz.toByteArray(), Zstd.compress(new byte[80 * 1024 * 1024]))) {
            assertThat(bomb.length).isLessThan(1_000_000);
            assertThatThrownBy(() -> read(bomb)).hasMessageContaining("expands to more than 64 MB");
        }
    }

    @ParameterizedTest
    @ValueSource(
            strings = {
                "<!DOCTYPE updates [<!ENTITY a \"aaaa\"><!ENTITY b \"&a;&a;&a;\">]><updates><update><id>&b;</id></update></updates>",
                "<!DOCTYPE updates SYSTEM \"file:///etc/passwd\"><updates/>",
                "<!DOCTYPE updates [<!ENTITY x SYSTEM \"file:///etc/passwd\">]><updates><update><id>&x;</id></update></updates>",
            })
    void entitiesAreNeverRead(String document) {
        assertThatThrownBy(() -> read(document.getBytes(StandardCharsets.UTF_8)))
                .isInstanceOf(RefusedDocumentException.class)
                .hasMessageContaining("document type declarations");
    }

    @Test
    void brokenDeepAndForeignXmlIsRefusedWithItsPlace() {
        assertThatThrownBy(() -> read("<updates><update>".getBytes(StandardCharsets.UTF_8)))
                .hasMessageContaining("line 1: this is not valid XML");
        assertThatThrownBy(() -> read("<html/>".getBytes(StandardCharsets.UTF_8)))
                .hasMessageContaining("/html: this is XML, but none");
        String deep = "<updates>" + "<a>".repeat(60) + "</a>".repeat(60) + "</updates>";
        assertThatThrownBy(() -> read(deep.getBytes(StandardCharsets.UTF_8)))
                .hasMessageContaining("at most 50 levels deep");
        assertThatThrownBy(() -> read("<updates/>".getBytes(StandardCharsets.UTF_8)))
                .hasMessageContaining("there is no update in it");
    }

    @Test
    void anEncodingThatIsDeclaredIsRead() {
        Charset latin = StandardCharsets.ISO_8859_1;
        String text = UPDATEINFO.replace("UTF-8", "ISO-8859-1").replace("A crafted hello", "Ein präparierter Gruß");
        assertThat(advisories(read(text.getBytes(latin))).get(0).summary()).startsWith("Ein präparierter Gruß");
        String wide = UPDATEINFO.replace("UTF-8", "UTF-16");
        assertThat(advisories(read(wide.getBytes(StandardCharsets.UTF_16)))).hasSize(2);
        assertThatThrownBy(() ->
                        read(UPDATEINFO.replace("A crafted", "Ein präparierter").getBytes(latin)))
                .isInstanceOf(RefusedDocumentException.class);
    }

    @Test
    void theIndexNamesTheUpdateinfoAndHowToKnowThatItIsWhole() {
        String index = """
                <repomd xmlns="http://linux.duke.edu/metadata/repo"><data type="primary"><location href="repodata/p.xml.gz"/></data>
                <data type="updateinfo"><checksum type="sha256">%s</checksum><location href="repodata/u.xml.gz"/></data></repomd>
                """;
        String digest = "2cf24dba5fb0a30e26e83b2ac5b9e29e1b161e5c1fa7425e73043362938b9824";
        ReadDocument document = read(index.formatted(digest).getBytes(StandardCharsets.UTF_8));
        RepositoryFile file =
                ((Content.OfRepository) document.content()).files().get(0);
        assertThat(file.name()).isEqualTo("u.xml.gz");
        assertThat(file.isThis("hello".getBytes(StandardCharsets.UTF_8))).isTrue();
        assertThat(file.isThis("hallo".getBytes(StandardCharsets.UTF_8))).isFalse();
        assertThatThrownBy(() -> read(index.replace("updateinfo", "other").getBytes(StandardCharsets.UTF_8)))
                .hasMessageContaining("has no updateinfo");
        assertThatThrownBy(() -> read(index.replace("sha256", "md5").getBytes(StandardCharsets.UTF_8)))
                .hasMessageContaining("'md5' is no checksum");
        assertThatThrownBy(() -> read(index.replace("repodata/u", "../u").getBytes(StandardCharsets.UTF_8)))
                .hasMessageContaining("leads out of the repository");
    }

    private static Advisory only(String pkglist, String more) {
        return ((Content.OfAdvisories)
                        read(("<updates><update type=\"security\"><id>TRN-9</id><issued date=\"2026-11-12\"/>" + more
                                                + "<pkglist>" + pkglist + "</pkglist></update></updates>")
                                        .getBytes(StandardCharsets.UTF_8))
                                .content())
                .advisories()
                .get(0);
    }

    private static String collection(String module, String version) {
        return "<collection>" + module
                + "<package name=\"node\" epoch=\"1\" version=\"%s\" release=\"1\" arch=\"x86_64\"/></collection>"
                        .formatted(version);
    }

    @Test
    void aFixOfAModuleStreamSpeaksOfHostsOfThatStream() {
        Fix fix = only(
                        collection("<module name=\"node\" stream=\"18\"/>", "18.19.1")
                                + collection("<module name=\"node\" stream=\"20\"/>", "20.11.1"),
                        "")
                .fixes()
                .get(0);
        assertThat(
                        List.of("1:16.20.2-1", "1:18.19.0-1", "1:18.20.0-1", "1:20.11.0-1", "1:20.11.1-1", "1:22.1.0-1")
                                .stream()
                                .map(fix::standing))
                .containsExactly(
                        Fix.Standing.NOT_SPOKEN_OF,
                        Fix.Standing.LACKS,
                        Fix.Standing.HAS,
                        Fix.Standing.LACKS,
                        Fix.Standing.HAS,
                        Fix.Standing.HAS);
        assertThat(only(collection("<module name=\"node\" stream=\"rolling\"/>", "18.19.1"), "")
                        .fixes()
                        .get(0)
                        .tracks())
                .containsExactly(AffectedRange.below("1:18.19.1-1"));
    }

    @Test
    void aRestartMayBeSuggestedForTheWholeUpdate() {
        String packages = collection("", "18.19.1");
        assertThat(only(packages, "").restarts().ofAll())
                .as("not told is not known")
                .isEmpty();
        assertThat(only(packages, "<reboot_suggested/>").restarts().ofAll()).contains(RestartNeed.HOST);
        assertThat(only(packages, "<restart_suggested>1</restart_suggested>")
                        .restarts()
                        .ofAll())
                .contains(RestartNeed.SERVICE);
        assertThat(only(packages, "<relogin_suggested>true</relogin_suggested>")
                        .restarts()
                        .ofAll())
                .contains(RestartNeed.SERVICE);
        assertThat(only(packages, "<reboot_suggested>False</reboot_suggested>")
                        .restarts()
                        .ofAll())
                .isEmpty();
    }
}
