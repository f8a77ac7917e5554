package lucid.bench;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SplittableRandom;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostConditions;
import lucid.core.fleet.HostName;
import lucid.core.fleet.HostReport;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.fleet.Restraint;
import lucid.core.fleet.StandingRule;
import lucid.core.fleet.StartMode;
import lucid.core.fleet.Timing;
import lucid.core.fleet.Trait;
import lucid.core.fleet.WeekSpan;
import lucid.core.update.Advisory;
import lucid.core.update.AdvisorySource;
import lucid.core.update.AffectedRange;
import lucid.core.update.Fix;
import lucid.core.update.Kind;
import lucid.core.update.PackageReference;
import lucid.core.update.ProductBuild;
import lucid.core.update.Removable;
import lucid.core.update.RestartNeed;
import lucid.core.update.Restarts;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.core.update.UpdateNotice;
import lucid.core.update.Vulnerability;

/**
 * A made-up fleet of 50,000 hosts with 400 products each (20 million facts), 20,000 distinct inventories, 2 to 60
 * versions a product with a long tail, 12 populations and 3,000 updates. The same in every run.
 */
final class LargeFleet {

    private static final Timing HOURS = new Timing(
            ZoneId.of("Europe/Lisbon"),
            Optional.empty(),
            List.of(WeekSpan.parse("mon-fri 06:00-20:00")),
            List.of(),
            Optional.of(LocalTime.NOON),
            Duration.ofDays(1),
            StartMode.BY_ITSELF,
            true,
            Restraint.USUAL);

    static final int HOSTS = 50_000;
    static final int INVENTORIES = 20_000;
    static final int PRODUCTS_OF_A_HOST = 400;
    static final int UPDATES = 3_000;
    static final int POPULATIONS = 12;
    private static final int PRODUCTS = 800;
    private static final int IMAGES = 200;

    static final Instant NOW = Instant.parse("2026-11-25T09:00:00Z");

    /** The facts of each product, the oldest version first. */
    final List<List<InstalledProduct>> facts = new ArrayList<>();
    /** Indexes of products and of their versions, by inventory. */
    final int[][] products = new int[INVENTORIES][];

    final int[][] versions = new int[INVENTORIES][];
    final List<Update> updates = new ArrayList<>();
    final int[] productOfUpdate = new int[UPDATES];
    final int[] fixedInVersion = new int[UPDATES];
    final Ladder ladder;
    private final List<List<InstalledProduct>> inventories = new ArrayList<>();

    LargeFleet() {
        SplittableRandom random = new SplittableRandom(50_000);
        for (int p = 0; p < PRODUCTS; p++) {
            facts.add(factsOf(p, 2 + (int) (58 * Math.pow(random.nextDouble(), 2.5))));
        }
        int[][] images = new int[IMAGES][];
        for (int i = 0; i < IMAGES; i++) {
            images[i] = random.ints(0, PRODUCTS)
                    .distinct()
                    .limit(PRODUCTS_OF_A_HOST)
                    .sorted()
                    .toArray();
        }
        for (int i = 0; i < INVENTORIES; i++) {
            products[i] = images[random.nextInt(IMAGES)];
            versions[i] = new int[PRODUCTS_OF_A_HOST];
            List<InstalledProduct> inventory = new ArrayList<>(PRODUCTS_OF_A_HOST);
            for (int p = 0; p < PRODUCTS_OF_A_HOST; p++) {
                List<InstalledProduct> known = facts.get(products[i][p]);
                // Most hosts have one of the newest versions; some lag far behind.
                versions[i][p] = known.size() - 1 - (int) (known.size() * Math.pow(random.nextDouble(), 4));
                inventory.add(known.get(versions[i][p]));
            }
            inventories.add(List.copyOf(inventory));
        }
        for (int u = 0; u < UPDATES; u++) {
            productOfUpdate[u] = random.nextInt(PRODUCTS);
            fixedInVersion[u] = 1 + random.nextInt(facts.get(productOfUpdate[u]).size() - 1);
            updates.add(update(u));
        }
        List<Population> populations = new ArrayList<>();
        for (int p = 0; p < POPULATIONS; p++) {
            populations.add(new Population(
                    new PopulationId("p" + p),
                    "Population " + p,
                    HostConditions.parse("role = r" + p),
                    Set.of(),
                    Set.of(),
                    1 + p % 4,
                    "",
                    Set.of(),
                    Optional.empty(),
                    HOURS,
                    new StandingRule(
                            List.of(), StandingRule.Offer.afterDays(7 + p).dueAfterDays(5))));
        }
        ladder = new Ladder(populations, new StandingRule(List.of(), StandingRule.Offer.NEVER));
    }

