package lucid.simulator;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.TreeMap;
import lucid.core.evidence.FailureReport;
import lucid.core.evidence.KnownExploited;
import lucid.core.evidence.KnownIssue;
import lucid.core.update.UpdateId;
import lucid.formats.Documents;
import lucid.formats.document.Content;
import lucid.formats.document.Format;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.provider.Listing;
import lucid.formats.provider.ProviderMetadata;
import lucid.formats.signature.SignatureException;
import lucid.formats.signature.TrustedKeys;
import org.junit.jupiter.api.Test;

/** What the outside world of the demo publishes can be read, tells the stories, and is served as the standard says. */
class OutsideTest {

    private static final Instant NOW = Instant.parse("2026-11-24T04:00:00Z");
    private static final List<Release> RELEASES = releases();
    private static final Outside OUTSIDE = new Outside(RELEASES);

    private static List<Release> releases() {
        try {
            return Release.all();
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
    }

    private static ReadDocument read(Outside.Published published) {
        return Documents.read(published.content().getBytes(StandardCharsets.UTF_8), ReadingHints.none(NOW));
    }

    private static List<ReadDocument> everything() {
        List<ReadDocument> all = new ArrayList<>();
        for (int daysAgo = 89; daysAgo >= 0; daysAgo--) {
            OUTSIDE.on(daysAgo, NOW.minus(Duration.ofDays(daysAgo))).forEach(published -> all.add(read(published)));
        }
        return all;
    }

    @Test
    void allOfItIsReadWithoutARemarkButTheStrangersAdvisory() {
        assertThat(everything())
                .hasSizeGreaterThan(20)
                .filteredOn(document -> !document.subject().equals("HLY-2026-014"))
                .allSatisfy(document -> assertThat(document.problems()).isEmpty());
        assertThat(everything())
                .filteredOn(document -> document.subject().equals("HLY-2026-014"))
                .singleElement()
                .satisfies(document -> assertThat(document.problems()).hasSize(1));
        Map<Format, Integer> formats = new TreeMap<>();
        everything().forEach(document -> formats.merge(document.format(), 1, Integer::sum));
        assertThat(formats)
                .containsKeys(
                        Format.EXPLOIT_SCORES, Format.KNOWN_EXPLOITED, Format.KNOWN_ISSUES, Format.FAILURE_REPORTS);
    }

    @Test
    void theLibraryFixRisesAndIsExploitedOnTheLastDay() {
        String cve = RELEASES.stream()
                .filter(r -> r.id().equals("TRN-2231"))
                .findFirst()
                .orElseThrow()
                .cves()
                .get(0);
        List<Double> scores = everything().stream()
                .filter(d -> d.content() instanceof Content.OfScores)
                .flatMap(d -> ((Content.OfScores) d.content()).scores().of(cve).stream())
                .map(score -> score.probability())
                .toList();
        assertThat(scores).isSorted().endsWith(.713);
        List<List<String>> catalogues = everything().stream()
                .filter(d -> d.content() instanceof Content.OfExploited)
                .map(d -> ((Content.OfExploited) d.content())
                        .listed().stream().map(KnownExploited::cve).toList())
                .toList();
        assertThat(catalogues.get(0)).doesNotContain(cve);
        assertThat(catalogues.get(catalogues.size() - 1)).contains(cve);
    }

    @Test
    void knownIssuesAndReportsAreOfReleasesThatThereAre() {
        List<String> ids = RELEASES.stream().map(Release::id).toList();
        List<KnownIssue> issues = everything().stream()
                .filter(d -> d.content() instanceof Content.OfIssues)
                .flatMap(d -> ((Content.OfIssues) d.content()).issues().stream())
                .toList();
        assertThat(issues).hasSize(4).allSatisfy(issue -> assertThat(ids)
                .containsAll(issue.updates().stream().map(UpdateId::value).toList()));
        assertThat(issues).extracting(KnownIssue::state).contains(KnownIssue.State.FIXED);
        List<FailureReport> reports = everything().stream()
                .filter(d -> d.content() instanceof Content.OfReports)
                .flatMap(d -> ((Content.OfReports) d.content()).reports().stream())
                .toList();
        assertThat(reports).hasSize(2).allSatisfy(report -> {
            assertThat(report.updateId()).isEqualTo(new UpdateId("LNT-1107"));
            assertThat(report.others()).isPositive();
        });
    }

    @Test
    void whatIsFetchedIsReadToo() {
        assertThat(OUTSIDE.fetched(NOW, NOW))
                .hasSize(4)
                .allSatisfy(published -> assertThat(read(published).problems()).isEmpty());
        assertThat(OUTSIDE.fetched(NOW, NOW))
                .extracting(published -> read(published).format())
                .contains(Format.OPENVEX, Format.KNOWN_ISSUES);
    }

    private static byte[] fetch(URI address) throws IOException, InterruptedException {
        return HttpClient.newHttpClient()
                .send(HttpRequest.newBuilder(address).build(), HttpResponse.BodyHandlers.ofByteArray())
                .body();
    }

    @Test
    void theProviderServesSignedAlteredAndUnsignedDocuments() throws Exception {
        Publisher publisher = new Publisher(NOW.minus(Duration.ofDays(300)));
        Release release = Release.ofProvider().get(0);
        publisher.advisory("GOOD-1", release.advisory(NOW), NOW.minusSeconds(3), Publisher.Signing.RIGHT);
        publisher.advisory("BAD-1", release.advisory(NOW), NOW.minusSeconds(2), Publisher.Signing.ALTERED_AFTERWARDS);
        publisher.advisory("BARE-1", release.advisory(NOW), NOW.minusSeconds(1), Publisher.Signing.NONE);
        ProviderMetadata metadata = ProviderMetadata.read(fetch(URI.create(publisher.providerMetadata())));
        Listing byFeed = Listing.ofFeed(fetch(metadata.feeds().get(0)));
        Listing byDirectory = Listing.ofChanges(
                fetch(URI.create(metadata.directories().get(0) + "changes.csv")),
                metadata.directories().get(0));
        assertThat(byFeed).isEqualTo(byDirectory);
        assertThat(byFeed.documents())
                .extracting(entry -> entry.document().getPath())
                .containsExactly(
                        "/csaf/white/2026/good-1.json", "/csaf/white/2026/bad-1.json", "/csaf/white/2026/bare-1.json");

        TrustedKeys keys = TrustedKeys.of(List.of(publisher.publicKey()));
        List<String> verified = new ArrayList<>();
        for (Listing.Entry entry : byFeed.documents()) {
            try {
                verified.add(keys.verify(fetch(entry.document()), fetch(entry.signature()), Instant.now()));
            } catch (SignatureException e) {
                verified.add("no");
            }
        }
        assertThat(verified).containsExactly(keys.described().get(0).fingerprint(), "no", "no");
    }

    @Test
    void whatHasNotChangedIsNotSentAgain() throws Exception {
        Publisher publisher = new Publisher(NOW);
        publisher.put("/a.csv", "one");
        URI address = URI.create(publisher.address("/a.csv"));
        HttpClient client = HttpClient.newHttpClient();
        String etag = client.send(HttpRequest.newBuilder(address).build(), HttpResponse.BodyHandlers.ofString())
                .headers()
                .firstValue("ETag")
                .orElseThrow();
        HttpRequest again =
                HttpRequest.newBuilder(address).header("If-None-Match", etag).build();
        assertThat(client.send(again, HttpResponse.BodyHandlers.ofString()).statusCode())
                .isEqualTo(304);
        publisher.put("/a.csv", "two");
        assertThat(client.send(again, HttpResponse.BodyHandlers.ofString()).statusCode())
                .isEqualTo(200);
        assertThat(client.send(
                                HttpRequest.newBuilder(URI.create(publisher.address("/none")))
                                        .build(),
                                HttpResponse.BodyHandlers.ofString())
                        .statusCode())
                .isEqualTo(404);
    }
}
