package lucid.core.causes;

import static lucid.core.TestFleet.NOW;
import static lucid.core.TestFleet.number;
import static lucid.core.TestFleet.text;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import lucid.core.TestFleet;
import lucid.core.causes.SuspectedCauses.TriedHost;
import lucid.core.fleet.Host;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Trait;
import lucid.core.update.PackageReference;
import org.apache.commons.statistics.inference.AlternativeHypothesis;
import org.apache.commons.statistics.inference.FisherExactTest;
import org.junit.jupiter.api.Test;

class SuspectedCausesTest {

    @Test
    void nineOfTwelveInsideAndTwoOfTheOthers() {
        assertThat(new FisherExact(200).p(9, 12, 11, 200)).isCloseTo(1.0004e-11, within(5e-16));
        assertThat(new Proportion(9, 12).low()).isCloseTo(.468, within(.0005));
        assertThat(new Proportion(9, 12).high()).isCloseTo(.911, within(.0005));
        assertThat(new Proportion(2, 188).low()).isCloseTo(.0029, within(.00005));
        assertThat(new Proportion(2, 188).high()).isCloseTo(.0380, within(.00005));
    }

    @Test
    void theTestAgreesWithASecondLibrary() {
        Random random = new Random(5);
        FisherExactTest other = FisherExactTest.withDefaults().with(AlternativeHypothesis.GREATER_THAN);
        FisherExact own = new FisherExact(400);
        for (int i = 0; i < 2000; i++) {
            int all = 5 + random.nextInt(395);
            int failed = 1 + random.nextInt(all - 1);
            int inside = 1 + random.nextInt(all - 1);
            int low = Math.max(0, failed + inside - all);
            int failedInside = low + random.nextInt(Math.min(failed, inside) - low + 1);
            int[][] table = {
                {failedInside, inside - failedInside}, {failed - failedInside, all - inside - failed + failedInside}
            };
            double expected = other.test(table).getPValue();
            assertThat(own.p(failedInside, inside, failed, all)).isCloseTo(expected, within(1e-9 + expected * 1e-7));
        }
    }

    /** The formula of Wilson 1927 worked by hand with z = 1.959964. */
    @Test
    void theIntervalOfAShareIsThatOfWilson() {
        assertThat(new Proportion(0, 10).low()).isCloseTo(0, within(1e-12));
        assertThat(new Proportion(0, 10).high()).isCloseTo(.277533, within(1e-6));
        assertThat(new Proportion(5, 10).low()).isCloseTo(.236593, within(2e-6));
        assertThat(new Proportion(5, 10).high()).isCloseTo(.763407, within(2e-6));
        assertThat(new Proportion(0, 0).low()).isZero();
        assertThat(new Proportion(0, 0).high()).as("nothing tried says nothing").isEqualTo(1);
    }

    private static TriedHost tried(
            int number, Map<String, Trait> traits, boolean failed, String code, String... products) {
        return new TriedHost(
                TestFleet.hostSeen(number, NOW, traits, products),
                NOW,
                Optional.empty(),
                failed ? Optional.of(code) : Optional.empty());
    }

    @Test
    void aPairIsFoundWhereBothMustHold() {
        Random random = new Random(11);
        List<TriedHost> hosts = new ArrayList<>();
        for (int i = 0; i < 300; i++) {
            String reader = i % 3 == 0 ? "R2" : i % 3 == 1 ? "R1" : "R3";
            int free = 100 + random.nextInt(900);
            boolean inside = reader.equals("R2") && free < 300;
            Map<String, Trait> traits = new HashMap<>(Map.of("reader", text(reader), "spool_free_mb", number(free)));
            for (int decoy = 0; decoy < 15; decoy++) {
                traits.put(
                        "decoy" + decoy, decoy % 2 == 0 ? text("v" + random.nextInt(4)) : number(random.nextInt(1000)));
            }
            hosts.add(tried(i, traits, random.nextDouble() < (inside ? .85 : .01), "0x80F00203"));
        }
        List<Cause> causes = SuspectedCauses.find(hosts);
        assertThat(causes).isNotEmpty();
        assertThat(causes.get(0).shared().toString())
                .matches("reader = R2 and spool_free_mb ≤ (2[89]\\d|30\\d)(\\.5)?");
        assertThat(causes.get(0).code()).contains("0x80F00203");
        assertThat(causes).hasSize(1);
    }

