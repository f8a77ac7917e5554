package lucid.server.docket;

import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Collections;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.core.docket.Cue;
import lucid.core.docket.Docket;
import lucid.core.docket.DocketCase;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.Population;
import lucid.core.fleet.Trait;
import lucid.core.fleet.Predicate;
import lucid.core.ruling.Answer;
import lucid.core.ruling.Holding;
import lucid.core.ruling.Holdings;
import lucid.core.ruling.ReasonWord;
import lucid.core.ruling.Ruling;
import lucid.core.ruling.Rulings;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Catalogue;
import lucid.core.update.Kind;
import lucid.core.update.Rating;
import lucid.core.update.Remedy;
import lucid.core.update.RestartNeed;
import lucid.core.update.Retraction;
import lucid.core.update.RevisionNote;
import lucid.core.update.Update;
import lucid.core.update.VendorStatement;
import lucid.core.update.Vulnerability;
import lucid.server.state.Picture;
import lucid.server.state.State;
import lucid.server.views.CaseVersions;
import lucid.server.views.Views.ExceptionView;
import lucid.server.views.Views.FindingView;
import lucid.server.views.Views.HoldingView;
import lucid.server.views.Views.StateCounts;
import lucid.server.views.Views.TraitView;
import lucid.server.web.ProblemException;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** The docket, and one case with everything that an analyst weighs. */
@RestController
@RequestMapping("/api")
class DocketController {

    private static final Predicate FACES_THE_PUBLIC = new Predicate.Comparison("facing", Predicate.Operator.EQUAL, new Trait.Text("public"));

    private final State state;
    private final Clock clock;

    DocketController(State state, Clock clock) {
        this.state = state;
        this.clock = clock;
    }

    /** @param holds what holds for most of the hosts that lack it; none where no host lacks it */
    record StripMark(String population, int lacking, int applicable, Optional<FindingView> holds, int differently) {}

    /**
     * @param hosts all hosts of the fleet
     * @param facingPublic of those that lack it
     * @param foldedUnder the successor that brings it anyway, if it is released for the same hosts
     * @param contains earlier updates that fold under this one
     * @param nextOffer the first instant at which a standing rule offers it to hosts that nothing else withholds it from
     */
    record Strip(String id, String title, Kind kind, Rating rating, Optional<Double> baseScore, List<Cue> cues, Instant published, int lacking, int carrying,
            int unknown, int facingPublic, List<StripMark> marks, Optional<NextOffer> nextOffer, boolean noise, boolean withdrawn, Optional<String> foldedUnder, List<String> contains) {}

    record NextOffer(String population, Instant at) {}

    record PopulationName(String id, String name) {}

    /** @param hosts number of all hosts */
    record DocketPage(List<PopulationName> populations, List<Strip> cases, int hosts, int inNoPopulation) {}

    /** Every case in order; those without cues are answered. */
    @GetMapping("/docket")
    DocketPage docket() {
        Picture picture = state.picture();
        Instant now = clock.instant();
        return new DocketPage(
                picture.fleet().ladder().populations().stream().map(p -> new PopulationName(p.id(), p.name())).toList(),
                picture.docket().cases(now).stream().map(c -> strip(c, picture, now)).toList(),
                picture.fleet().all().getCardinality(),
                picture.fleet().inNoPopulation().getCardinality());
    }

    private static Strip strip(DocketCase docketCase, Picture picture, Instant now) {
        Update update = docketCase.update();
        RoaringBitmap lacking = docketCase.carriage().lacking();
        Fleet fleet = picture.fleet();
        List<StripMark> marks = new ArrayList<>();
        for (Population population : fleet.ladder().populations()) {
            RoaringBitmap members = fleet.members(population.id());
            List<Holding> holdings = Holdings.of(update, docketCase.carriage(), fleet, picture.decisions(), members, now);
            int lackingHere = RoaringBitmap.andCardinality(members, lacking);
            marks.add(new StripMark(population.id(), lackingHere, RoaringBitmap.andCardinality(members, docketCase.carriage().applicable()),
                    holdings.stream().findFirst().map(h -> FindingView.of(h.finding(), picture.decisions())),
                    holdings.stream().skip(1).mapToInt(h -> h.hosts().getCardinality()).sum()));
        }
        return new Strip(update.id(), update.title(), update.kind(), update.rating(), update.highestBaseScore(), docketCase.cues(), update.published(),
                docketCase.lacking(), docketCase.carriage().having().getCardinality(),
                RoaringBitmap.andCardinality(lacking, docketCase.carriage().stale()),
                fleet.matching(FACES_THE_PUBLIC, lacking).getCardinality(), marks, nextOffer(update, lacking, picture, now), Docket.isNoise(update),
                update.isWithdrawn(), docketCase.foldedUnder(), docketCase.contains());
    }

