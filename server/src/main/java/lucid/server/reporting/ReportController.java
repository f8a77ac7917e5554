package lucid.server.reporting;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.reporting.ForcedUpdate;
import lucid.core.reporting.Foresight;
import lucid.core.reporting.InForceCell;
import lucid.core.reporting.OpenExploited;
import lucid.core.reporting.Withholding;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.ruling.ReasonWord;
import lucid.core.ruling.Timeline;
import lucid.core.ruling.Verdict;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.server.orders.OrdersHeard;
import lucid.server.snapshot.Snapshot;
import lucid.server.verdicts.VerdictSheets;
import lucid.server.views.OverdueHosts;
import lucid.server.views.Views.ExceptionView;
import lucid.server.views.Views.HostList;
import lucid.server.web.ListFile;
import lucid.server.web.ProblemException;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** What is withheld and why, what became of what was forced, and what is exploited and still open. */
@RestController
@RequestMapping("/api/report")
class ReportController {

    private static final int LONGEST = 1_000;

    private final VerdictSheets sheets;
    private final OrdersHeard heard;
    private final Clock clock;

    ReportController(VerdictSheets sheets, OrdersHeard heard, Clock clock) {
        this.sheets = sheets;
        this.heard = heard;
        this.clock = clock;
    }

    /** @param inPopulation hosts of it on which it is open */
    record ExploitedPart(PopulationId population, String name, String owner, int inPopulation, int withheld) {}

    /**
     * @param due last day on which the public catalogue asks for it to be closed
     * @param daysLeft until then; negative where it is past
     * @param closing updates that close it
     * @param concerned hosts that one of them is for
     * @param open of these, hosts that lack one of them; by population where there are any
     * @param notAffected hosts that lack one and of which a note says that they are not affected
     * @param unknown of the open ones, those whose last report is too old to tell
     */
    record ExploitedRow(
            String cve,
            LocalDate added,
            String words,
            String asked,
            Optional<LocalDate> due,
            Optional<Long> daysLeft,
            boolean ransomware,
            List<UpdateId> closing,
            int concerned,
            HostList open,
            int notAffected,
            int unknown,
            List<ExploitedPart> parts) {}

    /** What is known to be exploited and concerns a host here: what is open and due first in front. */
    @GetMapping("/exploited")
    List<ExploitedRow> exploited(Snapshot snapshot) {
        Instant now = clock.instant();
        return OpenExploited.all(snapshot.carriages(), snapshot.evidence(), now).stream()
                .map(one -> new ExploitedRow(
                        one.listed().cve(),
                        one.listed().added(),
                        one.listed().words(),
                        one.listed().asked(),
                        one.listed().due(),
                        one.daysLeft(now),
                        one.listed().ransomware(),
                        one.closing().stream().map(Update::id).sorted().toList(),
                        one.concerned().getCardinality(),
                        HostList.of(snapshot.fleet(), one.open()),
                        one.notAffected().getCardinality(),
                        one.unknown().getCardinality(),
                        parts(one, snapshot, now)))
                .toList();
    }

    private static List<ExploitedPart> parts(OpenExploited one, Snapshot snapshot, Instant now) {
        List<Timeline> timelines = one.closing().stream()
                .map(update -> Timeline.of(update, snapshot.decisions(), snapshot.fleet(), snapshot.catalogue()))
                .toList();
        List<ExploitedPart> parts = new ArrayList<>();
        for (Population entry : snapshot.fleet().ladder().entries()) {
            RoaringBitmap open = RoaringBitmap.and(one.open(), snapshot.fleet().members(entry.id()));
            if (!open.isEmpty()) {
                int withheld = 0;
                for (int place = 0; place < timelines.size(); place++) {
                    RoaringBitmap lacking = RoaringBitmap.and(
                            open,
                            snapshot.carriage(one.closing().get(place), now).lacking());
                    withheld = Math.max(
                            withheld,
                            InForceCell.of(timelines.get(place).groups(entry, lacking, now), now)
                                    .withheld());
                }
                parts.add(new ExploitedPart(entry.id(), entry.name(), entry.owner(), open.getCardinality(), withheld));
            }
        }
        return parts;
    }

    @GetMapping(path = "/exploited.csv", produces = "text/csv")
    ResponseEntity<ListFile> exploitedCsv(Snapshot snapshot) {
        return ListFile.csv(
                "known-exploited.csv",
                List.of(
                        "CVE",
                        "listed",
                        "due",
                        "days left",
                        "ransomware",
                        "closed by",
                        "population",
                        "owner",
                        "open on hosts",
                        "of these withheld"),
                exploited(snapshot).stream().flatMap(row -> row.parts().stream()
                        .map(part -> List.of(
                                row.cve(),
                                row.added(),
                                row.due().map(LocalDate::toString).orElse(""),
                                row.daysLeft().<Object>map(left -> left).orElse(""),
                                row.ransomware() ? "known" : "",
                                String.join(
                                        " ",
                                        row.closing().stream()
                                                .map(UpdateId::value)
                                                .toList()),
                                part.name(),
                                part.owner(),
                                part.inPopulation(),
                                part.withheld()))));
    }

    /**
     * @param days for how many it has stood
     * @param about identifier of the update, package URL of the product, or the kind
     * @param population of a verdict
     */
    record WithheldRow(
            DecisionNumber number,
            String type,
            String about,
            String title,
            Optional<String> population,
            int hosts,
            List<ReasonWord> reasons,
            String words,
            String owner,
            Instant since,
            long days,
            Instant end) {}

    record ByReason(ReasonWord reason, Withholding.WithheldSum sum) {}

    record ByOwner(String owner, Withholding.WithheldSum sum) {}

