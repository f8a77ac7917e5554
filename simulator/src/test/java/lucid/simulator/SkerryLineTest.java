package lucid.simulator;

import static org.assertj.core.api.Assertions.assertThat;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Collectors;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostName;
import lucid.core.fleet.HostReport;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.PackageLists;
import lucid.core.update.Advisory;
import lucid.core.update.ProductBuild;
import lucid.core.update.Update;
import lucid.core.update.UpdateNotice;
import lucid.formats.Documents;
import lucid.formats.document.Content;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.Schemas;
import org.junit.jupiter.api.Test;
import tools.jackson.databind.json.JsonMapper;

/** What the simulator sends is what the server reads: through the real readers, without a single problem. */
class SkerryLineTest {

    private static final Instant NOW = Instant.parse("2026-11-24T09:00:00Z");
    private static final List<SimulatedHost> HOSTS = Fleet.make();
    private static final List<Release> RELEASES = releases();

    private static List<Release> releases() {
        try {
            return Release.all();
        } catch (IOException e) {
            throw new IllegalStateException(e);
        }
    }

    private static ReadDocument read(String document) {
        ReadDocument read = Documents.read(document.getBytes(StandardCharsets.UTF_8), ReadingHints.none(NOW));
        assertThat(read.problems()).isEmpty();
        return read;
    }

    private static List<HostReport> reports(int daysAgo) {
        String inventory = HOSTS.stream()
                .map(host -> host.inventory(RELEASES, daysAgo, NOW.minus(Duration.ofDays(daysAgo))))
                .collect(Collectors.joining());
        return ((Content.OfInventory) read(inventory).content()).reports();
    }

    @Test
    void theFleetIsThatOfTheScenario() throws IOException {
        Ladder ladder = ((Content.OfPopulations) read(SkerryLine.populations(LocalDate.ofInstant(NOW, ZoneOffset.UTC)))
                        .content())
                .ladder();
        Map<String, Integer> sizes = new TreeMap<>();
        reports(0)
                .forEach(report -> sizes.merge(
                        ladder.owner(Host.first(0, report))
                                .map(population -> population.id().value())
                                .orElse("none"),
                        1,
                        Integer::sum));
        assertThat(sizes)
                .isEqualTo(Map.of(
                        "proving-bench",
                        12,
                        "bridge-consoles",
                        44,
                        "gate-controllers",
                        58,
                        "booking-databases",
                        9,
                        "yard-servers",
                        63,
                        "ticket-kiosks",
                        171,
                        "crew-tablets",
                        118,
                        "office-desktops",
                        157,
                        "none",
                        8));
    }

    @Test
    void everyReleaseIsReadAsItWasMeant() {
        assertThat(RELEASES.stream().map(Release::id).distinct()).hasSize(81);
        for (Release release : RELEASES) {
            UpdateNotice notice = ((Content.OfNotice) read(release.notice(NOW)).content()).notice();
            assertThat(notice.id().value()).isEqualTo(release.id());
            if (release.hasAdvisory()) {
                Advisory advisory = advisory(release);
                Update update = Update.join(List.of(advisory), Optional.of(notice), Optional.empty(), NOW);
                assertThat(update.fixes().stream()
                                .mapToInt(f -> f.tracks().size())
                                .sum())
                        .isEqualTo(release.fixes().size());
                assertThat(advisory.vulnerabilities()).isNotEmpty().allSatisfy(v -> assertThat(v.id())
                        .startsWith("CVE-2026-9"));
            } else {
                assertThat(notice.fixes()).isNotEmpty();
            }
        }
    }

    @Test
    void theSameVulnerabilityOnTwoPlatformsHasOneIdentifier() {
        List<String> tarn = cves("TRN-2231");
        assertThat(cves("FTM-0869")).isEqualTo(tarn);
        assertThat(cves("LNT-1107")).doesNotContainAnyElementsOf(tarn);
    }

