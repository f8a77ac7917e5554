package lucid.server.docket;

import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Collections;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.core.carriage.Carriage;
import lucid.core.docket.Alike;
import lucid.core.docket.CaseFacts;
import lucid.core.docket.Cue;
import lucid.core.docket.DocketCase;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostName;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.pilot.Pilot;
import lucid.core.pilot.PilotNumber;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.ReasonWord;
import lucid.core.ruling.Ruling;
import lucid.core.ruling.RulingGroup;
import lucid.core.ruling.Timeline;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.AdvisoryNote;
import lucid.core.update.Catalogue;
import lucid.core.update.Kind;
import lucid.core.update.Rating;
import lucid.core.update.ReferenceLink;
import lucid.core.update.Remedy;
import lucid.core.update.RestartNeed;
import lucid.core.update.Retraction;
import lucid.core.update.RevisionNote;
import lucid.core.update.SharingLevel;
import lucid.core.update.UnreadProduct;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.core.update.VendorStatement;
import lucid.core.update.Vulnerability;
import lucid.core.weighing.Beam;
import lucid.server.docket.WeighingViews.BeamView;
import lucid.server.docket.WeighingViews.WeighingView;
import lucid.server.snapshot.Snapshot;
import lucid.server.updates.UpdateReadings;
import lucid.server.views.CaseVersions;
import lucid.server.views.DeliveryView;
import lucid.server.views.RequirementViews;
import lucid.server.views.RequirementViews.RequiresView;
import lucid.server.views.Views;
import lucid.server.views.Views.ExceptionView;
import lucid.server.views.Views.RuleMatchView;
import lucid.server.views.Views.RulingGroupView;
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

    /** A version of a product of which an advisory says something in a hundred places is told by the first of them. */
    private static final int MOST_PLACES = 20;

    private final Dockets dockets;
    private final UpdateReadings readings;
    private final Clock clock;

    CaseController(Dockets dockets, UpdateReadings readings, Clock clock) {
        this.dockets = dockets;
        this.readings = readings;
        this.clock = clock;
    }

    record RangeView(Optional<String> introduced, boolean afterIntroduced, Optional<String> end, boolean endIncluded) {}

    /** @param from what the advisory calls the product, and where; empty where its format has no such places */
    record FixView(
            String product,
            String distro,
            String arch,
            List<RangeView> affected,
            RestartNeed restart,
            List<PlaceInDocument> from) {}

    /** @param place JSON pointer (RFC 6901) */
    record PlaceInDocument(String name, String place) {}

    /**
     * @param circular identifiers that it says to supersede, but that supersede it by what is older; that is left out
     */
    record UpdateView(
            UpdateId id,
            String title,
            String vendor,
            String summary,
            Kind kind,
            String revision,
            Instant published,
            Instant revised,
            Instant firstRead,
            Rating rating,
            Optional<String> vendorRating,
            List<Vulnerability> vulnerabilities,
            List<FixView> fixes,
            RestartNeed restart,
            Optional<Long> sizeBytes,
            Optional<LocalDate> removableUntil,
            Optional<Integer> removableDays,
            List<UpdateId> supersedes,
            List<UpdateId> supersededBy,
            List<UpdateId> brings,
            List<UpdateId> broughtBy,
            List<UpdateId> circular,
            List<String> platforms,
            Optional<Retraction> retraction,
            Optional<String> signedBy,
            List<VendorStatement> statements,
            List<Remedy> remedies,
            List<ReferenceLink> references,
            List<UnreadProduct> unread,
            List<AdvisoryNote> notes,
            Optional<SharingLevel> sharing,
            List<RevisionView> revisions) {}

    /**
     * @param read when it was read here
     * @param newFixes false if only words changed
     */
    record RevisionView(String revision, Instant revised, Instant read, boolean newFixes, String words) {
        static RevisionView of(RevisionNote note) {
            return new RevisionView(note.revision(), note.revised(), note.read(), note.newFixes(), note.words());
        }
    }

    /**
     * @param id of the population; {@code none} for hosts in none, which are judged like those of one
     * @param open hosts that a cue is about and nobody has answered for
     * @param groups what holds for the hosts that lack it, most hosts first
     * @param weighing none where no host lacks it or waits for a restart
     * @param offeredByRule when its standing rule offers it, if ever without a verdict
     */
    record PopulationRow(
            PopulationId id,
            String name,
            int tier,
            String timeZone,
            int hosts,
            StateCounts states,
            int lacking,
            int lackingUnknown,
            int open,
            List<RulingGroupView> groups,
            Optional<Instant> offeredByRule,
            Optional<WeighingView> weighing) {}

    /**
     * Populations with the same answer, counted and weighed together.
     *
     * @param populations identifiers, two or more
     */
    record AlikeRow(
            List<PopulationId> populations,
            int hosts,
            StateCounts states,
            int lacking,
            int lackingUnknown,
            List<RulingGroupView> groups,
            Beam beam) {}

    record VerdictView(
            DecisionNumber.OfVerdict number,
            VerdictType type,
            PopulationId population,
            Optional<String> where,
            Instant end,
            List<ReasonWord> reasons,
            String words,
            String author,
            Optional<String> approver,
            Instant createdAt,
            String revision,
            Optional<Instant> revokedAt,
            boolean stands,
            Optional<PilotNumber> pilot,
            DeliveryView delivery) {}

    /**
     * @param populations for which it is; empty: for all
     * @param lookAgain when the case comes back where the rule never offers it
     */
    record AcknowledgementView(
            DecisionNumber.OfAcknowledgement number,
            String author,
            Instant createdAt,
            List<PopulationId> populations,
            Optional<Instant> lookAgain,
            Optional<Instant> revokedAt) {}

    /**
     * @param version the ETag of the case: what a verdict names in If-Match, so that nobody decides over what another
     *     decided meanwhile
     * @param foldedUnder the successor that brings it anyway, if it is released for the same hosts
     * @param contains earlier updates that fold under this one
     * @param siblings other updates that close one of its vulnerabilities
     * @param beam of all populations together
     * @param requires none where it requires nothing
     * @param evidence what it is weighed by; the weighing of a population stands in its row
     * @param alike populations of these rows that have the same answer
     * @param traits those that a narrowing may name
     */
    record CaseView(
            String version,
            UpdateView update,
            List<Cue> cues,
            boolean routine,
            Optional<UpdateId> foldedUnder,
            List<UpdateId> contains,
            List<UpdateId> siblings,
            BeamView beam,
            Optional<RequiresView> requires,
            EvidenceView evidence,
            List<PopulationRow> populations,
            List<AlikeRow> alike,
            List<VerdictView> verdicts,
            List<ExceptionView> exceptions,
            List<AcknowledgementView> acknowledgements,
            List<TraitView> traits) {}

    @GetMapping("/cases/{id}")
    ResponseEntity<CaseView> docketCase(@PathVariable UpdateId id) {
        Dockets.Current current = dockets.current();
        Snapshot snapshot = current.snapshot();
        Instant now = current.docket().at();
        Update update = snapshot.update(id);
        DocketCase docketCase = current.docket().find(id).orElseThrow();
        CaseFacts facts = current.docket().factsOf(update);
        List<PopulationRow> rows = new ArrayList<>();
        Timeline timeline = Timeline.of(update, snapshot.decisions(), snapshot.fleet(), snapshot.catalogue());
        snapshot.fleet()
                .ladder()
                .entries()
                .forEach(entry -> rows.add(row(docketCase, facts, snapshot, timeline, entry, now)));
        String version = CaseVersions.of(snapshot, update);
        return ResponseEntity.ok()
                .eTag(version)
                .body(new CaseView(
                        version,
                        view(update, snapshot),
                        docketCase.cues(),
                        docketCase.routine(),
                        docketCase.foldedUnder(),
                        docketCase.contains(),
                        docketCase.siblings(),
                        BeamView.of(docketCase),
                        Optional.of(update)
                                .filter(one -> !one.requires().isEmpty())
                                .map(one -> RequirementViews.of(
                                        one, facts.carriage().lacking(), snapshot, now)),
                        EvidenceView.of(update, facts, current.docket().usualOf(update), snapshot),
                        rows,
                        alike(docketCase, facts, snapshot, timeline, now),
                        reversed(snapshot.decisions().verdictsOn(id).stream().map(v -> view(v, now))),
                        reversed(snapshot.decisions().exceptions().stream()
                                .filter(e -> e.scope().covers(update))
                                .map(e -> ExceptionView.of(e, now))),
                        reversed(snapshot.decisions().acknowledgementsOn(id).stream()
                                .map(a -> new AcknowledgementView(
                                        a.number(),
                                        a.author(),
                                        a.createdAt(),
                                        a.populations().stream().sorted().toList(),
                                        a.lookAgain(),
                                        a.revokedAt()))),
                        TraitView.all(snapshot.fleet())));
    }

    private static <T> List<T> reversed(Stream<T> items) {
        List<T> list = new ArrayList<>(items.toList());
        Collections.reverse(list);
        return list;
    }

    private static PopulationRow row(
            DocketCase docketCase,
            CaseFacts facts,
            Snapshot snapshot,
            Timeline timeline,
            Population entry,
            Instant now) {
        Carriage carriage = facts.carriage();
        RoaringBitmap members = snapshot.fleet().members(entry.id());
        RoaringBitmap lacking = RoaringBitmap.and(members, carriage.lacking());
        Optional<Population> population = snapshot.fleet().ladder().find(entry.id());
        Optional<WeighingView> weighing = docketCase.weighings().stream()
                .filter(of -> of.population().equals(population.map(Population::id)))
                .findFirst()
                .map(of -> WeighingViews.of(of, facts.input(), snapshot.weights(), entry.tier(), members));
        return new PopulationRow(
                entry.id(),
                entry.name(),
                entry.tier(),
                entry.zone().getId(),
                members.getCardinality(),
                StateCounts.of(carriage.counts(members)),
                lacking.getCardinality(),
                RoaringBitmap.andCardinality(lacking, carriage.stale()),
                docketCase.open().getOrDefault(entry.id(), 0),
                timeline.groups(entry, lacking, now).stream()
                        .map(h -> RulingGroupView.of(h, snapshot.fleet(), snapshot.decisions()))
                        .toList(),
                timeline.offeredByRule(entry, now),
                weighing);
    }

    private static List<AlikeRow> alike(
            DocketCase docketCase, CaseFacts facts, Snapshot snapshot, Timeline timeline, Instant now) {
        Carriage carriage = facts.carriage();
        Map<PopulationId, List<RulingGroup>> group = new LinkedHashMap<>();
        for (Population population : snapshot.fleet().ladder().populations()) {
            RoaringBitmap members = snapshot.fleet().members(population.id());
            if (RoaringBitmap.intersects(members, carriage.applicable())) {
                group.put(
                        population.id(),
                        timeline.groups(population, RoaringBitmap.and(members, carriage.lacking()), now));
            }
        }
        return Alike.of(docketCase, group).stream()
                .map(alike -> {
                    RoaringBitmap members = Views.members(snapshot.fleet(), alike.populations());
                    RoaringBitmap lacking = RoaringBitmap.and(members, carriage.lacking());
                    return new AlikeRow(
                            alike.populations(),
                            members.getCardinality(),
                            StateCounts.of(carriage.counts(members)),
                            lacking.getCardinality(),
                            RoaringBitmap.andCardinality(lacking, carriage.stale()),
                            alike.groups().stream()
                                    .map(h -> RulingGroupView.of(h, snapshot.fleet(), snapshot.decisions()))
                                    .toList(),
                            alike.beam());
                })
                .toList();
    }

    private UpdateView view(Update u, Snapshot snapshot) {
        return new UpdateView(
                u.id(),
                u.title(),
                u.vendor(),
                u.summary(),
                u.kind(),
                u.revision(),
                u.published(),
                u.revised(),
                u.firstRead(),
                u.rating(),
                u.vendorRating(),
                u.vulnerabilities(),
                u.fixes().stream()
                        .map(f -> new FixView(
                                f.build().product().purl(),
                                f.build().distro(),
                                f.build().arch(),
                                f.tracks().stream()
                                        .map(t -> new RangeView(
                                                t.introduced(), t.afterIntroduced(), t.end(), t.endIncluded()))
                                        .toList(),
                                u.restarts().of(f.build()),
                                u.readFrom().stream()
                                        .filter(from -> from.build().equals(f.build()))
                                        .limit(MOST_PLACES)
                                        .map(from -> new PlaceInDocument(from.name(), from.place()))
                                        .toList()))
                        .toList(),
                u.restart(),
                u.sizeBytes(),
                u.removable().until(),
                u.removable().days(),
                u.supersedes(),
                snapshot.catalogue().updates().stream()
                        .filter(other -> other.supersedes().contains(u.id()))
                        .map(Update::id)
                        .sorted()
                        .toList(),
                u.brings(),
                snapshot.catalogue().updates().stream()
                        .filter(other -> other.brings().contains(u.id()))
                        .map(Update::id)
                        .sorted()
                        .toList(),
                snapshot.catalogue().brokenEdges().stream()
                        .filter(edge -> edge.successor().equals(u.id()))
                        .map(Catalogue.Edge::predecessor)
                        .toList(),
                u.platforms().stream().sorted().toList(),
                u.retraction(),
                readings.signedBy(u.id()),
                u.statements(),
                u.remedies(),
                u.references(),
                u.unread(),
                u.notes(),
                u.sharing(),
                u.revisions().stream().map(RevisionView::of).toList());
    }

    private static VerdictView view(Verdict v, Instant now) {
        return new VerdictView(
                v.number(),
                v.type(),
                v.populationId(),
                v.narrowing().map(Object::toString),
                v.end(),
                v.reasons().stream().sorted().toList(),
                v.words(),
                v.author(),
                v.origin().approver(),
                v.createdAt(),
                v.revision(),
                v.revokedAt(),
                v.standsAt(now),
                v.pilot().map(Pilot::number),
                DeliveryView.of(v));
    }

    record RulingView(HostName host, RuleMatchView holds, Optional<Instant> until, List<RuleMatchView> chain) {}

    /** What holds for one host, with the whole chain of reasons. */
    @GetMapping("/cases/{id}/rulings/{host}")
    RulingView ruling(@PathVariable UpdateId id, @PathVariable HostName host, Snapshot snapshot) {
        Instant now = clock.instant();
        Update update = snapshot.update(id);
        Host found =
                snapshot.fleet().host(host).orElseThrow(() -> ProblemException.notFound("there is no host " + host));
        Ruling ruling = Timeline.of(update, snapshot.decisions(), snapshot.fleet(), snapshot.catalogue())
                .ruling(found, snapshot.carriage(update, now).lastKnown(found.number()), now);
        return new RulingView(
                host,
                RuleMatchView.of(ruling.holds(), snapshot.decisions()),
                ruling.until(),
                ruling.chain().stream()
                        .map(f -> RuleMatchView.of(f, snapshot.decisions()))
                        .toList());
    }
}
