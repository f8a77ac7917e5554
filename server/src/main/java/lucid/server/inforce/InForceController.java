package lucid.server.inforce;

import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.ruling.Acknowledgement;
import lucid.core.ruling.Caution;
import lucid.core.ruling.Decision;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.ExceptionGrant;
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
import lucid.server.views.Views.ExceptionView;
import lucid.server.views.Views.HostList;
import lucid.server.views.Views.RulingGroupView;
import lucid.server.web.ListFile;
import org.roaringbitmap.RoaringBitmap;
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

    enum Kind {
        BLOCK,
        DEFER,
        PILOT,
        FORCE,
        EXCEPTION,
        FREEZE,
        CAUTION,
        LOOK_AGAIN
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
            Kind kind,
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
            @RequestParam Optional<Kind> kind,
            @RequestParam Optional<PopulationId> population,
            @RequestParam Optional<String> person,
            @RequestParam Optional<String> text,
            @RequestParam(defaultValue = "0") int from,
            Snapshot snapshot) {
        Instant now = clock.instant();
        List<InForce> all = InForce.at(snapshot.carriages(), snapshot.decisions(), now);
        List<InForce> matching = matching(all, snapshot, kind, population, person, text);
        int first = Math.min(Math.max(from, 0), matching.size());
        List<InForce> page = matching.subList(first, Math.min(first + PAGE, matching.size()));
        return new InForcePage(
                page.stream().map(one -> row(one, snapshot, now)).toList(),
                matching.size(),
                first + page.size() < matching.size() ? Optional.of(first + page.size()) : Optional.empty(),
                all.stream().flatMap(one -> people(one.decision())).collect(Collectors.toCollection(TreeSet::new)));
    }

    @GetMapping(path = "/decisions.csv", produces = "text/csv")
    ResponseEntity<ListFile> csv(
            @RequestParam Optional<Kind> kind,
            @RequestParam Optional<PopulationId> population,
            @RequestParam Optional<String> person,
            @RequestParam Optional<String> text,
            Snapshot snapshot) {
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
                matching(
                                InForce.at(snapshot.carriages(), snapshot.decisions(), now),
                                snapshot,
                                kind,
                                population,
                                person,
                                text)
                        .stream()
                        .map(one -> row(one, snapshot, now))
                        .map(row -> List.of(
                                row.end(),
                                row.kind().name().toLowerCase(Locale.ROOT).replace('_', ' '),
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

    private static List<InForce> matching(
            List<InForce> all,
            Snapshot snapshot,
            Optional<Kind> kind,
            Optional<PopulationId> population,
            Optional<String> person,
            Optional<String> text) {
        Optional<RoaringBitmap> members = population.map(id -> Views.members(snapshot.fleet(), id));
        Optional<String> wanted =
                text.map(words -> words.strip().toLowerCase(Locale.ROOT)).filter(words -> !words.isEmpty());
        return all.stream()
                .filter(one -> kind.isEmpty() || kind(one.decision()) == kind.get())
                .filter(one -> members.isEmpty() || concerns(one, population.get(), members.get(), snapshot))
                .filter(one -> person.isEmpty() || people(one.decision()).anyMatch(person.get()::equals))
                .filter(one -> wanted.isEmpty()
                        || Stream.of(about(one), one.update().map(Update::title).orElse(""), words(one.decision()))
                                .anyMatch(part -> part.toLowerCase(Locale.ROOT).contains(wanted.get())))
                .toList();
    }

    /** Asked of what was decided, not of each host, where that is enough. */
    private static boolean concerns(InForce one, PopulationId population, RoaringBitmap members, Snapshot snapshot) {
        if (one.decision() instanceof Verdict verdict) {
            return verdict.populationId().equals(population);
        }
        if (one.decision() instanceof Freeze freeze) {
            return freeze.covers(population);
        }
        if (one.decision() instanceof Caution) {
            return true;
        }
        return one.decision() instanceof ExceptionGrant exception
                ? !snapshot.fleet().matching(exception.hosts(), members).isEmpty()
                : RoaringBitmap.intersects(one.hosts(), members);
    }

    private static Kind kind(Decision decision) {
        if (decision instanceof Verdict verdict) {
            return Kind.valueOf(verdict.type().name());
        }
        if (decision instanceof Freeze) {
            return Kind.FREEZE;
        }
        if (decision instanceof Caution) {
            return Kind.CAUTION;
        }
        return decision instanceof ExceptionGrant ? Kind.EXCEPTION : Kind.LOOK_AGAIN;
    }

    private static Stream<String> people(Decision decision) {
        if (decision instanceof ExceptionGrant exception) {
            return Stream.of(exception.author(), exception.owner());
        }
        if (decision instanceof Freeze freeze) {
            return Stream.of(freeze.author());
        }
        if (decision instanceof Caution caution) {
            return Stream.of(caution.author(), caution.owner());
        }
        return Stream.of(
                decision instanceof Verdict verdict ? verdict.author() : ((Acknowledgement) decision).author());
    }

    private static String words(Decision decision) {
        if (decision instanceof Verdict verdict) {
            return verdict.words();
        }
        if (decision instanceof Freeze freeze) {
            return freeze.reason();
        }
        if (decision instanceof Caution caution) {
            return caution.reason();
        }
        return decision instanceof ExceptionGrant exception ? exception.reason() : "";
    }

    private static String about(InForce one) {
        return one.update()
                .map(update -> update.id().value())
                .orElseGet(() -> one.decision() instanceof ExceptionGrant exception
                        ? ExceptionView.about(exception)
                        : one.decision() instanceof Caution caution
                                ? caution.level() == Caution.Level.WATCHFUL
                                        ? "standing rules: delays doubled"
                                        : "standing rules: nothing offered"
                                : "every update");
    }

    private static boolean isOverdue(Verdict verdict, RoaringBitmap lacking, Instant now) {
        return verdict.type() == VerdictType.FORCE
                && lacking.stream().anyMatch(host -> !verdict.endFor(host).isAfter(now));
    }

    private static InForceRow row(InForce one, Snapshot snapshot, Instant now) {
        Decision decision = one.decision();
        List<Population> entries = snapshot.fleet().ladder().entries().stream()
                .filter(entry -> decision instanceof Freeze freeze && !freeze.isOfAll()
                        ? freeze.covers(entry.id())
                        : decision instanceof Verdict verdict
                                ? verdict.populationId().equals(entry.id())
                                : decision instanceof Acknowledgement answer
                                        && answer.covers(entry.id())
                                        && RoaringBitmap.intersects(
                                                snapshot.fleet().members(entry.id()), one.hosts()))
                .toList();
        Optional<ExceptionGrant> exception =
                Optional.of(decision).filter(ExceptionGrant.class::isInstance).map(ExceptionGrant.class::cast);
        Optional<Verdict> verdict =
                Optional.of(decision).filter(Verdict.class::isInstance).map(Verdict.class::cast);
        return new InForceRow(
                kind(decision),
                decision.number(),
                one.update().map(Update::id),
                one.update().map(Update::title).orElse(""),
                about(one),
                entries.stream().map(Population::name).toList(),
                verdict.flatMap(Verdict::narrowing)
                        .or(() -> exception.map(ExceptionGrant::hosts))
                        .map(Object::toString),
                decision.createdAt(),
                Optional.of(decision)
                        .filter(Freeze.class::isInstance)
                        .map(freeze -> ((Freeze) freeze).from())
                        .filter(now::isBefore),
                people(decision).findFirst().orElseThrow(),
                exception.map(ExceptionGrant::owner).or(() -> Optional.of(decision)
                        .filter(Caution.class::isInstance)
                        .map(caution -> ((Caution) caution).owner())),
                entries.size() == 1 ? entries.get(0).zone().getId() : "Z",
                one.end(),
                verdict.filter(force -> isOverdue(force, one.hosts(), now)).isPresent(),
                HostList.of(snapshot.fleet(), one.hosts()),
                verdict.map(v -> v.reasons().stream().sorted().toList()).orElse(List.of()),
                words(decision),
                verdict.map(DeliveryView::of),
                one.then().stream()
                        .map(group -> RulingGroupView.of(group, snapshot.fleet(), snapshot.decisions()))
                        .toList());
    }
}
