package lucid.core.docket;

import static lucid.core.TestFleet.NOW;
import static lucid.core.TestFleet.number;
import static lucid.core.TestFleet.text;
import static lucid.core.TestIds.acknowledgementNumber;
import static lucid.core.TestIds.exceptionNumber;
import static lucid.core.TestIds.hostName;
import static lucid.core.TestIds.populationId;
import static lucid.core.TestIds.updateId;
import static lucid.core.TestIds.updateIds;
import static lucid.core.TestIds.verdictNumber;
import static org.assertj.core.api.Assertions.assertThat;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Random;
import java.util.Set;
import lucid.core.TestFleet;
import lucid.core.TestPilots;
import lucid.core.carriage.Carriages;
import lucid.core.carriage.CarrierIndex;
import lucid.core.evidence.DismissedFailure;
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
import lucid.core.fleet.StandingRule;
import lucid.core.fleet.Trait;
import lucid.core.pilot.Pilot;
import lucid.core.ruling.Acknowledgement;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.Effect;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.ruling.ReasonWord;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Advisory;
import lucid.core.update.AdvisorySource;
import lucid.core.update.AffectedRange;
import lucid.core.update.Catalogue;
import lucid.core.update.Fix;
import lucid.core.update.Kind;
import lucid.core.update.PackageReference;
import lucid.core.update.Requirement;
import lucid.core.update.RestartNeed;
import lucid.core.update.Restarts;
import lucid.core.update.Update;
import lucid.core.update.Vulnerability;
import lucid.core.weighing.Weights;
import org.junit.jupiter.params.ParameterizedTest;
import org.junit.jupiter.params.provider.ValueSource;
import org.roaringbitmap.RoaringBitmap;

/** Whatever happens, the docket that takes over what nothing touched is the one that is made from nothing. */
class DocketNextTest {

    private static final int HOSTS = 30;
    /** Hosts that come later. */
    private static final int LATE = 6;

    private static final int PRODUCTS = 5;

    /** A small fleet to which something happens again and again. */
    private static final class Play {
        private final Random random;
        private Instant now = NOW;
        private Carriages carriages;
        private Evidence evidence = Evidence.NONE;
        private Decisions decisions = Decisions.NONE;
        private long numbers;

        Play(long seed) {
            random = new Random(seed);
            Ladder ladder = new Ladder(
                    List.of(
                            TestFleet.population("kiosks", "role = kiosk", 3),
                            TestFleet.population("desks", "role = desk", 9)),
                    new StandingRule(List.of(), StandingRule.Offer.NEVER));
            carriages = new Carriages(
                    Catalogue.EMPTY, Fleet.EMPTY.with(ladder), CarrierIndex.EMPTY, CarrierIndex.EMPTY, Outcomes.NONE);
            for (int i = 0; i < HOSTS - LATE; i++) {
                report(i);
            }
            for (int i = 0; i < 8; i++) {
                update(i);
            }
        }

        private Verdict perhapsPiloting(Verdict verdict) {
            List<Integer> sample =
                    random.ints(6, 0, HOSTS - LATE).distinct().boxed().toList();
            Pilot pilot = TestPilots.of(sample, now);
            return random.nextInt(3) > 0 ? verdict : verdict.with(random.nextInt(5) == 0 ? pilot.failed(now) : pilot);
        }

        private String pick(String... words) {
            return words[random.nextInt(words.length)];
        }

        private Map<String, Trait> traits() {
            Map<String, Trait> traits = new HashMap<>();
            traits.put("role", text(pick("kiosk", "desk", "other")));
            traits.put("facing", text(pick("public", "internal", "moon")));
            traits.put("free", number(random.nextInt(1000)));
            return traits;
        }

        private void retire(int host, boolean retired) {
            RoaringBitmap all = carriages.fleet().retired();
            if (retired) {
                all.add(host);
            } else {
                all.remove(host);
            }
            carriages = carriages.retiring(all);
        }

        private void report(int i) {
            if (carriages.fleet().isRetired(i)) {
                retire(i, false);
            }
            List<String> purls = new ArrayList<>();
            for (int p = 0; p < PRODUCTS; p++) {
                if (random.nextInt(4) > 0) {
                    purls.add("pkg:deb/fathom/p" + p + "@" + (1 + random.nextInt(6)));
                }
            }
            Optional<Host> known = carriages.fleet().host(hostName("host-" + i));
            Map<String, Trait> traits =
                    known.isPresent() && random.nextInt(3) > 0 ? known.get().traits() : traits();
            Optional<Instant> start = random.nextBoolean()
                    ? Optional.of(now.minus(Duration.ofHours(random.nextInt(90))))
                    : Optional.empty();
            boolean same = known.isPresent() && random.nextBoolean();
            Host fresh = Host.first(i, TestFleet.report(i, now, start, traits, purls.toArray(String[]::new)));
            Host host = known.isEmpty()
                    ? fresh
                    : known.get()
                            .after(
                                    same
                                            ? TestFleet.report(i, now, start, traits, purls(known.get()))
                                            : TestFleet.report(i, now, start, traits, purls.toArray(String[]::new)),
                                    Host.DEFAULT_RHYTHM);
            carriages = new Carriages(
                    carriages.catalogue(),
                    carriages.fleet().with(List.of(host)),
                    carriages
                            .installed()
                            .with(List.of(new CarrierIndex.Change(
                                    i, known.map(Host::products).orElse(List.of()), host.products()))),
                    carriages
                            .running()
                            .with(List.of(new CarrierIndex.Change(
                                    i, known.map(Host::running).orElse(List.of()), host.running()))),
                    carriages.outcomes());
        }

