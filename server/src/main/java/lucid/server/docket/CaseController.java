package lucid.server.docket;

import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.core.carriage.Carriage;
import lucid.core.docket.Alike;
import lucid.core.docket.CaseFacts;
import lucid.core.docket.Cue;
import lucid.core.docket.DocketCase;
import lucid.core.fleet.Host;
import lucid.core.fleet.Population;
import lucid.core.ruling.Holding;
import lucid.core.ruling.ReasonWord;
import lucid.core.ruling.Ruling;
import lucid.core.ruling.Timeline;
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
import lucid.core.weighing.Beam;
import lucid.server.docket.WeighingViews.BeamView;
import lucid.server.docket.WeighingViews.WeighingView;
import lucid.server.intake.DocumentMapper;
import lucid.server.state.Picture;
import lucid.server.state.State;
import lucid.server.views.CaseVersions;
import lucid.server.views.Views;
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

/** One case with everything that an analyst weighs. */
@RestController
@RequestMapping("/api")
class CaseController {

    private final State state;
    private final Dockets dockets;
    private final DocumentMapper documents;
    private final Clock clock;

    CaseController(State state, Dockets dockets, DocumentMapper documents, Clock clock) {
        this.state = state;
        this.dockets = dockets;
        this.documents = documents;
        this.clock = clock;
    }

    record RangeView(Optional<String> introduced, boolean afterIntroduced, Optional<String> end, boolean endIncluded) {}

    record FixView(String product, String distro, String arch, List<RangeView> affected) {}

    /** @param circular identifiers that it says to supersede, but that supersede it by what is older; that is left out */
    record UpdateView(String id, String title, String vendor, String summary, Kind kind, String revision, Instant published, Instant revised, Instant firstRead,
            Rating rating, Optional<String> vendorRating, List<Vulnerability> vulnerabilities, List<FixView> fixes, RestartNeed restart, Optional<Long> sizeBytes,
            Optional<LocalDate> removableUntil, List<String> supersedes, List<String> supersededBy, List<String> circular, List<String> platforms, Optional<Retraction> retraction, Optional<String> signedBy,
            List<VendorStatement> statements, List<Remedy> remedies, List<String> references, List<RevisionNote> revisions) {}

    /**
     * @param id of the population; {@code none} for hosts in none, which are judged like those of one
     * @param open hosts that a cue is about and nobody has answered for
     * @param holdings what holds for the hosts that lack it, most hosts first
     * @param weighing none where no host lacks it or waits for a restart
     * @param offeredByRule when its standing rule offers it, if ever without a verdict
     */
    record PopulationRow(String id, String name, int tier, String timeZone, int hosts, StateCounts states, int lacking, int lackingUnknown, int open,
            List<HoldingView> holdings, Optional<Instant> offeredByRule, Optional<WeighingView> weighing) {}

    /**
     * Populations with the same answer, counted and weighed together.
     *
     * @param populations identifiers, two or more
     */
    record AlikeRow(List<String> populations, int hosts, StateCounts states, int lacking, int lackingUnknown, List<HoldingView> holdings, Beam beam) {}

    record VerdictView(long number, VerdictType type, String population, Optional<String> where, Instant end, List<ReasonWord> reasons, String words, String author,
            Instant handedDown, String revision, Optional<Instant> takenBack, boolean stands) {}

    /**
     * @param populations for which it is; empty: for all
     * @param lookAgain when the case comes back where the rule never offers it
     */
    record AnswerView(long number, String author, Instant given, List<String> populations, Optional<Instant> lookAgain, Optional<Instant> takenBack) {}

    /**
     * @param version the ETag of the case: what a verdict names in If-Match, so that nobody decides over what another decided meanwhile
     * @param foldedUnder the successor that brings it anyway, if it is released for the same hosts
     * @param contains earlier updates that fold under this one
     * @param siblings other updates that close one of its weaknesses
     * @param beam of all populations together
     * @param evidence what it is weighed by; the weighing of a population stands in its row
     * @param alike populations of these rows that have the same answer
     * @param traits those that a narrowing may name
     */
    record CaseView(String version, UpdateView update, List<Cue> cues, boolean routine, Optional<String> foldedUnder, List<String> contains, List<String> siblings, BeamView beam, EvidenceView evidence,
            List<PopulationRow> populations, List<AlikeRow> alike, List<VerdictView> verdicts, List<ExceptionView> exceptions, List<AnswerView> answers, List<TraitView> traits) {}