    @Test
    void aValueThatIsNotSetCanBeTheCause() {
        List<TriedHost> hosts = new ArrayList<>();
        for (int i = 0; i < 100; i++) {
            boolean set = i % 10 != 0;
            hosts.add(tried(i, set ? Map.of("agent", text("v" + i % 3)) : Map.of(), !set && i < 90 || i == 7, "E"));
        }
        assertThat(SuspectedCauses.find(hosts)).singleElement().satisfies(cause -> {
            assertThat(cause.shared()).hasToString("agent is not set");
            assertThat(cause.inside()).isEqualTo(new Proportion(9, 10));
            assertThat(cause.outside()).isEqualTo(new Proportion(1, 90));
        });
    }

    @Test
    void eachCodeHasACauseOfItsOwn() {
        List<TriedHost> hosts = new ArrayList<>();
        for (int i = 0; i < 240; i++) {
            String model = "m" + i % 6;
            String site = "s" + i / 40;
            boolean a = model.equals("m1") && i % 4 == 3;
            boolean b = site.equals("s3");
            hosts.add(tried(i, Map.of("model", text(model), "site", text(site)), a || b, b ? "B" : "A"));
        }
        assertThat(SuspectedCauses.find(hosts))
                .extracting(cause -> cause.shared().toString())
                .containsExactly("site = s3", "model = m1");
    }

    @Test
    void theVersionOfAnotherProductCanBeTheCauseButNotWhatTheUpdateItselfChanged() {
        List<TriedHost> hosts = new ArrayList<>();
        for (int i = 0; i < 100; i++) {
            boolean agent = i % 5 == 0;
            boolean failed = agent && i % 10 == 0;
            String own = "pkg:deb/fathom/lib@" + (failed ? "1" : "2");
            Host host = agent
                    ? TestFleet.host(i, Map.of(), own, "pkg:deb/fathom/agent@3")
                    : TestFleet.host(i, Map.of(), own);
            hosts.add(new TriedHost(
                    host,
                    NOW,
                    Optional.of(product("pkg:deb/fathom/lib@1")),
                    failed ? Optional.of("E") : Optional.empty()));
        }
        assertThat(SuspectedCauses.find(hosts))
                .extracting(cause -> cause.shared().toString())
                .containsExactly("\"pkg:deb/fathom/agent\" = \"3\"");
    }

    private static InstalledProduct product(String purl) {
        PackageReference reference = PackageReference.parse(purl);
        return new InstalledProduct(reference.build(), reference.version().orElseThrow());
    }

    @Test
    void failuresByChanceHaveNoCause() {
        Random random = new Random(3);
        for (int round = 0; round < 20; round++) {
            List<TriedHost> hosts = new ArrayList<>();
            for (int i = 0; i < 200; i++) {
                Map<String, Trait> traits = new HashMap<>();
                for (int decoy = 0; decoy < 10; decoy++) {
                    traits.put(
                            "t" + decoy, decoy % 2 == 0 ? text("v" + random.nextInt(5)) : number(random.nextInt(500)));
                }
                hosts.add(tried(i, traits, random.nextDouble() < .05, "E" + random.nextInt(2)));
            }
            assertThat(SuspectedCauses.find(hosts)).isEmpty();
        }
    }

    @Test
    void twoFailuresAreTooFew() {
        List<TriedHost> hosts = new ArrayList<>();
        for (int i = 0; i < 50; i++) {
            hosts.add(tried(i, Map.of("rare", text(i < 2 ? "yes" : "no")), i < 2, "E"));
        }
        assertThat(SuspectedCauses.find(hosts)).isEmpty();
    }

    private static TriedHost triedAt(int number, double hours, Map<String, Trait> traits, boolean failed) {
        return new TriedHost(
                TestFleet.host(number, traits),
                NOW.plusSeconds((long) (hours * 3600)),
                Optional.empty(),
                failed ? Optional.of("E") : Optional.empty());
    }