        private static String[] purls(Host host) {
            return host.products().stream()
                    .map(p -> p.build().product().purl() + "@" + p.version())
                    .toArray(String[]::new);
        }

        private void update(int i) {
            String id = "FTM-" + i;
            Optional<Update> before = carriages.catalogue().update(updateId(id));
            Fix fix = new Fix(
                    PackageReference.parse("pkg:deb/fathom/p" + random.nextInt(PRODUCTS))
                            .build(),
                    List.of(AffectedRange.below("" + (1 + random.nextInt(6)))));
            List<Vulnerability> vulnerabilities = random.nextBoolean()
                    ? List.of()
                    : List.of(new Vulnerability(
                            "CVE-2026-900000" + random.nextInt(4),
                            "",
                            Optional.of(7.0),
                            Optional.of("CVSS:3.1/AV:" + pick("N", "L")),
                            ""));
            Advisory advisory = new Advisory(
                    AdvisorySource.values()[0],
                    updateId(id),
                    "Update " + id,
                    "Fathom",
                    "",
                    "" + (1 + before.map(b -> b.revisions().size()).orElse(0)),
                    "",
                    now,
                    now,
                    Optional.of(random.nextInt(3) == 0 ? Kind.UPGRADE : Kind.BUGFIX),
                    Optional.empty(),
                    vulnerabilities,
                    List.of(fix),
                    Restarts.NOT_TOLD,
                    Optional.empty(),
                    List.of(),
                    List.of(),
                    List.of(),
                    List.of(),
                    List.of(),
                    List.of(),
                    Optional.empty());
            Update update = Update.join(
                    List.of(advisory),
                    i > 0 && random.nextBoolean()
                            ? Optional.of(TestFleet.requiring(
                                    TestFleet.notice(
                                            id,
                                            "1",
                                            RestartNeed.HOST,
                                            List.of("FTM-" + random.nextInt(i)),
                                            List.of(),
                                            List.of()),
                                    required()))
                            : Optional.empty(),
                    before,
                    now);
            carriages = new Carriages(
                    carriages.catalogue().with(List.of(update)),
                    carriages.fleet(),
                    carriages.installed(),
                    carriages.running(),
                    carriages.outcomes());
        }

        private Requirement[] required() {
            return switch (random.nextInt(4)) {
                case 0 ->
                    new Requirement[] {
                        new Requirement.OfProduct(
                                PackageReference.parse("pkg:deb/fathom/p" + random.nextInt(PRODUCTS))
                                        .build()
                                        .product(),
                                random.nextBoolean() ? Optional.of("3") : Optional.empty())
                    };
                case 1 -> new Requirement[] {new Requirement.AtLeast("free", random.nextInt(1000))};
                default -> new Requirement[0];
            };
        }