    private static List<String> cves(String id) {
        Release release =
                RELEASES.stream().filter(r -> r.id().equals(id)).findFirst().orElseThrow();
        return advisory(release).vulnerabilities().stream().map(v -> v.id()).toList();
    }

    private static Advisory advisory(Release release) {
        return ((Content.OfAdvisories) read(release.advisory(NOW)).content())
                .advisories()
                .get(0);
    }

    @Test
    void theHiddenCauseHitsWhomItShouldAndNobodyElse() {
        List<HostReport> all = new ArrayList<>();
        for (int daysAgo = 12; daysAgo >= 0; daysAgo--) {
            all.addAll(reports(daysAgo));
        }
        List<HostReport> failed = all.stream()
                .filter(report -> report.events().stream()
                        .anyMatch(event ->
                                event.updateId().value().equals("LNT-1107") && event.what() == Outcome.What.FAILED))
                .toList();
        assertThat(failed).hasSizeGreaterThan(5).allSatisfy(report -> {
            assertThat(report.events())
                    .filteredOn(event -> event.updateId().value().equals("LNT-1107"))
                    .allSatisfy(event -> assertThat(event.code()).contains("0x1107-28"));
            assertThat(report.traits().get("reader")).hasToString("R2");
        });
        assertThat(all)
                .filteredOn(report -> report.traits().containsKey("reader")
                        && report.events().stream()
                                .anyMatch(event -> event.updateId().value().equals("LNT-1107")
                                        && event.what() == Outcome.What.INSTALLED))
                .as("others with that reader install it")
                .anySatisfy(report -> assertThat(report.traits().get("reader")).hasToString("R2"))
                .hasSizeGreaterThan(40);
        assertThat(failed).extracting(HostReport::name).doesNotHaveDuplicates();
    }

    @Test
    void startsNeverMoveBackAndSomeHostsWaitForOne() {
        Map<HostName, Instant> last = new TreeMap<>();
        for (int daysAgo = 89; daysAgo >= 0; daysAgo--) {
            reports(daysAgo).forEach(report -> {
                Instant started = report.lastStart().orElseThrow();
                assertThat(started).isBefore(report.at());
                Instant before = last.put(report.name(), started);
                assertThat(before == null || !started.isBefore(before))
                        .as("%s: %s after %s", report.name(), started, before)
                        .isTrue();
            });
        }
        assertThat(last.values().stream().distinct().count()).isGreaterThan(10);
    }

    @Test
    void linesOfAnInventoryAgreeWithTheSchema() {
        Schemas schema = Schemas.named("inventory-line-1");
        HOSTS.stream()
                .limit(20)
                .flatMap(host -> host.inventory(RELEASES, 3, NOW).lines())
                .forEach(line -> assertThat(schema.problems(new JsonMapper().readTree(line)))
                        .as(line)
                        .isEmpty());
    }

    @Test
    void whatHostsFindOnTheirSourcesIsAboveWhatTheyHave() {
        List<HostReport> today = reports(0);
        assertThat(today).allSatisfy(report -> {
            Map<ProductBuild, String> installed = report.products().stream()
                    .collect(Collectors.toMap(InstalledProduct::build, InstalledProduct::version));
            assertThat(report.lists().orElseThrow().newer())
                    .extracting(PackageLists.Newer::product)
                    .allMatch(newer ->
                            newer.build().product().ordering().compare(newer.version(), installed.get(newer.build()))
                                    > 0);
        });
        assertThat(today)
                .as("some lag behind their sources")
                .anyMatch(report -> !report.lists().orElseThrow().newer().isEmpty());
    }

    @Test
    void hostsInstallOverTimeAndNeverGoBack() {
        Map<HostName, List<String>> before = versions(60);
        Map<HostName, List<String>> after = versions(0);
        assertThat(after).isNotEqualTo(before).hasSameSizeAs(before);
        assertThat(versions(0)).as("the same in every run").isEqualTo(after);
        long carrying = reports(0).stream()
                .filter(r -> r.products().stream().anyMatch(p -> p.version().equals("6.0.1107")))
                .count();
        assertThat(carrying).isBetween(50L, 200L);
    }