    /**
     * @param byReason who has two reasons stands under both
     * @param withoutReason exceptions, and verdicts with words of their own
     * @param rows what has stood longest first
     */
    record WithheldView(
            List<ByReason> byReason,
            Optional<Withholding.WithheldSum> withoutReason,
            List<ByOwner> byOwner,
            List<WithheldRow> rows) {}

    @GetMapping("/withheld")
    WithheldView withheld(Snapshot snapshot) {
        Instant now = clock.instant();
        List<Withholding> all = Withholding.at(snapshot.carriages(), snapshot.decisions(), now);
        return new WithheldView(
                Withholding.byReason(all).entrySet().stream()
                        .map(of -> new ByReason(of.getKey(), of.getValue()))
                        .sorted(Comparator.comparing((ByReason one) -> one.sum().pairs())
                                .reversed())
                        .toList(),
                Withholding.withoutReason(all),
                Withholding.byOwner(all).entrySet().stream()
                        .map(of -> new ByOwner(of.getKey(), of.getValue()))
                        .sorted(Comparator.comparing((ByOwner one) -> one.sum().pairs())
                                .reversed())
                        .toList(),
                all.stream().map(one -> row(one, snapshot, now)).toList());
    }

    private static WithheldRow row(Withholding one, Snapshot snapshot, Instant now) {
        boolean isVerdict = one.decision() instanceof Verdict;
        return new WithheldRow(
                one.decision().number(),
                isVerdict ? ((Verdict) one.decision()).type().name().toLowerCase() : "exception",
                one.decision() instanceof ExceptionGrant exception
                        ? ExceptionView.about(exception)
                        : ((Verdict) one.decision()).updateId().value(),
                one.update().map(Update::title).orElse(""),
                one.decision() instanceof Verdict verdict
                        ? snapshot.fleet()
                                .ladder()
                                .entry(verdict.populationId())
                                .map(Population::name)
                        : Optional.empty(),
                one.hosts().getCardinality(),
                one.reasons().stream().sorted().toList(),
                one.decision() instanceof ExceptionGrant exception
                        ? exception.reason()
                        : ((Verdict) one.decision()).words(),
                one.owner(),
                one.since(),
                Duration.between(one.since(), now).toDays(),
                one.end());
    }

    @GetMapping(path = "/withheld.csv", produces = "text/csv")
    ResponseEntity<ListFile> withheldCsv(Snapshot snapshot) {
        return ListFile.csv(
                "withheld.csv",
                List.of(
                        "number",
                        "type",
                        "about",
                        "title",
                        "population",
                        "hosts",
                        "reasons",
                        "words",
                        "owner",
                        "since",
                        "days",
                        "end"),
                withheld(snapshot).rows().stream()
                        .map(row -> List.of(
                                row.number(),
                                row.type(),
                                row.about(),
                                row.title(),
                                row.population().orElse(""),
                                row.hosts(),
                                String.join(
                                        "; ",
                                        row.reasons().stream()
                                                .map(ReasonWord::words)
                                                .toList()),
                                row.words(),
                                row.owner(),
                                row.since(),
                                Math.toIntExact(row.days()),
                                row.end())));
    }

    /**
     * What became of a force on the hosts that lacked the update then; the numbers add up to {@code hosts}.
     *
     * @param overdue hosts that lack it past their due, by why
     * @param foreseen hosts that were foreseen to have it by now when it was handed down, where that was kept
     * @param forecastWrong true if more or fewer have it, by more than a handful and more than a tenth
     */
    record ForcedRow(
            DecisionNumber number,
            UpdateId update,
            String title,
            String population,
            Optional<String> where,
            String author,
            Instant since,
            Instant due,
            Optional<Instant> takenBack,
            int hosts,
            int have,
            HostList failed,
            List<OverdueHosts> overdue,
            int waiting,
            int gone,
            Optional<Integer> foreseen,
            boolean forecastWrong) {}

    /** @param days how far back, from 1 to 1,000 */
    @GetMapping("/forced")
    List<ForcedRow> forced(@RequestParam(defaultValue = "90") int days, Snapshot snapshot) {
        if (days < 1 || days > LONGEST) {
            throw ProblemException.badField("days", "from 1 to 1,000 days");
        }
        Instant now = clock.instant();
        Map<PopulationId, String> names = new HashMap<>();
        snapshot.fleet().ladder().entries().forEach(entry -> names.put(entry.id(), entry.name()));
        return ForcedUpdate.since(now.minus(Duration.ofDays(days)), snapshot.carriages(), snapshot.decisions(), now)
                .stream()
                .map(one -> row(one, names, snapshot, now))
                .toList();
    }

    private ForcedRow row(ForcedUpdate one, Map<PopulationId, String> names, Snapshot snapshot, Instant now) {
        Verdict verdict = one.verdict();
        Optional<Foresight> foresight = sheets.find(verdict.number())
                .map(sheet -> sheet.foreseen().foresight())
                .filter(known -> !known.curve().isEmpty() && one.takenBack().isEmpty());
        int have = one.have().getCardinality();
        return new ForcedRow(
                verdict.number(),
                one.update().id(),
                one.update().title(),
                names.getOrDefault(
                        verdict.populationId(), verdict.populationId().value()),
                verdict.narrowing().map(Object::toString),
                verdict.author(),
                verdict.createdAt(),
                verdict.end(),
                one.takenBack(),
                one.hosts(),
                have,
                HostList.of(snapshot.fleet(), one.failed()),
                OverdueHosts.of(heard.whyOverdue(verdict, one.overdue(), snapshot, now), snapshot.fleet()),
                one.waiting().getCardinality(),
                one.gone().getCardinality(),
                foresight.map(known -> known.by(now)),
                foresight.filter(known -> known.isWrong(now, have, one.hosts())).isPresent());
    }
}
