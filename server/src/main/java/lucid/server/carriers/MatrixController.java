package lucid.server.carriers;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.ToIntFunction;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import lucid.core.carriage.Carriage;
import lucid.core.carriage.CarriageState;
import lucid.core.docket.Docket;
import lucid.core.docket.DocketCase;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.reporting.InForceCell;
import lucid.core.ruling.RulingGroup;
import lucid.core.ruling.Timeline;
import lucid.core.update.Kind;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.core.update.Vulnerability;
import lucid.server.access.Caller;
import lucid.server.carriers.MatrixQuestion.Asked;
import lucid.server.carriers.MatrixQuestion.Face;
import lucid.server.carriers.MatrixQuestion.RatingTally;
import lucid.server.days.KeptDays;
import lucid.server.docket.Dockets;
import lucid.server.snapshot.Snapshot;
import lucid.server.views.CarrierRows;
import lucid.server.views.CarrierRows.Column;
import lucid.server.views.CarrierRows.Row;
import lucid.server.views.FoundVersion;
import lucid.server.views.Views.RuleMatchView;
import lucid.server.views.Views.StateCounts;
import lucid.server.web.ListFile;
import lucid.server.web.ProblemException;
import org.roaringbitmap.RoaringBitmap;
import org.springdoc.core.annotations.ParameterObject;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/**
 * Updates by populations: how many hosts are in which state, now or on a kept day, and what is in force for those that
 * lack them. The docket only says what to show in which order; whoever may see some populations alone is shown those.
 */
@RestController
@RequestMapping("/api/carriers")
class MatrixController {

    private static final int PAGE = 200;

    private final Dockets dockets;
    private final KeptDays days;

    MatrixController(Dockets dockets, KeptDays days) {
        this.dockets = dockets;
        this.days = days;
    }

    /** As {@link InForceCell}. */
    record InForceCellView(
            int withheld,
            int needsVerdict,
            Optional<Instant> nextEnd,
            int offered,
            int byOperator,
            Optional<Instant> nextDue,
            int overdue,
            Optional<RuleMatchView> most) {}

    /**
     * @param cves identifiers of the vulnerabilities that it closes
     * @param exploited true if one of them is known to be exploited
     * @param nextDue when it is or was due on the first of the hosts that lack it
     * @param inForce one a column where that is asked for, else none
     */
    record MatrixRow(
            Row states,
            String vendor,
            List<String> cves,
            boolean exploited,
            Optional<Instant> nextDue,
            List<InForceCellView> inForce) {}

    /**
     * What there is to choose among all updates that are shown.
     *
     * @param owners of populations that whoever asks sees
     */
    record MatrixChoices(Set<Kind> kinds, Set<String> vendors, Set<String> owners) {}

    /**
     * @param rows a page of those that match
     * @param matching how many match
     * @param updates all updates but content
     * @param next cursor: identifier of the update after which the rows go on
     * @param tallies of those that match
     * @param day the day of the numbers, where a past one is asked for: the last one that is kept until then
     * @param keptDays all days that are kept, the earliest first
     * @param unknownHosts none of a past day for those who see some populations alone: it was counted of all hosts
     * @param lastReport when the newest host report was taken
     */
    record Matrix(
            List<Column> columns,
            List<MatrixRow> rows,
            int matching,
            int updates,
            int content,
            Optional<UpdateId> next,
            int hosts,
            Optional<Integer> unknownHosts,
            Optional<Instant> lastReport,
            List<RatingTally> tallies,
            MatrixChoices choices,
            Optional<PastDay> day,
            List<LocalDate> keptDays) {}

    /** @param at when it was counted */
    record PastDay(LocalDate day, Instant at) {}

