package lucid.core.docket;

import static lucid.core.TestFleet.NOW;
import static lucid.core.TestFleet.number;
import static lucid.core.TestFleet.text;
import static lucid.core.TestIds.updateId;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.within;

import java.time.Duration;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.TreeMap;
import lucid.core.TestFleet;
import lucid.core.carriage.Carriages;
import lucid.core.evidence.Evidence;
import lucid.core.evidence.ExploitScores;
import lucid.core.evidence.FailureReport;
import lucid.core.evidence.KnownExploited;
import lucid.core.evidence.KnownIssue;
import lucid.core.evidence.NotAffectedNote;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostConditions;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.Outcomes;
import lucid.core.fleet.Population;
import lucid.core.fleet.StandingRule;
import lucid.core.fleet.Trait;
import lucid.core.ruling.Decisions;
import lucid.core.update.AffectedRange;
import lucid.core.update.Catalogue;
import lucid.core.update.Fix;
import lucid.core.update.Kind;
import lucid.core.update.PackageReference;
import lucid.core.update.Update;
import lucid.core.update.Vulnerability;
import lucid.core.weighing.FlipPoint;
import lucid.core.weighing.FlipPoints;
import lucid.core.weighing.PopulationFacts;
import lucid.core.weighing.Suggestion;
import lucid.core.weighing.Weighing;
import lucid.core.weighing.Weights;
import org.junit.jupiter.api.Test;
import org.roaringbitmap.RoaringBitmap;

/** Random fleets, weighed by the code and once more by {@link SecondWeighing}. */
class SecondWeighingTest {

    private static final String CVE = "CVE-2026-9000001";
    private static final int FLEETS = 150;

    private record World(Update update, Carriages carriages, Evidence evidence) {}

    private static World world(Random random) {
        List<Host> hosts = new ArrayList<>();
        List<Outcome> outcomes = new ArrayList<>();
        int size = 10 + random.nextInt(140);
        double tried = random.nextDouble();
        double bad = random.nextInt(3) == 0 ? random.nextDouble() : .02;
        int hidden = random.nextInt(4);
        for (int i = 0; i < size; i++) {
            Map<String, Trait> traits = new HashMap<>();
            String model = "m" + random.nextInt(4);
            traits.put("model", text(model));
            traits.put("free", number(random.nextInt(40) * 25));
            if (random.nextInt(4) > 0) {
                traits.put(
                        "facing",
                        text(List.of("public", "partner", "internal", "isolated")
                                .get(random.nextInt(4))));
            }
            traits.put("role", text(random.nextInt(3) == 0 ? "kiosk" : "desk"));
            boolean deb = random.nextInt(3) > 0;
            List<String> products = new ArrayList<>(List.of(deb ? "pkg:deb/fathom/lib" : "pkg:rpm/tarn/lib"));
            if (deb && random.nextBoolean()) {
                products.add("pkg:deb/fathom/lib-tools");
            }
            boolean tries = random.nextDouble() < tried;
            boolean fails = tries && random.nextDouble() < (hidden == 0 && model.equals("m1") ? .8 : bad);
            String version = tries && !fails ? "2" : "1";
            hosts.add(TestFleet.host(
                    i, traits, products.stream().map(p -> p + "@" + version).toArray(String[]::new)));
            if (tries) {
                FailureClass failureClass = FailureClass.values()[random.nextInt(3)];
                outcomes.add(new Outcome(
                        i,
                        updateId("FTM-1"),
                        Optional.empty(),
                        fails ? Outcome.What.FAILED : Outcome.What.INSTALLED,
                        NOW.minus(Duration.ofHours(30 + random.nextInt(90))),
                        Optional.of("E" + random.nextInt(2)),
                        fails ? Optional.of(failureClass) : Optional.empty()));
            }
        }
        Fleet fleet = Fleet.EMPTY
                .with(new Ladder(
                        List.of(
                                tier(TestFleet.population("kiosks", "role = kiosk", 3), 1 + random.nextInt(4)),
                                tier(TestFleet.population("others", "name is set", 3), 1 + random.nextInt(4))),
                        new StandingRule(List.of(), StandingRule.Offer.NEVER)))
                .with(hosts);
        Update update = update(random);
        Carriages carriages = new Carriages(
                Catalogue.EMPTY.with(List.of(update)),
                fleet,
                TestFleet.index(hosts, false),
                TestFleet.index(hosts, true),
                Outcomes.NONE.with(outcomes));
        return new World(update, carriages, evidence(random, update));
    }