    private static Map<HostName, List<String>> versions(int daysAgo) {
        return reports(daysAgo).stream().collect(Collectors.toMap(HostReport::name, r -> r.products().stream()
                .map(Object::toString)
                .toList()));
    }

    @Test
    void nineteenTabletsAreAway() {
        List<SimulatedHost> away = HOSTS.stream()
                .filter(host -> host.role().equals("tablet") && !host.reportsOn(0))
                .toList();
        assertThat(away).hasSize(19).allSatisfy(host -> {
            assertThat(host.reportsOn(15)).isFalse();
            assertThat(host.reportsOn(21)).isTrue();
        });
    }

    @Test
    void theDisplayDriverTakesControllersOfOneModelDown() {
        List<HostReport> down = new ArrayList<>();
        for (int daysAgo = 7; daysAgo >= 0; daysAgo--) {
            int day = daysAgo;
            HOSTS.stream()
                    .filter(host -> host.reportsOn(day))
                    .map(host -> host.inventory(RELEASES, day, NOW))
                    .map(lines -> ((Content.OfInventory) read(lines).content())
                            .reports()
                            .get(0))
                    .filter(report -> report.events().stream()
                            .anyMatch(event ->
                                    event.updateId().value().equals("GUL-0440") && event.what() == Outcome.What.FAILED))
                    .forEach(down::add);
        }
        assertThat(down).hasSizeGreaterThan(3).allSatisfy(report -> {
            assertThat(report.traits().get("model")).hasToString("G1");
            assertThat(report.events())
                    .filteredOn(event -> event.updateId().value().equals("GUL-0440"))
                    .singleElement()
                    .satisfies(event -> assertThat(event.failureClass()).contains(FailureClass.DOWN));
        });
    }

    @Test
    void someControllersNeverReportAfterTheyInstalledIt() {
        List<String> silent = HOSTS.stream()
                .filter(host -> host.role().equals("gate") && host.reportsOn(4) && !host.reportsOn(3))
                .filter(host -> host.inventory(RELEASES, 4, NOW)
                        .contains("\"update\":\"GUL-0440\",\"revision\":\"1\",\"what\":\"installed\""))
                .map(SimulatedHost::name)
                .toList();
        assertThat(silent).hasSizeGreaterThan(1);
    }

    @Test
    void theSuccessorComesOnlyAfterTheHistory() {
        Release successor = RELEASES.stream()
                .filter(r -> r.id().equals("LNT-1114"))
                .findFirst()
                .orElseThrow();
        assertThat(successor.daysAgo()).isNegative();
        assertThat(HOSTS).allSatisfy(host -> assertThat(host.inventory(RELEASES, 0, NOW))
                .doesNotContain("LNT-1114")
                .doesNotContain("6.0.1114"));
    }

    @Test
    void aRevisionHasOtherFixesThanTheFirst() {
        List<Release> revisions =
                RELEASES.stream().filter(r -> r.id().equals("FTM-0866")).toList();
        assertThat(revisions).extracting(Release::revision).containsExactly("1", "2");
        assertThat(revisions.get(0).fixes()).isNotEqualTo(revisions.get(1).fixes());
    }

    @Test
    void newMachinesCameWithTheNextRelease() {
        assertThat(HOSTS)
                .filteredOn(host -> host.platform().equals("Lantern Desktop 7"))
                .hasSize(6)
                .allSatisfy(host -> {
                    assertThat(host.reportsOn(22)).isFalse();
                    assertThat(host.reportsOn(0)).isTrue();
                });
    }

    @Test
    void elevenHostsTakeUpdatesFromTheVendor() {
        assertThat(HOSTS).filteredOn(host -> host.supply().equals("vendor")).hasSize(11);
    }
}