    /** What an answer is made of. */
    private record Answer(
            Snapshot snapshot,
            Instant now,
            List<Column> columns,
            List<DocketCase> all,
            List<DocketCase> matching,
            MatrixQuestion question,
            Optional<KeptDays.Day> day,
            Map<UpdateId, KeptDays.Counted> counted,
            Face face) {

        MatrixRow row(DocketCase one) {
            Update update = one.update();
            Fleet fleet = snapshot.fleet();
            if (day.isPresent()) {
                List<StateCounts> cells = columns.stream()
                        .map(column ->
                                counted.get(update.id()).counts().getOrDefault(column.id(), notFor(column.hosts())))
                        .toList();
                StateCounts all = cells.stream().reduce(notFor(0), StateCounts::plus);
                return row(one, CarrierRows.row(update, all, cells), List.of());
            }
            Carriage carriage = snapshot.carriage(update, now);
            return row(
                    one,
                    CarrierRows.row(update, carriage, fleet, columns),
                    face == Face.STATES ? List.of() : inForce(update, carriage));
        }

        private MatrixRow row(DocketCase one, Row states, List<InForceCellView> inForce) {
            return new MatrixRow(
                    states,
                    one.update().vendor(),
                    cves(one.update()),
                    MatrixQuestion.isExploited(one.update(), snapshot.evidence()),
                    day.isPresent() ? Optional.empty() : one.nextDue(),
                    inForce);
        }

        private List<InForceCellView> inForce(Update update, Carriage carriage) {
            Timeline timeline = Timeline.of(update, snapshot.decisions(), snapshot.fleet(), snapshot.catalogue());
            Map<PopulationId, RoaringBitmap> lacking = snapshot.fleet().byEntry(carriage.lacking());
            return columns.stream()
                    .map(column -> {
                        List<RulingGroup> groups = snapshot.fleet()
                                .ladder()
                                .entry(column.id())
                                .map(entry -> timeline.groups(
                                        entry, lacking.getOrDefault(column.id(), new RoaringBitmap()), now))
                                .orElse(List.of());
                        return view(InForceCell.of(groups, now), snapshot);
                    })
                    .toList();
        }
    }

    private static InForceCellView view(InForceCell cell, Snapshot snapshot) {
        return new InForceCellView(
                cell.withheld(),
                cell.needsVerdict(),
                cell.nextEnd(),
                cell.offered(),
                cell.byOperator(),
                cell.nextDue(),
                cell.overdue(),
                cell.most().map(match -> RuleMatchView.of(match, snapshot.decisions())));
    }

    private static StateCounts notFor(int hosts) {
        return StateCounts.of(new int[] {0, 0, 0, 0, 0, 0, 0, hosts});
    }

    private static List<String> cves(Update update) {
        return update.vulnerabilities().stream().map(Vulnerability::id).sorted().toList();
    }

    private Answer answer(Asked asked, Snapshot snapshot, Caller caller) {
        boolean isOperator = MatrixQuestion.seesSomeAlone(caller);
        asked.requireSeenBy(caller);
        Docket docket = dockets.current().docket();
        Instant now = docket.at();
        Optional<KeptDays.Day> day = asked.on().map(on -> kept(on, now));
        List<Column> columns = day.map(KeptDays.Day::populations)
                .map(then -> isOperator ? own(then, snapshot) : then)
                .orElseGet(() -> CarrierRows.columns(snapshot.fleet()));
        Map<UpdateId, KeptDays.Counted> counted =
                day.map(one -> days.updatesAt(one.day())).orElse(Map.of());
        Set<PopulationId> ids = columns.stream().map(Column::id).collect(Collectors.toSet());
        ToIntFunction<DocketCase> lacking = day.isPresent()
                ? one -> lackingThen(counted.get(one.update().id()), ids)
                : MatrixQuestion.lackingOf(ids, ids.contains(Ladder.NO_POPULATION));
        MatrixQuestion question = new MatrixQuestion(
                asked, snapshot.evidence(), lacking, snapshot.fleet().ladder(), now);
        List<DocketCase> all = docket.cases().stream()
                .filter(one -> day.isEmpty() || counted.containsKey(one.update().id()))
                .toList();
        return new Answer(
                snapshot,
                now,
                columns,
                all,
                question.matching(all),
                question,
                day,
                counted,
                asked.face().orElse(Face.STATES));
    }

    private KeptDays.Day kept(LocalDate on, Instant now) {
        if (!on.isBefore(LocalDate.ofInstant(now, ZoneOffset.UTC))) {
            throw ProblemException.badField("on", on + " has not ended yet");
        }
        return days.at(on)
                .orElseThrow(() -> ProblemException.badField(
                        "on",
                        "no day until " + on + " was kept; who carried one update then is told with that update"));
    }

    private static List<Column> own(List<Column> then, Snapshot snapshot) {
        return then.stream()
                .filter(column -> snapshot.fleet().ladder().populations().stream()
                        .anyMatch(population -> population.id().equals(column.id())))
                .toList();
    }

    private static int lackingThen(KeptDays.Counted counted, Set<PopulationId> populations) {
        return counted.counts().entrySet().stream()
                .filter(of -> populations.contains(of.getKey()))
                .mapToInt(of -> of.getValue().partly()
                        + of.getValue().failed()
                        + of.getValue().missing())
                .sum();
    }