    private static Optional<NextOffer> nextOffer(Update update, RoaringBitmap lacking, Picture picture, Instant now) {
        Rulings rulings = new Rulings(picture.decisions(), picture.fleet().ladder());
        return picture.fleet().ladder().populations().stream()
                .filter(p -> RoaringBitmap.intersects(picture.fleet().members(p.id()), lacking))
                .flatMap(p -> rulings.offeredByRule(update, Optional.of(p)).stream().map(at -> new NextOffer(p.name(), at)))
                .filter(offer -> offer.at().isAfter(now))
                .min(Comparator.comparing(NextOffer::at));
    }

    record RangeView(Optional<String> introduced, boolean afterIntroduced, Optional<String> end, boolean endIncluded) {}

    record FixView(String product, String distro, String arch, List<RangeView> affected) {}

    /** @param circular identifiers that it says to supersede, but that supersede it by what is older; that is left out */
    record UpdateView(String id, String title, String vendor, String summary, Kind kind, String revision, Instant published, Instant revised, Instant firstRead,
            Rating rating, Optional<String> vendorRating, List<Vulnerability> vulnerabilities, List<FixView> fixes, RestartNeed restart, Optional<Long> sizeBytes,
            Optional<LocalDate> removableUntil, List<String> supersedes, List<String> supersededBy, List<String> circular, List<String> platforms, Optional<Retraction> retraction,
            List<VendorStatement> statements, List<Remedy> remedies, List<String> references, List<RevisionNote> revisions) {}

    /**
     * @param holdings what holds for the hosts that lack it, most hosts first
     * @param offeredByRule when its standing rule offers it, if ever without a verdict
     */
    record PopulationRow(Optional<String> id, String name, Optional<Integer> tier, String timeZone, int hosts, StateCounts states, int lacking, int lackingUnknown,
            List<HoldingView> holdings, Optional<Instant> offeredByRule) {}

    record VerdictView(long number, VerdictType type, String population, Optional<String> where, Instant end, List<ReasonWord> reasons, String words, String author,
            Instant handedDown, String revision, Optional<Instant> takenBack, boolean stands) {}

    record AnswerView(long number, String author, Instant given, Optional<Instant> takenBack) {}

    /**
     * @param version the ETag of the case: what a verdict names in If-Match, so that nobody decides over what another decided meanwhile
     * @param foldedUnder the successor that brings it anyway, if it is released for the same hosts
     * @param contains earlier updates that fold under this one
     * @param traits those that a narrowing may name
     */
    record CaseView(String version, UpdateView update, List<Cue> cues, Optional<String> foldedUnder, List<String> contains, List<PopulationRow> populations, List<VerdictView> verdicts, List<ExceptionView> exceptions,
            List<AnswerView> answers, List<TraitView> traits) {}

    @GetMapping("/cases/{id}")
    ResponseEntity<CaseView> docketCase(@PathVariable String id) {
        Picture picture = state.picture();
        Instant now = clock.instant();
        Update update = picture.update(id);
        DocketCase docketCase = picture.docket().docketCase(update, now);
        List<PopulationRow> rows = new ArrayList<>();
        picture.fleet().ladder().populations().forEach(p -> rows.add(row(docketCase, picture, Optional.of(p), picture.fleet().members(p.id()), now)));
        rows.add(row(docketCase, picture, Optional.empty(), picture.fleet().inNoPopulation(), now));
        String version = CaseVersions.of(picture, update);
        return ResponseEntity.ok().eTag(version).body(new CaseView(
                version,
                view(update, picture),
                docketCase.cues(),
                docketCase.foldedUnder(),
                docketCase.contains(),
                rows,
                reversed(picture.decisions().verdictsOn(id).stream().map(v -> view(v, now))),
                reversed(picture.decisions().exceptions().stream().filter(e -> e.scope().covers(update)).map(e -> ExceptionView.of(e, now))),
                reversed(picture.decisions().answersOn(id).stream().map(a -> new AnswerView(a.number(), a.author(), a.given(), a.takenBack()))),
                TraitView.all(picture.fleet())));
    }