    /** The supply was out of order for a morning: whoever tried then failed, whatever it is. */
    @Test
    void anOutageIsACauseInTime() {
        Random random = new Random(7);
        List<TriedHost> hosts = new ArrayList<>();
        for (int i = 0; i < 200; i++) {
            boolean outage = i >= 80 && i < 100;
            hosts.add(triedAt(
                    i,
                    i / 4.0,
                    Map.of("model", text("m" + random.nextInt(4)), "site", text("s" + random.nextInt(5))),
                    outage && random.nextInt(4) > 0));
        }
        assertThat(SuspectedCauses.find(hosts)).singleElement().satisfies(cause -> {
            assertThat(cause.shared().hosts()).isEmpty();
            assertThat(cause.shared().span().after()).isPresent();
            assertThat(cause.shared().span().until()).isPresent();
            assertThat(cause.shared().lasts()).isFalse();
            assertThat(cause.shared().span().contains(NOW.plusSeconds(22 * 3600)))
                    .isTrue();
        });
    }

    /** One model was updated in one night: whether the model or the night did it nobody can tell. */
    @Test
    void whereNobodyCanTellTheCauseIsTakenToLast() {
        List<TriedHost> hosts = new ArrayList<>();
        for (int i = 0; i < 200; i++) {
            boolean night = i >= 80 && i < 100;
            hosts.add(triedAt(i, i / 4.0, Map.of("model", text(night ? "m1" : "m2")), night && i % 5 > 0));
        }
        assertThat(SuspectedCauses.find(hosts)).singleElement().satisfies(cause -> {
            assertThat(cause.shared()).hasToString("model = m1");
            assertThat(cause.alike())
                    .anySatisfy(other ->
                            assertThat(other.shared().span().isAlways()).isFalse());
        });
    }

    /** All hosts of the model stand at one site, but for one: the counts cannot tell the two apart. */
    @Test
    void whatCannotBeToldApartIsListedBesideIt() {
        List<TriedHost> hosts = new ArrayList<>();
        for (int i = 0; i < 120; i++) {
            boolean model = i < 20;
            boolean site = i < 21;
            hosts.add(tried(
                    i,
                    Map.of("model", text(model ? "m1" : "m2"), "site", text(site ? "s1" : "s" + (2 + i % 2))),
                    model && i % 4 > 0,
                    "E"));
        }
        assertThat(SuspectedCauses.find(hosts)).singleElement().satisfies(cause -> {
            assertThat(cause.shared()).hasToString("model = m1");
            assertThat(cause.alike()).first().satisfies(other -> {
                assertThat(other.shared()).hasToString("site = s1");
                assertThat(other.overlap()).isCloseTo(20.0 / 21, within(1e-9));
                assertThat(other.inside()).isEqualTo(new Proportion(15, 21));
                assertThat(other.outside()).isEqualTo(new Proportion(0, 99));
            });
        });
    }

    /** By chance most failures of the model fell on one room: the model alone explains them as well. */
    @Test
    void aPartOfAPairIsListedWhereTheOtherMayBeChance() {
        List<TriedHost> hosts = new ArrayList<>();
        for (int i = 0; i < 300; i++) {
            boolean model = i < 40;
            boolean failed = model && (i % 2 == 0 ? i < 22 : i < 4) || i > 295;
            hosts.add(tried(
                    i,
                    Map.of("model", text(model ? "m1" : "m2"), "room", text(i % 2 == 0 ? "r1" : "r2")),
                    failed,
                    "E"));
        }
        assertThat(SuspectedCauses.find(hosts)).singleElement().satisfies(cause -> {
            assertThat(cause.shared()).hasToString("model = m1 and room = r1");
            assertThat(cause.inside()).isEqualTo(new Proportion(11, 20));
            assertThat(cause.alike())
                    .extracting(other -> other.shared().toString())
                    .contains("model = m1");
        });
    }

    /** A third of those with little space fail: where exactly it becomes too little the counts cannot say. */
    @Test
    void theNarrowestAndTheWidestCutOfANumberAreListed() {
        List<TriedHost> hosts = new ArrayList<>();
        for (int i = 0; i < 200; i++) {
            hosts.add(tried(i, Map.of("free", number(10 * (i / 3))), i < 30 && i % 3 == 0, "E"));
        }
        assertThat(SuspectedCauses.find(hosts)).singleElement().satisfies(cause -> {
            assertThat(cause.alike())
                    .extracting(other -> other.inside().of())
                    .anySatisfy(narrow ->
                            assertThat(narrow).isLessThan(cause.inside().of()))
                    .anySatisfy(wide ->
                            assertThat(wide).isGreaterThan(cause.inside().of()))
                    .hasSize(2);
        });
    }
}