    /** A page of the matrix. */
    @GetMapping
    Matrix matrix(
            @ParameterObject Asked asked,
            @RequestParam Optional<UpdateId> after,
            Snapshot snapshot,
            @AuthenticationPrincipal Caller caller) {
        Answer answer = answer(asked, snapshot, caller);
        // Whatever comes behind the cursor in this order, also where the update at the cursor no longer matches.
        List<DocketCase> rest = after.flatMap(id -> answer.all().stream()
                        .filter(one -> one.update().id().equals(id))
                        .findFirst())
                .map(last -> answer.matching().stream()
                        .filter(one -> answer.question().order().compare(one, last) > 0)
                        .toList())
                .orElse(answer.matching());
        Fleet fleet = snapshot.fleet();
        int contents = (int) answer.all().stream()
                .filter(one -> Docket.isNoise(one.update()))
                .count();
        return new Matrix(
                answer.columns(),
                rest.stream().limit(PAGE).map(answer::row).toList(),
                answer.matching().size(),
                answer.all().size() - contents,
                contents,
                rest.size() > PAGE ? Optional.of(rest.get(PAGE - 1).update().id()) : Optional.empty(),
                answer.day()
                        .map(day -> !MatrixQuestion.seesSomeAlone(caller)
                                ? day.hosts()
                                : answer.columns().stream()
                                        .mapToInt(Column::hosts)
                                        .sum())
                        .orElseGet(() -> fleet.all().getCardinality()),
                answer.day().isEmpty()
                        ? Optional.of(fleet.unknownAt(answer.now()).getCardinality())
                        : answer.day()
                                .filter(day -> !MatrixQuestion.seesSomeAlone(caller))
                                .map(KeptDays.Day::unknownHosts),
                answer.day().map(KeptDays.Day::lastReport).orElseGet(() -> fleet.hosts(fleet.all())
                        .map(Host::lastReport)
                        .max(Instant::compareTo)),
                answer.question().tallies(answer.matching()),
                choices(answer.all(), asked.isOfContent(), fleet.ladder()),
                answer.day().map(day -> new PastDay(day.day(), day.at())),
                days.days());
    }

    private static MatrixChoices choices(Collection<DocketCase> all, boolean content, Ladder ladder) {
        Set<Kind> kinds = new TreeSet<>();
        Set<String> vendors = new TreeSet<>();
        all.stream()
                .map(DocketCase::update)
                .filter(update -> Docket.isNoise(update) == content)
                .forEach(update -> {
                    kinds.add(update.kind());
                    vendors.add(update.vendor());
                });
        vendors.remove("");
        Set<String> owners = ladder.populations().stream()
                .map(Population::owner)
                .filter(owner -> !owner.isEmpty())
                .collect(Collectors.toCollection(TreeSet::new));
        return new MatrixChoices(kinds, vendors, owners);
    }

    private static final List<String> CELLS = List.of(
            "update",
            "title",
            "vendor",
            "kind",
            "rating",
            "published",
            "CVEs",
            "exploited",
            "population",
            "hosts",
            "carries",
            "restart outstanding",
            "not re-checked",
            "carries in part",
            "failed",
            "missing",
            "unknown",
            "not applicable",
            "withheld",
            "needs a verdict",
            "next end",
            "offered",
            "by operator",
            "next due",
            "overdue",
            "counted at");

    /** Every cell of the rows that match with hosts that the update is for, with both faces. */
    @GetMapping(path = "/matrix.csv", produces = "text/csv")
    ResponseEntity<ListFile> csv(
            @ParameterObject Asked asked, Snapshot snapshot, @AuthenticationPrincipal Caller caller) {
        return ListFile.csv("carriers.csv", CELLS, cells(asked, snapshot, caller));
    }

    @GetMapping(path = "/matrix.json", produces = "application/json")
    ResponseEntity<ListFile> json(
            @ParameterObject Asked asked, Snapshot snapshot, @AuthenticationPrincipal Caller caller) {
        return ListFile.json("carriers.json", CELLS, cells(asked, snapshot, caller));
    }

    private Stream<List<?>> cells(Asked asked, Snapshot snapshot, Caller caller) {
        Answer answer = answer(asked.with(Face.IN_FORCE), snapshot, caller);
        return answer.matching().stream().flatMap(one -> cells(answer.row(one), answer));
    }