        private void happen() {
            String id = "FTM-" + random.nextInt(9);
            int host = random.nextInt(HOSTS);
            if (carriages.fleet().host(hostName("host-" + host)).isEmpty()) {
                report(host);
            }
            switch (random.nextInt(13)) {
                case 0, 1, 2 -> report(host);
                case 3 -> {
                    Outcome.What what = random.nextBoolean() ? Outcome.What.INSTALLED : Outcome.What.FAILED;
                    Outcome outcome = new Outcome(
                            host,
                            updateId(id),
                            Optional.empty(),
                            what,
                            now.minus(Duration.ofHours(random.nextInt(3))),
                            Optional.of("E"),
                            Optional.of(FailureClass.values()[random.nextInt(3)]));
                    carriages = new Carriages(
                            carriages.catalogue(),
                            carriages.fleet(),
                            carriages.installed(),
                            carriages.running(),
                            carriages.outcomes().with(List.of(outcome)));
                }
                case 4 -> update(random.nextInt(9));
                case 5 -> {
                    ExploitScores.Builder scores = new ExploitScores.Builder();
                    scores.add("CVE-2026-900000" + random.nextInt(4), random.nextFloat(), .5f);
                    evidence = evidence.with(
                            scores.build("v1", LocalDate.of(2026, 11, 24), now),
                            List.of("CVE-2026-9000000", "CVE-2026-9000001", "CVE-2026-9000002"));
                }
                case 6 ->
                    evidence = evidence.withExploited(List.of(new KnownExploited(
                            "CVE-2026-900000" + random.nextInt(4),
                            LocalDate.of(2026, 11, 20),
                            "",
                            "",
                            Optional.empty(),
                            false,
                            now)));
                case 7 ->
                    evidence = evidence.withIssues(List.of(new KnownIssue(
                            "KI-" + random.nextInt(3),
                            updateIds(id),
                            updateIds("FTM-" + random.nextInt(9)),
                            "words",
                            KnownIssue.State.values()[random.nextInt(3)],
                            Optional.empty(),
                            random.nextBoolean() ? Optional.empty() : Optional.of(HostConditions.parse("free < 400")),
                            "desk",
                            now,
                            now)));
                case 8 ->
                    evidence = evidence.withReports(List.of(new FailureReport(
                            "R-" + random.nextInt(5),
                            updateId(id),
                            Optional.of("E"),
                            FailureClass.DEGRADED,
                            "",
                            List.of(hostName("host-" + host)),
                            3,
                            Optional.empty(),
                            "desk",
                            now)));
                case 9 ->
                    decisions = random.nextBoolean()
                            ? decisions.with(new Acknowledgement(
                                    acknowledgementNumber(++numbers), updateId(id), "orrin", now, Optional.empty()))
                            : decisions.with(perhapsPiloting(new Verdict(
                                            verdictNumber(++numbers),
                                            new Verdict.Subject(
                                                    updateId(id),
                                                    "1",
                                                    populationId(pick("kiosks", "desks")),
                                                    Optional.empty()),
                                            List.of(VerdictType.BLOCK, VerdictType.DEFER, VerdictType.FORCE)
                                                    .get(random.nextInt(3)),
                                            now.plus(Duration.ofHours(random.nextInt(120))),
                                            new Verdict.Reason(Set.of(ReasonWord.ROUTINE), ""),
                                            new Verdict.Origin("orrin", now),
                                            new Verdict.Overrides(Set.of(), Set.of()),
                                            Optional.empty()))
                                    .at(new Verdict.Moment(
                                            carriages.fleet().members(populationId("kiosks")),
                                            carriages.fleet().members(populationId("kiosks")))));
                case 10 ->
                    decisions = decisions.with(new ExceptionGrant(
                            exceptionNumber(++numbers),
                            new ExceptionGrant.Scope.OfUpdate(updateId(id)),
                            HostConditions.parse("free > 500"),
                            Effect.WITHHELD,
                            now.plus(Duration.ofHours(random.nextInt(120))),
                            "",
                            "",
                            "",
                            "orrin",
                            now,
                            Optional.empty()));
                case 11 -> retire(host, !carriages.fleet().isRetired(host));
                default ->
                    evidence = random.nextBoolean()
                            ? evidence.with(new NotAffectedNote(
                                    ++numbers,
                                    updateId(id),
                                    HostConditions.parse("free > 600"),
                                    "not here",
                                    "orrin",
                                    now,
                                    carriages.fleet().all(),
                                    Optional.empty()))
                            : evidence.with(new DismissedFailure(
                                    ++numbers,
                                    updateId(id),
                                    hostName("host-" + host),
                                    Optional.empty(),
                                    "a cable",
                                    "orrin",
                                    now,
                                    Optional.empty()));
            }
        }

        private Docket.Facts facts() {
            return new Docket.Facts(carriages, evidence, Weights.USUAL, decisions);
        }
    }

    private static List<Object> parts(DocketCase one) {
        return List.of(
                one.cues(),
                one.counts(),
                one.weighings(),
                one.marks(),
                one.nextOffer(),
                one.foldedUnder(),
                one.contains(),
                one.siblings(),
                one.validUntil());
    }

    @ParameterizedTest
    @ValueSource(
            longs = {
                1, 2, 3, 8, 10, 27, 31, 32, 51, 52, 53, 54, 55, 56, 57, 58, 59, 60, 61, 62, 63, 64, 65, 66, 67, 68, 69,
                70
            })
    void nextIsTheSameAsAnew(long seed) {
        Play play = new Play(seed);
        Docket docket = Docket.of(play.facts(), play.now);
        for (int step = 0; step < 150; step++) {
            int changes = play.random.nextInt(3);
            play.now = play.now.plus(Duration.ofMinutes(play.random.nextInt(240)));
            for (int i = 0; i < changes; i++) {
                play.happen();
            }
            docket = docket.next(play.facts(), play.now);
            Docket anew = docket.anew(play.facts(), play.now);
            for (DocketCase expected : anew.cases()) {
                DocketCase kept = docket.find(expected.update().id()).orElseThrow();
                assertThat(parts(kept))
                        .as("%s, seed %d, step %d", expected.update().id(), seed, step)
                        .isEqualTo(parts(expected));
            }
            assertThat(docket.cases()).isEqualTo(anew.cases());
        }
    }
}
