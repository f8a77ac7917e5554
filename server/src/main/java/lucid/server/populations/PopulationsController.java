package lucid.server.populations;

import java.security.Principal;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.temporal.TemporalAdjusters;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import lucid.core.carriage.CarrierIndex;
import lucid.core.carriage.HostsByRelease;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Holiday;
import lucid.core.fleet.HolidayCalendar;
import lucid.core.fleet.HostName;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.fleet.StandingRule;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Effect;
import lucid.core.ruling.LadderChange;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Kind;
import lucid.core.update.Rating;
import lucid.core.update.UpdateId;
import lucid.formats.document.Problem;
import lucid.formats.document.RefusedDocumentException;
import lucid.formats.holidays.HolidaysReader;
import lucid.formats.populations.PopulationsWriter;
import lucid.server.intake.KeptDocuments;
import lucid.server.snapshot.RequestKeys;
import lucid.server.snapshot.Snapshot;
import lucid.server.views.OpeningView;
import lucid.server.views.Views.HostList;
import lucid.server.views.Views.TraitView;
import lucid.server.web.ProblemException;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** The ladder: read, worded anew with its consequence, and saved. */
@RestController
@RequestMapping("/api/populations")
class PopulationsController {

    /** After these, those who keep the calendar are asked for the next. */
    private static final int YEARS_OF_HOLIDAYS = 3;

    private final PopulationsService service;
    private final LadderDocuments documents;
    private final RequestKeys keys;
    private final Clock clock;

    PopulationsController(PopulationsService service, LadderDocuments documents, RequestKeys keys, Clock clock) {
        this.service = service;
        this.documents = documents;
        this.keys = keys;
        this.clock = clock;
    }

    /**
     * @param where hosts of the population that it is for; none: all
     * @param delayDays none: never without a verdict
     * @param dueDays from the offer; none: never due
     * @param afterTriesOf population for whose tries it waits: the delay counts from when these have shown enough
     * @param latestDays from publication, after which it is offered although they have not
     */
    record RuleLine(
            List<Kind> kinds,
            List<Rating> ratings,
            Optional<String> where,
            Optional<Long> delayDays,
            Optional<Long> dueDays,
            Optional<PopulationId> afterTriesOf,
            Optional<Long> latestDays) {}

    record RuleView(List<RuleLine> lines, Optional<Long> otherwiseDays, Optional<Long> otherwiseDueDays) {}

    /** @param overlaps hosts that a population below it matches too */
    record PopulationView(
            PopulationId id,
            String name,
            String condition,
            List<HostName> includes,
            List<HostName> excludes,
            int tier,
            String owner,
            List<HostName> protectedHosts,
            String timeZone,
            Optional<String> supply,
            Optional<Long> checkInHours,
            TimingView timing,
            List<TargetView> staysAt,
            RuleView rule,
            int hosts,
            int unknown,
            HostList overlaps) {}

    /**
     * A release that a population stays at, with its hosts that have the platform.
     *
     * @param supportEnds last day on which it is supported; none: nobody said
     * @param above they are never lowered
     */
    record TargetView(
            String product,
            String release,
            Optional<LocalDate> supportEnds,
            HostList below,
            HostList at,
            HostList above) {
        static List<TargetView> all(Population p, Fleet fleet, CarrierIndex installed) {
            return p.staysAt().stream()
                    .map(target -> HostsByRelease.of(target, fleet.members(p.id()), installed))
                    .map(hosts -> new TargetView(
                            hosts.target().product().purl(),
                            hosts.target().release(),
                            hosts.target().supportEnds(),
                            HostList.of(fleet, hosts.below()),
                            HostList.of(fleet, hosts.at()),
                            HostList.of(fleet, hosts.above())))
                    .toList();
        }
    }

    /**
     * @param version what a change of it must name in If-Match
     * @param traits those that a condition may name
     * @param platforms package URLs of the products that upgrades lead to higher releases
     */
    record LadderView(
            String version,
            List<PopulationView> populations,
            RuleView fleetRule,
            HostList inNoPopulation,
            List<HolidayCalendarView> holidays,
            List<TraitView> traits,
            List<String> platforms) {}

    /** @param populations for which they count; none: for all */
    record HolidayCalendarView(String name, List<PopulationId> populations, List<Holiday> days) {
        static HolidayCalendarView of(HolidayCalendar calendar) {
            return new HolidayCalendarView(
                    calendar.name(), calendar.populations().stream().sorted().toList(), calendar.days());
        }
    }

    @GetMapping
    LadderView ladder(Snapshot snapshot) {
        Fleet fleet = snapshot.fleet();
        Instant now = clock.instant();
        RoaringBitmap unknown = fleet.unknownAt(now);
        return new LadderView(
                PopulationsService.version(fleet.ladder()),
                fleet.ladder().populations().stream()
                        .map(p -> view(p, snapshot, unknown, now))
                        .toList(),
                view(fleet.ladder().fleetRule()),
                HostList.of(fleet, fleet.inNoPopulation()),
                fleet.ladder().holidays().stream().map(HolidayCalendarView::of).toList(),
                TraitView.all(fleet),
                snapshot.catalogue().updates().stream()
                        .filter(update -> update.kind() == Kind.UPGRADE)
                        .flatMap(update -> update.fixes().stream())
                        .map(fix -> fix.build().product().purl())
                        .distinct()
                        .sorted()
                        .toList());
    }