    private static Population tier(Population p, int tier) {
        return new Population(
                p.id(),
                p.name(),
                p.condition(),
                p.includes(),
                p.excludes(),
                tier,
                p.owner(),
                p.protectedHosts(),
                p.supply(),
                p.timing(),
                p.rule());
    }

    private static Update update(Random random) {
        List<Vulnerability> vulnerabilities = random.nextInt(3) == 0
                ? List.of()
                : List.of(new Vulnerability(
                        CVE,
                        "",
                        Optional.of(1 + random.nextInt(90) / 10.0),
                        Optional.of("CVSS:3.1/AV:N/AC:L/PR:N/UI:N/S:U/C:H/I:H/A:H"),
                        ""));
        List<Kind> kinds = vulnerabilities.isEmpty()
                ? List.of(Kind.BUGFIX, Kind.DRIVER, Kind.ENHANCEMENT)
                : List.of(Kind.SECURITY, Kind.CUMULATIVE, Kind.FIRMWARE);
        List<Fix> fixes = List.of("pkg:deb/fathom/lib", "pkg:deb/fathom/lib-tools", "pkg:rpm/tarn/lib").stream()
                .map(purl -> new Fix(PackageReference.parse(purl).build(), List.of(AffectedRange.below("2"))))
                .toList();
        return Update.join(
                List.of(TestFleet.advisory(
                        "FTM-1", Optional.of(kinds.get(random.nextInt(kinds.size()))), vulnerabilities, fixes, NOW)),
                Optional.empty(),
                Optional.empty(),
                NOW.minus(Duration.ofDays(9)));
    }

    private static Evidence evidence(Random random, Update update) {
        Evidence evidence = Evidence.NONE;
        if (random.nextInt(3) > 0) {
            ExploitScores.Builder scores = new ExploitScores.Builder();
            scores.add(CVE, random.nextInt(4) == 0 ? random.nextFloat() : random.nextFloat() / 10, .5f);
            evidence = evidence.with(scores.build("v1", LocalDate.of(2026, 11, 23), NOW), List.of(CVE));
        }
        if (random.nextInt(5) == 0) {
            evidence = evidence.withExploited(
                    List.of(new KnownExploited(CVE, LocalDate.of(2026, 11, 20), "", "", Optional.empty(), false, NOW)));
        }
        List<String> places = List.of("model = m1", "free > 500", "role = kiosk", "");
        for (int i = random.nextInt(3) - 1; i > 0; i--) {
            String where = places.get(random.nextInt(4));
            evidence = evidence.withIssues(List.of(new KnownIssue(
                    "KI-" + i,
                    List.of(update.id()),
                    List.of(),
                    "",
                    KnownIssue.State.OPEN,
                    random.nextBoolean() ? Optional.of(FailureClass.DOWN) : Optional.empty(),
                    Optional.of(where).filter(text -> !text.isEmpty()).map(HostConditions::parse),
                    "desk",
                    NOW,
                    NOW)));
        }
        for (int i = random.nextInt(4) - 1; i > 0; i--) {
            String where = places.get(random.nextInt(4));
            evidence = evidence.withReports(List.of(new FailureReport(
                    "R-" + i,
                    update.id(),
                    random.nextBoolean() ? Optional.of("E" + random.nextInt(2)) : Optional.empty(),
                    FailureClass.values()[random.nextInt(3)],
                    "",
                    List.of(),
                    1 + random.nextInt(60),
                    Optional.of(where).filter(text -> !text.isEmpty()).map(HostConditions::parse),
                    "site " + random.nextInt(2),
                    NOW)));
        }
        if (random.nextInt(4) == 0) {
            evidence = evidence.with(new NotAffectedNote(
                    1,
                    update.id(),
                    HostConditions.parse("free < 300"),
                    "not used",
                    "orrin",
                    NOW,
                    new RoaringBitmap(),
                    Optional.empty()));
        }
        return evidence;
    }