    @GetMapping("/cases/{id}")
    ResponseEntity<CaseView> docketCase(@PathVariable String id) {
        Dockets.Current current = dockets.current();
        Picture picture = current.picture();
        Instant now = current.docket().at();
        Update update = picture.update(id);
        DocketCase docketCase = current.docket().find(id).orElseThrow();
        CaseFacts facts = current.docket().factsOf(update);
        List<PopulationRow> rows = new ArrayList<>();
        Timeline timeline = Timeline.of(update, picture.decisions(), picture.fleet(), picture.catalogue());
        picture.fleet().ladder().entries().forEach(entry -> rows.add(row(docketCase, facts, picture, timeline, entry, now)));
        String version = CaseVersions.of(picture, update);
        return ResponseEntity.ok().eTag(version).body(new CaseView(
                version,
                view(update, picture),
                docketCase.cues(),
                docketCase.routine(),
                docketCase.foldedUnder(),
                docketCase.contains(),
                docketCase.siblings(),
                BeamView.of(docketCase),
                EvidenceView.of(update, facts, current.docket().usualOf(update), picture),
                rows,
                alike(docketCase, facts, picture, timeline, now),
                reversed(picture.decisions().verdictsOn(id).stream().map(v -> view(v, now))),
                reversed(picture.decisions().exceptions().stream().filter(e -> e.scope().covers(update)).map(e -> ExceptionView.of(e, now))),
                reversed(picture.decisions().answersOn(id).stream().map(a -> new AnswerView(a.number(), a.author(), a.given(), a.populations().stream().sorted().toList(), a.lookAgain(), a.takenBack()))),
                TraitView.all(picture.fleet())));
    }

    private static <T> List<T> reversed(Stream<T> items) {
        List<T> list = new ArrayList<>(items.toList());
        Collections.reverse(list);
        return list;
    }

    private static PopulationRow row(DocketCase docketCase, CaseFacts facts, Picture picture, Timeline timeline, Population entry, Instant now) {
        Carriage carriage = facts.carriage();
        RoaringBitmap members = picture.fleet().members(entry.id());
        RoaringBitmap lacking = RoaringBitmap.and(members, carriage.lacking());
        Optional<Population> population = picture.fleet().ladder().find(entry.id());
        Optional<WeighingView> weighing = docketCase.weighings().stream().filter(of -> of.population().equals(population.map(Population::id))).findFirst()
                .map(of -> WeighingViews.of(of, facts.gathering(), picture.weights(), entry.tier(), members));
        return new PopulationRow(entry.id(), entry.name(), entry.tier(), entry.zone().getId(), members.getCardinality(), StateCounts.of(carriage.counts(members)),
                lacking.getCardinality(), RoaringBitmap.andCardinality(lacking, carriage.stale()), docketCase.open().getOrDefault(entry.id(), 0),
                timeline.holdings(entry, lacking, now).stream().map(h -> HoldingView.of(h, picture.fleet(), picture.decisions())).toList(),
                timeline.offeredByRule(entry), weighing);
    }

    private static List<AlikeRow> alike(DocketCase docketCase, CaseFacts facts, Picture picture, Timeline timeline, Instant now) {
        Carriage carriage = facts.carriage();
        Map<String, List<Holding>> holding = new LinkedHashMap<>();
        for (Population population : picture.fleet().ladder().populations()) {
            RoaringBitmap members = picture.fleet().members(population.id());
            if (RoaringBitmap.intersects(members, carriage.applicable())) {
                holding.put(population.id(), timeline.holdings(population, RoaringBitmap.and(members, carriage.lacking()), now));
            }
        }
        return Alike.of(docketCase, holding).stream().map(alike -> {
            RoaringBitmap members = Views.members(picture.fleet(), alike.populations());
            RoaringBitmap lacking = RoaringBitmap.and(members, carriage.lacking());
            return new AlikeRow(alike.populations(), members.getCardinality(), StateCounts.of(carriage.counts(members)), lacking.getCardinality(),
                    RoaringBitmap.andCardinality(lacking, carriage.stale()),
                    alike.holdings().stream().map(h -> HoldingView.of(h, picture.fleet(), picture.decisions())).toList(), alike.beam());
        }).toList();
    }

    private UpdateView view(Update u, Picture picture) {
        return new UpdateView(u.id(), u.title(), u.vendor(), u.summary(), u.kind(), u.revision(), u.published(), u.revised(), u.firstRead(), u.rating(), u.vendorRating(),
                u.vulnerabilities(),
                u.fixes().stream().map(f -> new FixView(f.build().product().purl(), f.build().distro(), f.build().arch(),
                        f.tracks().stream().map(t -> new RangeView(t.introduced(), t.afterIntroduced(), t.end(), t.endIncluded())).toList())).toList(),
                u.restart(), u.sizeBytes(), u.removableUntil(), u.supersedes(),
                picture.catalogue().updates().stream().filter(other -> other.supersedes().contains(u.id())).map(Update::id).sorted().toList(),
                picture.catalogue().brokenEdges().stream().filter(edge -> edge.successor().equals(u.id())).map(Catalogue.Edge::predecessor).toList(),
                u.platforms().stream().sorted().toList(), u.retraction(), documents.signedBy(u.id()).stream().filter(Objects::nonNull).findFirst(), u.statements(), u.remedies(), u.references(), u.revisions());
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
        Update update = picture.update(id);
        Host found = picture.fleet().host(host).orElseThrow(() -> ProblemException.notFound("there is no host " + host));
        Ruling ruling = Timeline.of(update, picture.decisions(), picture.fleet(), picture.catalogue()).ruling(found, picture.carriage(update, now).lastKnown(found.number()), now);
        return new RulingView(host, FindingView.of(ruling.holds(), picture.decisions()), ruling.until(), ruling.chain().stream().map(f -> FindingView.of(f, picture.decisions())).toList());
    }
}