    private static List<InstalledProduct> factsOf(int product, int count) {
        List<InstalledProduct> facts = new ArrayList<>();
        ProductBuild build = PackageReference.parse(
                        product % 2 == 0
                                ? "pkg:rpm/tarn/part-" + product + "?arch=x86_64"
                                : "pkg:deb/fathom/part-" + product + "?arch=amd64")
                .build();
        for (int v = 0; v < count; v++) {
            facts.add(new InstalledProduct(
                    build,
                    (product % 2 == 0 ? "0:" : "") + "2." + v + "." + product % 7
                            + (product % 2 == 0 ? "-1.t4" : "-1+u" + v)));
        }
        return facts;
    }

    private Update update(int u) {
        InstalledProduct fixed = facts.get(productOfUpdate[u]).get(fixedInVersion[u]);
        Fix fix = new Fix(fixed.build(), List.of(AffectedRange.below(fixed.version())));
        List<Advisory> advisories = u % 3 != 0
                ? List.of()
                : List.of(new Advisory(
                        AdvisorySource.CSAF,
                        new UpdateId("BIG-" + u),
                        "Update " + u,
                        "Tarn",
                        "",
                        "1",
                        "",
                        NOW.minus(Duration.ofHours(u)),
                        NOW.minus(Duration.ofHours(u)),
                        Optional.of(Kind.SECURITY),
                        Optional.empty(),
                        List.of(new Vulnerability(
                                "CVE-2026-" + (9_000_000 + u),
                                "",
                                Optional.of(4.0 + u % 6),
                                Optional.of("CVSS:3.1/AV:N"),
                                "")),
                        List.of(fix),
                        Restarts.NOT_TOLD,
                        Optional.empty(),
                        List.of(),
                        List.of(),
                        List.of(),
                        List.of(),
                        List.of(),
                        List.of(),
                        Optional.empty()));
        return Update.join(
                advisories,
                Optional.of(new UpdateNotice(
                        new UpdateId("BIG-" + u),
                        "Update " + u,
                        "Tarn",
                        "",
                        "1",
                        NOW.minus(Duration.ofHours(u)),
                        u % 3 == 0 ? Kind.SECURITY : Kind.BUGFIX,
                        Optional.empty(),
                        Optional.of(u % 10 == 0 ? RestartNeed.HOST : RestartNeed.NONE),
                        Removable.NOT_TOLD,
                        List.of(),
                        List.of(),
                        List.of(),
                        List.of(),
                        List.of(fix))),
                Optional.empty(),
                NOW);
    }

    int inventoryOf(int host) {
        return host < INVENTORIES ? host : (int) ((host * 2_654_435_761L & 0x7fffffff) % INVENTORIES);
    }

    static int populationOf(int host) {
        return host % 100 == 99 ? -1 : host % POPULATIONS;
    }

    List<InstalledProduct> productsOf(int host) {
        return inventories.get(inventoryOf(host));
    }

    /** Inventories by number. */
    List<InstalledProduct> inventory(int number) {
        return inventories.get(number);
    }

    static Map<String, Trait> traits(int host) {
        Map<String, Trait> traits = new HashMap<>();
        traits.put("role", new Trait.Text(populationOf(host) < 0 ? "loan" : "r" + populationOf(host)));
        traits.put("model", new Trait.Text("M" + host % 41));
        traits.put("site", new Trait.Text("S" + host % 23));
        traits.put("spool_free_mb", new Trait.Number(host % 4000));
        return traits;
    }

    static String platform(int host) {
        return host % 2 == 0 ? "Tarn Linux 4" : "Fathom OS 31";
    }

    HostReport report(int host, Instant at, List<InstalledProduct> products) {
        return new HostReport(
                new HostName("host-" + host),
                platform(host),
                at,
                traits(host),
                products,
                Optional.of("mirror"),
                Optional.of(NOW.minus(Duration.ofDays(9))),
                List.of());
    }

    List<Host> hosts() {
        List<Host> hosts = new ArrayList<>(HOSTS);
        for (int host = 0; host < HOSTS; host++) {
            hosts.add(Host.first(host, report(host, NOW, productsOf(host))));
        }
        return hosts;
    }
}
