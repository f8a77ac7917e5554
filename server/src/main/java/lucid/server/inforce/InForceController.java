package lucid.server.inforce;

import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import lucid.core.fleet.Population;
import lucid.core.ruling.Acknowledgement;
import lucid.core.ruling.Decision;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Freeze;
import lucid.core.ruling.InForce;
import lucid.core.ruling.ReasonWord;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.server.snapshot.Snapshot;
import lucid.server.views.DeliveryView;
import lucid.server.views.Views;
import lucid.server.views.Views.HostList;
import lucid.server.views.Views.RulingGroupView;
import lucid.server.web.ListFile;
import org.roaringbitmap.RoaringBitmap;
import org.springdoc.core.annotations.ParameterObject;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Everything that people have decided and that holds now, what ends first in front. */
@RestController
@RequestMapping("/api/in-force")
class InForceController {

    private static final int PAGE = 100;

    private final Clock clock;

    InForceController(Clock clock) {
        this.clock = clock;
    }

    /**
     * @param update on which it is; none for a freeze, caution, and an exception on a product or kind
     * @param about identifier of the update, package URL of the product, or the kind; of a freeze: every update
     * @param populations names of those that it is for; none for an exception, and for a freeze of all
     * @param where narrowing of a verdict, or the hosts of an exception
     * @param begins of a freeze that is still to come
     * @param end when it ends; of a force, when it is or was due; of what is left to the rule, when it comes back
     * @param overdue true for a force that is past due
     * @param hosts that lack the update and for which it is what holds
     * @param delivery of a verdict: how it reaches them
     * @param then what would hold for them after its end
     */
    record InForceRow(
            DecisionWords.Kind kind,
            DecisionNumber number,
            Optional<UpdateId> update,
            String title,
            String about,
            List<String> populations,
            Optional<String> where,
            Instant since,
            Optional<Instant> begins,
            String author,
            Optional<String> owner,
            String timeZone,
            Instant end,
            boolean overdue,
            HostList hosts,
            List<ReasonWord> reasons,
            String words,
            Optional<DeliveryView> delivery,
            List<RulingGroupView> then) {}

    /**
     * @param matching how many there are in all
     * @param next number of the first row of the next page, if there is one
     * @param people authors and owners of all that holds
     */
    record InForcePage(List<InForceRow> rows, int matching, Optional<Integer> next, Set<String> people) {}

    @GetMapping
    InForcePage page(
            @ParameterObject DecisionWords.Asked asked, @RequestParam(defaultValue = "0") int from, Snapshot snapshot) {
        Instant now = clock.instant();
        List<InForce> all = InForce.at(snapshot.carriages(), snapshot.decisions(), now);
        List<InForce> matching = matching(all, snapshot, asked);
        int first = Math.min(Math.max(from, 0), matching.size());
        List<InForce> page = matching.subList(first, Math.min(first + PAGE, matching.size()));
        return new InForcePage(
                page.stream().map(one -> row(one, snapshot, now)).toList(),
                matching.size(),
                first + page.size() < matching.size() ? Optional.of(first + page.size()) : Optional.empty(),
                all.stream()
                        .flatMap(one -> DecisionWords.people(one.decision()))
                        .collect(Collectors.toCollection(TreeSet::new)));
    }

    @GetMapping(path = "/decisions.csv", produces = "text/csv")
    ResponseEntity<ListFile> csv(@ParameterObject DecisionWords.Asked asked, Snapshot snapshot) {
        Instant now = clock.instant();
        return ListFile.csv(
                "in-force.csv",
                List.of(
                        "end",
                        "kind",
                        "number",
                        "about",
                        "title",
                        "populations",
                        "where",
                        "hosts",
                        "overdue",
                        "since",
                        "author",
                        "owner",
                        "words"),
                matching(InForce.at(snapshot.carriages(), snapshot.decisions(), now), snapshot, asked).stream()
                        .map(one -> row(one, snapshot, now))
                        .map(row -> List.of(
                                row.end(),
                                row.kind().word(),
                                row.number(),
                                row.about(),
                                row.title(),
                                String.join("; ", row.populations()),
                                row.where().orElse(""),
                                row.hosts().count(),
                                row.overdue() ? "overdue" : "",
                                row.since(),
                                row.author(),
                                row.owner().orElse(""),
                                row.words())));
    }

    private static List<InForce> matching(List<InForce> all, Snapshot snapshot, DecisionWords.Asked asked) {
        return all.stream()
                .filter(one -> asked.matches(one.decision(), one.update(), snapshot))
                .filter(one -> !(one.decision() instanceof Acknowledgement)
                        || asked.population()
                                .filter(id ->
                                        !RoaringBitmap.intersects(one.hosts(), Views.members(snapshot.fleet(), id)))
                                .isEmpty())
                .toList();
    }

    private static boolean isOverdue(Verdict verdict, RoaringBitmap lacking, Instant now) {
        return verdict.type() == VerdictType.FORCE
                && lacking.stream().anyMatch(host -> !verdict.endFor(host).isAfter(now));
    }

    private static InForceRow row(InForce one, Snapshot snapshot, Instant now) {
        Decision decision = one.decision();
        List<Population> entries = DecisionWords.populations(decision, snapshot.fleet()).stream()
                .filter(entry -> !(decision instanceof Acknowledgement)
                        || RoaringBitmap.intersects(snapshot.fleet().members(entry.id()), one.hosts()))
                .toList();
        Optional<Verdict> verdict =
                Optional.of(decision).filter(Verdict.class::isInstance).map(Verdict.class::cast);
        return new InForceRow(
                DecisionWords.kind(decision),
                decision.number(),
                one.update().map(Update::id),
                one.update().map(Update::title).orElse(""),
                DecisionWords.about(decision, one.update()),
                entries.stream().map(Population::name).toList(),
                DecisionWords.where(decision),
                decision.createdAt(),
                Optional.of(decision)
                        .filter(Freeze.class::isInstance)
                        .map(freeze -> ((Freeze) freeze).from())
                        .filter(now::isBefore),
                DecisionWords.people(decision).findFirst().orElseThrow(),
                DecisionWords.owner(decision),
                entries.size() == 1 ? entries.get(0).zone().getId() : "Z",
                one.end(),
                verdict.filter(force -> isOverdue(force, one.hosts(), now)).isPresent(),
                HostList.of(snapshot.fleet(), one.hosts()),
                verdict.map(v -> v.reasons().stream().sorted().toList()).orElse(List.of()),
                DecisionWords.words(decision),
                verdict.map(DeliveryView::of),
                one.then().stream()
                        .map(group -> RulingGroupView.of(group, snapshot.fleet(), snapshot.decisions()))
                        .toList());
    }
}