    private static <T> List<T> reversed(Stream<T> items) {
        List<T> list = new ArrayList<>(items.toList());
        Collections.reverse(list);
        return list;
    }

    private static PopulationRow row(DocketCase docketCase, Picture picture, Optional<Population> population, RoaringBitmap members, Instant now) {
        RoaringBitmap lacking = RoaringBitmap.and(members, docketCase.carriage().lacking());
        return new PopulationRow(population.map(Population::id), population.map(Population::name).orElse("In no population"), population.map(Population::tier),
                population.map(p -> p.zone().getId()).orElse("Z"), members.getCardinality(), StateCounts.of(docketCase.carriage().counts(members)),
                lacking.getCardinality(), RoaringBitmap.andCardinality(lacking, docketCase.carriage().stale()),
                Holdings.of(docketCase.update(), docketCase.carriage(), picture.fleet(), picture.decisions(), members, now).stream()
                        .map(h -> HoldingView.of(h, picture.fleet(), picture.decisions())).toList(),
                new Rulings(picture.decisions(), picture.fleet().ladder()).offeredByRule(docketCase.update(), population));
    }

    private static UpdateView view(Update u, Picture picture) {
        return new UpdateView(u.id(), u.title(), u.vendor(), u.summary(), u.kind(), u.revision(), u.published(), u.revised(), u.firstRead(), u.rating(), u.vendorRating(),
                u.vulnerabilities(),
                u.fixes().stream().map(f -> new FixView(f.build().product().purl(), f.build().distro(), f.build().arch(),
                        f.tracks().stream().map(t -> new RangeView(t.introduced(), t.afterIntroduced(), t.end(), t.endIncluded())).toList())).toList(),
                u.restart(), u.sizeBytes(), u.removableUntil(), u.supersedes(),
                picture.catalogue().updates().stream().filter(other -> other.supersedes().contains(u.id())).map(Update::id).sorted().toList(),
                picture.catalogue().brokenEdges().stream().filter(edge -> edge.successor().equals(u.id())).map(Catalogue.Edge::predecessor).toList(),
                u.platforms().stream().sorted().toList(), u.retraction(), u.statements(), u.remedies(), u.references(), u.revisions());
    }

    private static VerdictView view(Verdict v, Instant now) {
        return new VerdictView(v.number(), v.type(), v.populationId(), v.narrowing().map(Object::toString), v.end(), v.reasons().stream().sorted().toList(), v.words(),
                v.author(), v.handedDown(), v.revision(), v.takenBack(), v.standsAt(now));
    }

    record RulingView(String host, FindingView holds, Optional<Instant> until, List<FindingView> chain) {}

    /** What holds for one host, with the whole chain of reasons. */
    @GetMapping("/cases/{id}/rulings/{host}")
    RulingView ruling(@PathVariable String id, @PathVariable String host) {
        Picture picture = state.picture();
        Instant now = clock.instant();
        DocketCase docketCase = picture.docket().docketCase(picture.update(id), now);
        Host found = picture.fleet().host(host).orElseThrow(() -> ProblemException.notFound("there is no host " + host));
        Ruling ruling = new Rulings(picture.decisions(), picture.fleet().ladder()).ruling(found, docketCase.update(), docketCase.carriage().lastKnown(found.number()), now);
        return new RulingView(host, FindingView.of(ruling.holds(), picture.decisions()), ruling.until(), ruling.chain().stream().map(f -> FindingView.of(f, picture.decisions())).toList());
    }
}