    private static String words(Suggestion suggestion) {
        return suggestion.type()
                + (suggestion.causes().isEmpty()
                        ? ""
                        : " " + suggestion.causes().size() + " causes")
                + suggestion.rest().map(rest -> ", rest " + rest).orElse("");
    }

    private final Map<String, Integer> seen = new TreeMap<>();

    @Test
    void bothSayTheSame() {
        for (int seed = 0; seed < FLEETS; seed++) {
            World world = world(new Random(seed));
            Docket docket = Docket.of(
                    new Docket.Facts(world.carriages(), world.evidence(), Weights.USUAL, Decisions.NONE), NOW);
            CaseFacts facts = docket.factsOf(world.update());
            for (DocketCase.OfPopulation one :
                    docket.find(updateId("FTM-1")).orElseThrow().weighings()) {
                Population population = world.carriages()
                        .fleet()
                        .ladder()
                        .entry(one.population().orElseThrow())
                        .orElseThrow();
                compare("seed " + seed + " " + population.name(), world, facts, population, one.weighing());
            }
        }
        assertThat(seen.keySet())
                .as("%s", seen)
                .contains("FORCE", "BLOCK", "PILOT", "LET_GO", "LEAVE_TO_RULE", "BLOCK 1 causes, rest PILOT");
    }

    private static SecondWeighing second(
            World world, CaseFacts facts, Population population, SecondWeighing.Turned turned) {
        return new SecondWeighing(
                world.update(),
                facts.carriage(),
                world.carriages().fleet(),
                world.evidence(),
                facts.tried(),
                facts.causes(),
                Weights.USUAL,
                facts.input().update().usual().rate(),
                population,
                turned);
    }

    private void compare(String what, World world, CaseFacts facts, Population population, Weighing weighing) {
        SecondWeighing second = second(world, facts, population, SecondWeighing.Turned.NOTHING);
        double[] sides = second.sides(population);
        double[] code = {
            weighing.exposure(),
            weighing.usual(),
            weighing.hazard().middle(),
            weighing.hazard().low(),
            weighing.hazard().high()
        };
        for (int i = 0; i < 5; i++) {
            assertThat(code[i]).as("%s, side %d", what, i).isCloseTo(sides[i], within(1e-6 + sides[i] * 1e-6));
        }
        assertThat(weighing.tilt().middle())
                .as(what)
                .isCloseTo(SecondWeighing.tilt(sides[0], sides[1], sides[2]), within(1e-6));
        assertThat(weighing.tilt().low())
                .as(what)
                .isCloseTo(SecondWeighing.tilt(sides[0], sides[1], sides[4]), within(1e-4));
        String now = words(weighing.suggestion());
        assertThat(now).as(what).isEqualTo(second.suggestion(population));
        seen.merge(now, 1, Integer::sum);
        PopulationFacts counted = facts.input()
                .population(population.tier(), world.carriages().fleet().members(population.id()));
        for (FlipPoint flip : FlipPoints.of(Weights.USUAL, facts.input().update(), counted, false)) {
            assertThat(words(flip.suggestion()))
                    .as("%s %s", what, flip)
                    .isEqualTo(second(world, facts, population, turned(flip.input(), flip.value()))
                            .suggestion(population))
                    .isNotEqualTo(now);
            if (flip.input() == FlipPoint.Input.FAILURES || flip.input() == FlipPoint.Input.CLEAN_TRIES) {
                for (int before = Math.max(1, (int) flip.value() - 3); before < flip.value(); before++) {
                    assertThat(second(world, facts, population, turned(flip.input(), before))
                                    .suggestion(population))
                            .as("%s, %d before %s", what, before, flip)
                            .isEqualTo(now);
                }
            }
        }
    }

    private static SecondWeighing.Turned turned(FlipPoint.Input input, double value) {
        Optional<Double> probability = input == FlipPoint.Input.PROBABILITY ? Optional.of(value) : Optional.empty();
        Optional<Boolean> exploited =
                input == FlipPoint.Input.KNOWN_EXPLOITED ? Optional.of(value == 1) : Optional.empty();
        return new SecondWeighing.Turned(
                input == FlipPoint.Input.FAILURES ? (int) value : 0,
                input == FlipPoint.Input.CLEAN_TRIES ? (int) value : 0,
                probability,
                exploited,
                input == FlipPoint.Input.HOSTS ? value : 1);
    }
}