    private static PopulationView view(Population p, Snapshot snapshot, RoaringBitmap unknown, Instant now) {
        Fleet fleet = snapshot.fleet();
        RoaringBitmap members = fleet.members(p.id());
        return new PopulationView(
                p.id(),
                p.name(),
                p.condition().toString(),
                sorted(p.includes()),
                sorted(p.excludes()),
                p.tier(),
                p.owner(),
                sorted(p.protectedHosts()),
                p.zone().getId(),
                p.supply(),
                p.rhythm().map(Duration::toHours),
                TimingView.of(p, fleet.ladder(), now),
                TargetView.all(p, fleet, snapshot.carriages().installed()),
                view(p.rule()),
                members.getCardinality(),
                RoaringBitmap.andCardinality(members, unknown),
                overlaps(p, fleet));
    }

    private static HostList overlaps(Population p, Fleet fleet) {
        RoaringBitmap overlaps = new RoaringBitmap();
        fleet.members(p.id()).forEach((int number) -> {
            if (!fleet.ladder().overlaps(fleet.host(number)).isEmpty()) {
                overlaps.add(number);
            }
        });
        return HostList.of(fleet, overlaps);
    }

    private static RuleView view(StandingRule rule) {
        return new RuleView(
                rule.lines().stream()
                        .map(l -> new RuleLine(
                                l.kinds().stream().sorted().toList(),
                                l.ratings().stream().sorted().toList(),
                                l.hosts().map(Object::toString),
                                l.offer().delay().map(Duration::toDays),
                                l.offer().deadline().map(Duration::toDays),
                                l.offer().after().map(StandingRule.AfterTries::population),
                                l.offer().after().map(after -> after.latest().toDays())))
                        .toList(),
                rule.otherwise().delay().map(Duration::toDays),
                rule.otherwise().deadline().map(Duration::toDays));
    }

    private static List<HostName> sorted(Set<HostName> names) {
        return names.stream().sorted().toList();
    }

    /** The ladder as a document of the format populations-1, from which a changed one can be made. */
    @GetMapping(path = "/document", produces = MediaType.APPLICATION_JSON_VALUE)
    String document(Snapshot snapshot) {
        return PopulationsWriter.write(snapshot.fleet().ladder());
    }

    /** Every ladder that has held, the newest first; the documents themselves are had as any other that came in. */
    @GetMapping("/versions")
    List<KeptDocuments.Kept> versions() {
        return documents.all();
    }

    /** @param before hosts that it owns now; none if it is new */
    record PopulationCount(
            PopulationId id,
            String name,
            Optional<Integer> before,
            int hosts,
            HostList overlaps,
            TimingView timing,
            List<TargetView> staysAt) {}

    /** Hosts that go from one population to another; none where it is no population. */
    record MoveView(Optional<String> from, Optional<String> to, HostList hosts) {}

    record VerdictChangeView(
            DecisionNumber.OfVerdict number,
            VerdictType type,
            UpdateId update,
            String population,
            HostList gains,
            HostList loses) {}

    /** An exception goes with its hosts, wherever they belong. */
    record ExceptionKeptView(DecisionNumber.OfException number, Effect effect, String owner, HostList hosts) {}

    /**
     * @param dueSooner hosts on which it would fall due where it does not, or earlier; @param dueLater later, or never
     * @param hostDays by how many days, over all hosts, it would be offered later; negative: earlier
     * @param offersBegin hosts to which it would be offered some day without a verdict, and never was to be
     * @param offersEnd hosts to which it would never be offered without a verdict, and was to be
     */
    record OfferChangeView(
            UpdateId update,
            String title,
            HostList offered,
            HostList withheld,
            HostList dueSooner,
            HostList dueLater,
            double hostDays,
            HostList offersBegin,
            HostList offersEnd) {}

    /**
     * What another ladder would change.
     *
     * @param version that it has, or would have
     * @param holidays what becomes of them, in words
     */
    record LadderChangeView(
            String version,
            List<PopulationCount> populations,
            HostList inNoPopulation,
            List<MoveView> moves,
            List<VerdictChangeView> verdicts,
            List<ExceptionKeptView> exceptions,
            List<OfferChangeView> offers,
            List<String> holidays,
            List<String> warnings) {}

    /** What a ladder, as a document of the format populations-1, would change; nothing is kept. */
    @PostMapping("/preview")
    LadderChangeView preview(@RequestBody String ladder, Snapshot snapshot) {
        Ladder next = service.read(ladder, snapshot.fleet());
        return view(service.change(snapshot, next), snapshot, next, clock.instant());
    }

