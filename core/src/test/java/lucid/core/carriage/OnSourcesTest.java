package lucid.core.carriage;

import static org.assertj.core.api.Assertions.assertThat;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.TestFleet;
import lucid.core.carriage.OnSources.Found;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostReport;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.PackageLists;
import lucid.core.update.PackageReference;
import lucid.core.update.Update;
import org.junit.jupiter.api.Test;
import org.roaringbitmap.RoaringBitmap;

class OnSourcesTest {

    private static final String ALPHA = "pkg:deb/fathom/alpha?arch=amd64&distro=fathom-31";
    private static final String BETA = "pkg:deb/fathom/beta?arch=amd64&distro=fathom-31";

    private final List<Host> hosts = new ArrayList<>();
    private Instant fetched = TestFleet.NOW;

    private static InstalledProduct product(String purl, String version) {
        return new InstalledProduct(PackageReference.parse(purl).build(), version);
    }

    private static String fixed(String purl, String version) {
        return purl.replace("?", "@" + version + "?");
    }

    private static PackageLists.Newer candidate(String purl, String version) {
        return new PackageLists.Newer(product(purl, version), true);
    }

    private void host(String supply, List<InstalledProduct> installed, PackageLists.Newer... newer) {
        HostReport report = TestFleet.report(hosts.size(), TestFleet.NOW, Optional.empty(), Map.of());
        hosts.add(Host.first(
                hosts.size(),
                new HostReport(
                        report.name(),
                        report.platform(),
                        report.at(),
                        Map.of(),
                        installed,
                        Optional.of(supply),
                        Optional.empty(),
                        List.of(),
                        List.of(),
                        Optional.of(new PackageLists(fetched, List.of(newer), Map.of())))));
    }

    private OnSources asked(Update update) {
        RoaringBitmap all = new RoaringBitmap();
        all.add(0L, hosts.size());
        return OnSources.of(update, all, Fleet.EMPTY.with(hosts));
    }

    @Test
    void aHostFindsAnUpdateWhereItsListsHaveAVersionWithTheFix() {
        host("one", List.of(product(ALPHA, "1.0-1")), candidate(ALPHA, "1.2-1"));
        host("one", List.of(product(ALPHA, "1.0-1")), candidate(ALPHA, "1.1-0"));
        host("two", List.of(product(ALPHA, "1.0-1")));
        hosts.add(TestFleet.host(3, Map.of(), "pkg:deb/fathom/alpha@1.0-1?arch=amd64&distro=fathom-31"));
        OnSources sources = asked(TestFleet.update("U-1", fixed(ALPHA, "1.1-1")));
        assertThat(sources.in(Found.THERE).toArray()).containsExactly(0);
        assertThat(sources.notYet()).containsOnlyKeys("one", "two");
        assertThat(sources.notYet().get("one").toArray()).containsExactly(1);
        assertThat(sources.notYet().get("two").toArray()).containsExactly(2);
        assertThat(sources.in(Found.NOT_YET).toArray()).containsExactly(1, 2);
        assertThat(sources.in(Found.NOT_TOLD).toArray()).as("it does not tell").containsExactly(3);
    }

    /** Such lists say nothing of it; but if they have it, they do. */
    @Test
    void listsFromBeforeThePublicationAreNotALackOfTheSource() {
        fetched = Instant.EPOCH;
        host("one", List.of(product(ALPHA, "1.0-1")));
        host("one", List.of(product(ALPHA, "1.0-1")), candidate(ALPHA, "1.1-1"));
        OnSources sources = asked(TestFleet.update("U-1", fixed(ALPHA, "1.1-1")));
        assertThat(sources.in(Found.NOT_FETCHED_SINCE).toArray()).containsExactly(0);
        assertThat(sources.in(Found.THERE).toArray()).containsExactly(1);
        assertThat(sources.notYet()).isEmpty();
    }

    @Test
    void everyProductThatLacksItMustBeBroughtAndNoOther() {
        List<InstalledProduct> both = List.of(product(ALPHA, "1.0-1"), product(BETA, "1.0-1"));
        host("one", both, candidate(ALPHA, "1.1-1"));
        host("one", both, candidate(ALPHA, "1.1-1"), candidate(BETA, "1.1-1"));
        host("one", List.of(product(ALPHA, "1.0-1"), product(BETA, "1.1-1")), candidate(ALPHA, "1.1-1"));
        OnSources sources = asked(TestFleet.update("U-1", fixed(ALPHA, "1.1-1"), fixed(BETA, "1.1-1")));
        assertThat(sources.in(Found.THERE).toArray()).containsExactly(1, 2);
        assertThat(sources.in(Found.NOT_YET).toArray()).containsExactly(0);
    }

    /** What a host keeps back, as by its orders, is on its sources all the same. */
    @Test
    void whatThePackageManagerWouldNotInstallIsThereToo() {
        host("one", List.of(product(ALPHA, "1.0-1")), new PackageLists.Newer(product(ALPHA, "1.1-1"), false));
        assertThat(asked(TestFleet.update("U-1", fixed(ALPHA, "1.1-1")))
                        .in(Found.THERE)
                        .toArray())
                .containsExactly(0);
    }

    @Test
    void anotherBuildOfTheProductIsNotTheOneThatLacksIt() {
        host(
                "one",
                List.of(product(ALPHA, "1.0-1")),
                candidate("pkg:deb/fathom/alpha?arch=i386&distro=fathom-31", "1.1-1"));
        assertThat(asked(TestFleet.update("U-1", fixed(ALPHA, "1.1-1")))
                        .in(Found.NOT_YET)
                        .toArray())
                .containsExactly(0);
    }

    /** A fix of a source package judges what lies on the sources by the source it was built from. */
    @Test
    void aFixOfASourcePackageIsFoundByTheSourceOfWhatIsThere() {
        String libtls = "pkg:deb/fathom/libtls3?arch=amd64&distro=fathom-31";
        InstalledProduct built = new InstalledProduct(
                PackageReference.parse(libtls).build(),
                "3.2.8-2+b1",
                Optional.of(new InstalledProduct.SourcePackage("tls", "3.2.8-2")));
        InstalledProduct next = new InstalledProduct(
                built.build(), "3.2.9-1+b1", Optional.of(new InstalledProduct.SourcePackage("tls", "3.2.9-1")));
        host("one", List.of(built), new PackageLists.Newer(next, true));
        Update update = TestFleet.update("U-1", fixed("pkg:deb/fathom/tls?arch=source&distro=fathom-31", "3.2.9-1"));
        assertThat(asked(update).in(Found.THERE).toArray()).containsExactly(0);
    }
}
