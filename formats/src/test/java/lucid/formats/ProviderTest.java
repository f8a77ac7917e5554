package lucid.formats;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.io.IOException;
import java.io.InputStream;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.List;
import java.util.Objects;
import lucid.formats.document.RefusedDocumentException;
import lucid.formats.provider.Listing;
import lucid.formats.provider.ProviderMetadata;
import lucid.formats.signature.SignatureException;
import lucid.formats.signature.TrustedKeys;
import org.junit.jupiter.api.Test;

/** A provider's layout, and signatures that were made once with a key of ours and one of somebody else. */
class ProviderTest {

    private static final Instant NOW = Instant.parse("2026-11-24T09:00:00Z");

    private static byte[] resource(String name) throws IOException {
        try (InputStream in = Objects.requireNonNull(ProviderTest.class.getResourceAsStream("/provider/" + name))) {
            return in.readAllBytes();
        }
    }

    private static TrustedKeys keys() throws IOException {
        return TrustedKeys.of(List.of(new String(resource("key.asc"), StandardCharsets.US_ASCII)));
    }

    private static byte[] bytes(String text) {
        return text.getBytes(StandardCharsets.UTF_8);
    }

    @Test
    void aDocumentThatATrustedKeySignedIsVerified() throws Exception {
        TrustedKeys keys = keys();
        TrustedKeys.Described described = keys.described().get(0);
        assertThat(described.owner()).isEqualTo("Fathom Security <security@fathom.example>");
        assertThat(described.fingerprint()).matches("[0-9A-F]{40}");
        assertThat(keys.verify(resource("fth-1.json"), resource("fth-1.json.asc"), NOW))
                .isEqualTo(described.fingerprint());
    }

    @Test
    void alteredUnknownOrBrokenSignaturesAreToldApart() throws IOException {
        TrustedKeys keys = keys();
        byte[] document = resource("fth-1.json");
        byte[] altered = document.clone();
        altered[20] ^= 1;
        assertThatThrownBy(() -> keys.verify(altered, resource("fth-1.json.asc"), NOW))
                .isInstanceOf(SignatureException.class)
                .hasMessageContaining("changed after it was signed");
        assertThatThrownBy(() -> keys.verify(document, resource("fth-1.json.other.asc"), NOW))
                .isInstanceOf(SignatureException.class)
                .hasMessageContaining("not trusted here");
        assertThatThrownBy(() -> keys.verify(document, bytes("no signature"), NOW))
                .isInstanceOf(SignatureException.class);
        assertThatThrownBy(() -> keys.verify(document, resource("key.asc"), NOW))
                .isInstanceOf(SignatureException.class)
                .hasMessageContaining("no signature");
        assertThatThrownBy(() -> TrustedKeys.of(List.of("a text")))
                .isInstanceOf(IllegalArgumentException.class)
                .hasMessageContaining("no OpenPGP public key");
    }

    @Test
    void metadataNamesFeedsAndDirectories() {
        ProviderMetadata metadata = ProviderMetadata.read(bytes("""
                {"canonical_url": "https://fathom.example/provider-metadata.json", "publisher": {"name": "Fathom"}, "distributions": [
                  {"rolie": {"feeds": [{"url": "https://fathom.example/feed.json", "tlp_label": "WHITE"}]}}, {"directory_url": "https://fathom.example/white/"}]}"""));
        assertThat(metadata)
                .isEqualTo(new ProviderMetadata(
                        "Fathom",
                        List.of(URI.create("https://fathom.example/feed.json")),
                        List.of(URI.create("https://fathom.example/white/"))));
        assertThatThrownBy(
                        () -> ProviderMetadata.read(bytes("{\"publisher\": {\"name\": \"F\"}, \"distributions\": []}")))
                .isInstanceOf(RefusedDocumentException.class);
        assertThatThrownBy(
                        () -> ProviderMetadata.read(
                                bytes(
                                        "{\"publisher\": {\"name\": \"F\"}, \"distributions\": [{\"directory_url\": \"file:///etc\"}]}")))
                .isInstanceOfSatisfying(RefusedDocumentException.class, refused -> assertThat(
                                refused.problems().get(0).place())
                        .isEqualTo("/distributions/0/directory_url"));
        assertThatThrownBy(() -> ProviderMetadata.read(bytes("{}")))
                .isInstanceOf(RefusedDocumentException.class)
                .hasMessageContaining("provider-metadata.json");
    }

    @Test
    void aFeedListsDocumentsWithTheirHashAndSignature() {
        Listing listing = Listing.ofFeed(bytes("""
                {"feed": {"id": "all", "entry": [
                  {"id": "b", "updated": "2026-11-21T08:00:00Z", "content": {"src": "https://fathom.example/b.json"}, "link": [{"rel": "self", "href": "https://fathom.example/b.json"}]},
                  {"id": "a", "updated": "2026-11-20T08:00:00+01:00", "content": {"src": "https://fathom.example/a.json"},
                   "link": [{"rel": "hash", "href": "https://fathom.example/a.json.sha512"}, {"rel": "signature", "href": "https://fathom.example/signatures/a.asc"}]}]}}"""));
        assertThat(listing.documents())
                .extracting(entry -> entry.document().getPath())
                .containsExactly("/a.json", "/b.json");
        assertThat(listing.documents().get(0).changed()).isEqualTo("2026-11-20T07:00:00Z");
        assertThat(listing.documents().get(0).signature()).hasToString("https://fathom.example/signatures/a.asc");
        assertThat(listing.documents().get(1).signature()).hasToString("https://fathom.example/b.json.asc");
        assertThat(listing.documents().get(1).hash()).isEmpty();
    }

    @Test
    void aDirectoryListsWhatChangedAndNothingOutsideOfIt() {
        URI directory = URI.create("https://fathom.example/white");
        Listing listing = Listing.ofChanges(
                bytes("\"2026/b.json\",\"2026-11-21T08:00:00Z\"\n\"2026/a.json\",\"2026-11-20T08:00:00Z\"\n"),
                directory);
        assertThat(listing.documents())
                .extracting(entry -> entry.document().toString())
                .containsExactly(
                        "https://fathom.example/white/2026/a.json", "https://fathom.example/white/2026/b.json");
        assertThat(listing.documents().get(0).hash())
                .contains(URI.create("https://fathom.example/white/2026/a.json.sha256"));
        assertThatThrownBy(() -> Listing.ofChanges(bytes("\"../../etc/a.json\",\"2026-11-20T08:00:00Z\"\n"), directory))
                .isInstanceOf(RefusedDocumentException.class)
                .hasMessageContaining("no path within");
        assertThatThrownBy(() -> Listing.ofChanges(bytes("\"a.json\",\"yesterday\"\n"), directory))
                .isInstanceOf(RefusedDocumentException.class)
                .hasMessageContaining("no instant");
        assertThatThrownBy(() -> Listing.ofChanges(bytes("a.json\n"), directory))
                .isInstanceOf(RefusedDocumentException.class);
    }
}