    /**
     * What an iCalendar file (RFC 5545) says of holidays; nothing is kept.
     *
     * @param past how many of its events are over
     * @param leftOut what of it could not be taken
     */
    record HolidaysReadView(
            Optional<String> name, List<Holiday> days, int past, LocalDate until, List<Problem> leftOut) {}

    /** The whole days of a file, from today on; what comes back is told for the next years. */
    @PostMapping(path = "/holidays", consumes = "text/calendar")
    HolidaysReadView holidays(@RequestBody(required = false) byte[] sent) {
        byte[] file = sent == null ? new byte[0] : sent;
        LocalDate today = LocalDate.ofInstant(clock.instant(), ZoneOffset.UTC);
        LocalDate until = today.plusYears(YEARS_OF_HOLIDAYS).with(TemporalAdjusters.lastDayOfYear());
        try {
            HolidaysReader.Read read = HolidaysReader.read(file, today, until);
            return new HolidaysReadView(read.name(), read.days(), read.past(), until, read.leftOut());
        } catch (RefusedDocumentException e) {
            throw ProblemException.badField("file", e.getMessage());
        }
    }

    /**
     * Puts a ladder in the place of the present one.
     *
     * @param document number of the document on Intake that proposed it
     */
    @PutMapping
    PopulationsService.SavedLadder save(
            @RequestBody String ladder,
            @RequestHeader(name = HttpHeaders.IF_MATCH, required = false) String ifMatch,
            @RequestHeader(name = "Idempotency-Key", required = false) String key,
            @RequestParam Optional<Long> document,
            Principal who) {
        return service.save(ladder, ifMatch, document, keys.of(key, who, "populations", ladder), who);
    }

    /**
     * What taking back the ladder of this document would do: the updates that would go to other hosts than now. Nothing
     * is kept.
     */
    @GetMapping("/versions/{number}/revocation")
    List<OpeningView> revocation(@PathVariable long number, Snapshot snapshot) {
        HostList none = new HostList(0, List.of());
        return service.change(snapshot, service.before(number)).offers().stream()
                .filter(one -> !one.offered().isEmpty() || !one.withheld().isEmpty())
                .map(one -> new OpeningView(
                        one.update().id(),
                        one.update().title(),
                        HostList.of(snapshot.fleet(), one.offered()),
                        none,
                        HostList.of(snapshot.fleet(), one.withheld())))
                .toList();
    }

    /** Puts the ladder before that of this document, the present one, in its place again. */
    @DeleteMapping("/versions/{number}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void takeBack(@PathVariable long number, Principal who) {
        service.takeBack(number, who);
    }

    private static LadderChangeView view(LadderChange change, Snapshot snapshot, Ladder next, Instant now) {
        Fleet fleet = snapshot.fleet();
        Fleet after = fleet.with(next);
        return new LadderChangeView(
                PopulationsService.version(next),
                next.populations().stream()
                        .map(p -> new PopulationCount(
                                p.id(),
                                p.name(),
                                fleet.ladder().find(p.id()).map(same -> fleet.members(same.id())
                                        .getCardinality()),
                                after.members(p.id()).getCardinality(),
                                overlaps(p, after),
                                TimingView.of(p, next, now),
                                TargetView.all(p, after, snapshot.carriages().installed())))
                        .toList(),
                HostList.of(fleet, after.inNoPopulation()),
                change.moves().stream()
                        .map(m -> new MoveView(
                                m.from().map(Population::name),
                                m.to().map(Population::name),
                                HostList.of(fleet, m.hosts())))
                        .toList(),
                change.verdicts().stream()
                        .map(v -> new VerdictChangeView(
                                v.verdict().number(),
                                v.verdict().type(),
                                v.verdict().updateId(),
                                fleet.ladder()
                                        .find(v.verdict().populationId())
                                        .map(Population::name)
                                        .orElse(v.verdict().populationId().value()),
                                HostList.of(fleet, v.gains()),
                                HostList.of(fleet, v.loses())))
                        .toList(),
                change.exceptions().stream()
                        .map(e -> new ExceptionKeptView(
                                e.exception().number(),
                                e.exception().effect(),
                                e.exception().owner(),
                                HostList.of(fleet, e.hosts())))
                        .toList(),
                change.offers().stream()
                        .map(o -> new OfferChangeView(
                                o.update().id(),
                                o.update().title(),
                                HostList.of(fleet, o.offered()),
                                HostList.of(fleet, o.withheld()),
                                HostList.of(fleet, o.dueSooner()),
                                HostList.of(fleet, o.dueLater()),
                                o.hostDays(),
                                HostList.of(fleet, o.offersBegin()),
                                HostList.of(fleet, o.offersEnd())))
                        .toList(),
                LadderWords.holidays(fleet.ladder(), next),
                LadderWarnings.of(next, after, snapshot.carriages(), now));
    }
}