    private static Stream<List<?>> cells(MatrixRow row, Answer answer) {
        Instant at = answer.day().map(KeptDays.Day::at).orElse(answer.now());
        List<List<?>> cells = new ArrayList<>();
        for (int place = 0; place < answer.columns().size(); place++) {
            Column column = answer.columns().get(place);
            StateCounts states = row.states().cells().get(place);
            if (states.notApplicable() == column.hosts()) {
                continue;
            }
            Optional<InForceCellView> inForce = row.inForce().isEmpty()
                    ? Optional.empty()
                    : Optional.of(row.inForce().get(place));
            cells.add(List.of(
                    row.states().id(),
                    row.states().title(),
                    row.vendor(),
                    row.states().kind().word(),
                    word(row.states().rating()),
                    row.states().published(),
                    String.join(" ", row.cves()),
                    row.exploited() ? "exploited" : "",
                    column.name(),
                    column.hosts(),
                    states.carries(),
                    states.restartOutstanding(),
                    states.claimed(),
                    states.partly(),
                    states.failed(),
                    states.missing(),
                    states.unknown(),
                    states.notApplicable(),
                    number(inForce.map(InForceCellView::withheld)),
                    number(inForce.map(InForceCellView::needsVerdict)),
                    text(inForce.flatMap(InForceCellView::nextEnd)),
                    number(inForce.map(InForceCellView::offered)),
                    number(inForce.map(InForceCellView::byOperator)),
                    text(inForce.flatMap(InForceCellView::nextDue)),
                    number(inForce.map(InForceCellView::overdue)),
                    at));
        }
        return cells.stream();
    }

    /** What is not known of a past day is left empty: it is not 0. */
    private static Object number(Optional<Integer> number) {
        return number.<Object>map(known -> known).orElse("");
    }

    private static String text(Optional<Instant> instant) {
        return instant.map(Instant::toString).orElse("");
    }

    private static String word(Enum<?> value) {
        return value.name().toLowerCase().replace('_', ' ');
    }

    private static final List<String> HOSTS = List.of(
            "host",
            "population",
            "owner",
            "update",
            "title",
            "rating",
            "CVEs",
            "state",
            "last known state",
            "versions found",
            "versions expected",
            "in force",
            "until",
            "due",
            "last report");

    /** Every host that lacks one of the updates that match, once for each of them; of today only. */
    @GetMapping(path = "/missing.csv", produces = "text/csv")
    ResponseEntity<ListFile> missing(
            @ParameterObject Asked asked, Snapshot snapshot, @AuthenticationPrincipal Caller caller) {
        return ListFile.csv("missing.csv", HOSTS, hosts(asked, snapshot, caller));
    }

    @GetMapping(path = "/missing.json", produces = "application/json")
    ResponseEntity<ListFile> missingJson(
            @ParameterObject Asked asked, Snapshot snapshot, @AuthenticationPrincipal Caller caller) {
        return ListFile.json("missing.json", HOSTS, hosts(asked, snapshot, caller));
    }

    private Stream<List<?>> hosts(Asked asked, Snapshot snapshot, Caller caller) {
        if (asked.on().isPresent()) {
            throw ProblemException.badField(
                    "on", "of past days numbers are kept; hosts by name are told with each update");
        }
        Answer answer = answer(asked, snapshot, caller);
        return answer.matching().stream().flatMap(one -> hosts(one.update(), answer));
    }

    private static Stream<List<?>> hosts(Update update, Answer answer) {
        Snapshot snapshot = answer.snapshot();
        Carriage carriage = snapshot.carriage(update, answer.now());
        Timeline timeline = Timeline.of(update, snapshot.decisions(), snapshot.fleet(), snapshot.catalogue());
        String cves = String.join(" ", cves(update));
        return timeline.groups(carriage.lacking(), answer.now()).stream().flatMap(group -> {
            RuleMatchView match = RuleMatchView.of(group.match(), snapshot.decisions());
            return snapshot.fleet().hosts(group.hosts()).map(host -> {
                Optional<Population> owner = snapshot.fleet().ladder().owner(host);
                CarriageState state = carriage.of(host.number());
                List<FoundVersion> versions = FoundVersion.all(update, host, snapshot.carriages());
                return List.of(
                        host.name(),
                        owner.map(Population::name).orElse("In no population"),
                        owner.map(Population::owner).orElse(""),
                        update.id(),
                        update.title(),
                        word(update.rating()),
                        cves,
                        word(state),
                        word(carriage.lastKnown(host.number())),
                        FoundVersion.found(versions),
                        FoundVersion.expected(versions),
                        word(match.effect()),
                        text(match.end()),
                        text(match.due()),
                        host.lastReport());
            });
        });
    }
}
