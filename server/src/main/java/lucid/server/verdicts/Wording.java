package lucid.server.verdicts;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.IntStream;
import lucid.core.approval.Ground;
import lucid.core.carriage.Carriage;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostCondition;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.fleet.Spread;
import lucid.core.forecast.Forecast;
import lucid.core.forecast.Forecasts;
import lucid.core.forecast.GroupForecast;
import lucid.core.forecast.Hours;
import lucid.core.forecast.LeftOpen;
import lucid.core.ruling.Consequence;
import lucid.core.ruling.Consequences;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.Freeze;
import lucid.core.ruling.Removal;
import lucid.core.ruling.Timeline;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Cadence;
import lucid.core.update.Removable;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;
import lucid.server.pilots.DrawnPilot;
import lucid.server.pilots.PilotDraft;
import lucid.server.snapshot.Snapshot;
import lucid.server.views.ConditionParser;
import lucid.server.views.Views;
import lucid.server.web.ProblemException;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.http.HttpStatus;

/** Reads a sentence as it is worded, and tells what each of its verdicts would do. */
final class Wording {

    /** Nothing withholds for ever; a year is as far as anybody can see. */
    private static final int LONGEST_DAYS = 366;

    private static final int LONGEST_ALLOWANCE_DAYS = 90;

    private static final DateTimeFormatter DAY = DateTimeFormatter.ofPattern("EEE d MMM uuuu", Locale.ENGLISH);

    private final Snapshot snapshot;
    private final VerdictDraft draft;
    private final Update update;
    private final Verdict.Origin origin;

    private Wording(Snapshot snapshot, VerdictDraft draft, Verdict.Origin origin) {
        this.snapshot = snapshot;
        this.draft = draft;
        this.update = snapshot.update(draft.update());
        this.origin = origin;
    }

    /**
     * One verdict of a sentence, with what it would do.
     *
     * @param answer place among the answers of the sentence
     * @param drawn of a pilot: who would try it, of all populations of the answer
     * @param forecast of what it offers, for the hosts for which it would be what holds, of a pilot for those in its
     *     sample; none for a block
     * @param removal of a block that removes: what it can do on the hosts that carry it
     * @param leftOpen of what is withheld
     * @param overtaken when the next release of its kind is to be expected, where that is before it ends
     * @param expectedAnswer of a pilot: when its sample will have answered, if it goes as foreseen
     * @param grounds why it needs an approver
     */
    record Worded(
            int answer,
            Verdict verdict,
            Population population,
            Consequence consequence,
            Optional<DrawnPilot> drawn,
            Optional<GroupForecast> forecast,
            Optional<Removal> removal,
            Optional<LeftOpen> leftOpen,
            Optional<Instant> overtaken,
            Optional<Instant> expectedAnswer,
            Set<Ground> grounds) {

        /** Nothing is foreseen of it, and nobody has to approve it. */
        static Worded plainly(Verdict verdict, Population population, Consequence consequence) {
            return new Worded(
                    0,
                    verdict,
                    population,
                    consequence,
                    Optional.empty(),
                    Optional.empty(),
                    Optional.empty(),
                    Optional.empty(),
                    Optional.empty(),
                    Optional.empty(),
                    Set.of());
        }
    }

    /** One for each population of each answer, in their order. */
    static List<Worded> of(Snapshot snapshot, VerdictDraft draft, Verdict.Origin origin) {
        return new Wording(snapshot, draft, origin).worded();
    }

    private Instant now() {
        return origin.createdAt();
    }

    private List<Worded> worded() {
        if (!update.revision().equals(draft.revision())) {
            throw new ProblemException(
                    HttpStatus.CONFLICT,
                    "revision",
                    update.id() + " is now at revision " + update.revision()
                            + "; look at what changed before you decide");
        }
        requireOneAnswerEach();
        Carriage carriage = snapshot.carriage(update, now());
        List<Worded> worded = new ArrayList<>();
        // What one answer decides, the next ones know.
        Snapshot sofar = snapshot;
        for (int place = 0; place < draft.answers().size(); place++) {
            AnswerDraft answer = draft.answers().get(place);
            List<Verdict> drafts = verdicts(answer, sofar.decisions());
            Snapshot before = sofar;
            Optional<DrawnPilot> drawn = answer.type() == VerdictType.PILOT
                    ? Optional.of(DrawnPilot.of(answer.pilot().orElse(PilotDraft.USUAL), drafts, update, before, now()))
                    : Optional.empty();
            for (Verdict one : drafts) {
                Verdict verdict = drawn.map(DrawnPilot::pilot)
                        .map(one::with)
                        .orElseGet(() -> inParts(one, answer, carriage, before.decisions()));
                worded.add(worded(place, verdict, drawn, carriage, before.decisions()));
                sofar = sofar.with(sofar.decisions().with(verdict));
            }
        }
        return worded;
    }

    private Worded worded(
            int place, Verdict verdict, Optional<DrawnPilot> drawn, Carriage carriage, Decisions decisions) {
        Population population =
                snapshot.fleet().ladder().entry(verdict.populationId()).orElseThrow();
        Consequence consequence = consequence(verdict, carriage, decisions);
        Optional<GroupForecast> forecast = forecast(verdict, population, consequence.decided());
        return new Worded(
                place,
                verdict,
                population,
                consequence,
                drawn,
                forecast,
                removal(verdict, carriage, decisions),
                leftOpen(verdict, consequence.decided()),
                overtaken(verdict),
                expectedAnswer(verdict, population, forecast),
                Ground.of(
                        verdict,
                        population,
                        consequence.decided(),
                        forecast.map(GroupForecast::inBusyHours).orElseGet(RoaringBitmap::new),
                        snapshot.decisions()));
    }

    private Consequence consequence(Verdict verdict, Carriage carriage, Decisions decisions) {
        return Consequences.of(verdict, update, carriage, snapshot.fleet(), decisions, snapshot.catalogue(), now());
    }

    /** The parts are of the hosts for which it would be what holds; whoever comes later follows with the last. */
    private Verdict inParts(Verdict verdict, AnswerDraft answer, Carriage carriage, Decisions decisions) {
        if (answer.spread().isEmpty()) {
            return verdict;
        }
        SpreadDraft asked = answer.spread().get();
        Population population =
                snapshot.fleet().ladder().entry(verdict.populationId()).orElseThrow();
        RoaringBitmap hosts = consequence(verdict, carriage, decisions).decided();
        LocalDate first = answer.until().orElseThrow();
        List<Instant> ends = IntStream.range(0, asked.parts())
                .mapToObj(part -> end(answer, first.plusDays((long) part * asked.daysApart()), population))
                .toList();
        Map<Integer, Integer> moved = new HashMap<>();
        for (SpreadDraft.Moved one : asked.moved()) {
            if (one.host() == null || one.part() < 1 || one.part() > asked.parts()) {
                throw ProblemException.badField("spread.moved", "name a host, and a part from 1 to " + asked.parts());
            }
            // A sentence for several populations moves the hosts of all of them.
            snapshot.fleet()
                    .host(one.host())
                    .filter(host -> hosts.contains(host.number()))
                    .ifPresent(host -> moved.put(host.number(), one.part() - 1));
        }
        String seed = update.id() + " " + update.revision() + " " + population.id();
        return verdict.spreadOver(Spread.of(hosts, ends, seed, snapshot.fleet()).with(moved));
    }

    private Optional<Removal> removal(Verdict verdict, Carriage carriage, Decisions decisions) {
        if (!verdict.delivery().removes()) {
            return Optional.empty();
        }
        RoaringBitmap carrying = RoaringBitmap.and(snapshot.fleet().members(verdict.populationId()), carriage.having());
        Timeline timeline = Timeline.of(update, decisions.with(verdict), snapshot.fleet(), snapshot.catalogue());
        return Optional.of(Removal.of(
                update, timeline.removed(carrying, now()), snapshot.carriages().outcomes(), snapshot.fleet(), now()));
    }

    private Optional<LeftOpen> leftOpen(Verdict verdict, RoaringBitmap decided) {
        RoaringBitmap withheld = verdict.pilot()
                .map(pilot -> RoaringBitmap.andNot(decided, pilot.everSampled()))
                .orElse(decided);
        return verdict.withholdsAt(now())
                ? Optional.of(LeftOpen.of(verdict, update, withheld, snapshot.carriages(), now()))
                : Optional.empty();
    }

    private Optional<Instant> overtaken(Verdict verdict) {
        return Cadence.of(update.vendor(), update.kind(), snapshot.catalogue(), now())
                .map(Cadence::next)
                .filter(next -> next.isAfter(now()) && next.isBefore(verdict.end()) && !verdict.isLetGo());
    }

    /** The last of the sample has it, soaks, and reports once more. */
    private static Optional<Instant> expectedAnswer(
            Verdict verdict, Population population, Optional<GroupForecast> forecast) {
        return verdict.pilot().flatMap(pilot -> forecast.map(GroupForecast::curve)
                .filter(curve -> curve.size() > 1)
                .map(curve -> curve.get(curve.size() - 1)
                        .at()
                        .plus(pilot.terms().soak())
                        .plus(population.rhythm().orElse(Host.DEFAULT_RHYTHM))));
    }

    /** A population is named twice only where one of the answers is narrowed. */
    private void requireOneAnswerEach() {
        Set<PopulationId> whole = new LinkedHashSet<>();
        for (AnswerDraft answer : draft.answers()) {
            for (PopulationId id : new LinkedHashSet<>(answer.populations())) {
                if (answer.where().isEmpty() && !whole.add(id)) {
                    throw ProblemException.badField(
                            "populations", "the sentence has two answers for " + id + "; narrow one of them");
                }
            }
        }
    }

    private List<Verdict> verdicts(AnswerDraft answer, Decisions decisions) {
        if (answer.type() == null) {
            throw ProblemException.badField("type", "choose block, defer, pilot or force");
        }
        if (answer.populations().isEmpty()) {
            throw ProblemException.badField("populations", "choose at least one population");
        }
        Optional<HostCondition> where =
                answer.where().map(text -> ConditionParser.read("where", text, snapshot.fleet()));
        long number = decisions.nextVerdict().value();
        List<Verdict> verdicts = new ArrayList<>();
        for (PopulationId id : new LinkedHashSet<>(answer.populations())) {
            Population population = snapshot.fleet()
                    .ladder()
                    .entry(id)
                    .orElseThrow(() -> ProblemException.badField("populations", "there is no population " + id));
            verdicts.add(new Verdict(
                            new DecisionNumber.OfVerdict(number++),
                            new Verdict.Subject(update.id(), draft.revision(), id, where),
                            // A pilot becomes one once its sample is drawn.
                            answer.type() == VerdictType.PILOT ? VerdictType.DEFER : answer.type(),
                            end(answer, day(answer), population),
                            new Verdict.Reason(Set.copyOf(draft.reasons()), draft.words()),
                            origin,
                            answer.goesOver(),
                            Optional.empty())
                    .with(delivery(answer)));
        }
        boolean offers = answer.type() == VerdictType.FORCE
                || answer.type() == VerdictType.PILOT
                || verdicts.stream().anyMatch(Verdict::isLetGo);
        if (!update.canBeOffered() && offers) {
            throw ProblemException.badField(
                    "type",
                    update.isWithdrawn()
                            ? update.id() + " was withdrawn by its vendor: nobody is offered it"
                            : "no version with the fix of " + update.id() + " is known: there is nothing to install");
        }
        return verdicts;
    }

    private static LocalDate day(AnswerDraft answer) {
        return answer.until()
                .orElseThrow(() -> ProblemException.badField("until", "choose a day: nothing withholds for ever"));
    }

    private Instant end(AnswerDraft answer, LocalDate day, Population population) {
        LocalDate today = LocalDate.ofInstant(now(), population.zone());
        if (day.isBefore(today)) {
            throw ProblemException.badField("until", DAY.format(day) + " is past");
        }
        if (day.isAfter(today.plusDays(LONGEST_DAYS))) {
            throw ProblemException.badField("until", DAY.format(day) + " is more than a year away");
        }
        if (answer.type() == VerdictType.FORCE) {
            return Hours.dueOn(day, population, now());
        }
        boolean letGoNow = answer.type() == VerdictType.DEFER && day.equals(today);
        return letGoNow ? now() : Views.endOfDay(day, population.zone());
    }

    private Verdict.Delivery delivery(AnswerDraft answer) {
        boolean offersToAll = answer.type() == VerdictType.FORCE || answer.type() == VerdictType.DEFER;
        if (!offersToAll && answer.spread().isPresent()) {
            throw ProblemException.badField("spread", "only what is deferred or forced comes in parts");
        }
        if (!offersToAll && answer.byOperator().isPresent()) {
            throw ProblemException.badField("byOperator", "only what is deferred or forced is begun by an operator");
        }
        answer.spread().ifPresent(Wording::requireParts);
        Verdict.Delivery delivery = forced(answer);
        if (answer.byOperator().isPresent()) {
            OperatorDraft told = answer.byOperator().get();
            told.order().stream()
                    .filter(name -> snapshot.fleet().host(name).isEmpty())
                    .findFirst()
                    .ifPresent(name -> {
                        throw ProblemException.badField("byOperator.order", "there is no host " + name);
                    });
            delivery = delivery.by(new Verdict.ByOperator(told.checklist(), told.order()));
        }
        if (!answer.removes().orElse(false)) {
            return delivery;
        }
        if (answer.type() != VerdictType.BLOCK) {
            throw ProblemException.badField("removes", "what is removed is blocked: else it would come back");
        }
        if (!update.removable().isPossibleOn(LocalDate.ofInstant(now(), ZoneOffset.UTC))) {
            throw ProblemException.badField(
                    "removes",
                    update.removable().until().filter(Removable.NEVER::equals).isPresent()
                            ? update.id() + " cannot be removed from a host that has it"
                            : "the last day on which " + update.id() + " could be removed is past");
        }
        return delivery.removing();
    }

    private static void requireParts(SpreadDraft spread) {
        if (spread.parts() < 1 || spread.parts() > SpreadDraft.MOST_PARTS) {
            throw ProblemException.badField("spread.parts", "choose 1 to " + SpreadDraft.MOST_PARTS + " parts");
        }
        if (spread.daysApart() < 1 || spread.daysApart() > SpreadDraft.MOST_DAYS_APART) {
            throw ProblemException.badField("spread.daysApart", "choose 1 to " + SpreadDraft.MOST_DAYS_APART + " days");
        }
    }

    private static Verdict.Delivery forced(AnswerDraft answer) {
        int days = answer.allowanceDays().orElse(0);
        boolean outsideWindows = answer.outsideWindows().orElse(false);
        if (answer.type() != VerdictType.FORCE && (days != 0 || outsideWindows)) {
            throw ProblemException.badField(
                    "allowanceDays", "only what is forced has a time for hosts that were away, and windows to go over");
        }
        if (days < 0 || days > LONGEST_ALLOWANCE_DAYS) {
            throw ProblemException.badField("allowanceDays", "choose 0 to " + LONGEST_ALLOWANCE_DAYS + " days");
        }
        return new Verdict.Delivery(Duration.ofDays(days), outsideWindows);
    }

    /** A force is due at its end, a deferral offers then, a pilot offers to its sample at once; part by part. */
    private Optional<GroupForecast> forecast(Verdict verdict, Population population, RoaringBitmap decided) {
        if (verdict.type() == VerdictType.BLOCK) {
            return Optional.empty();
        }
        RoaringBitmap hosts = verdict.pilot()
                .map(pilot -> RoaringBitmap.and(pilot.everSampled(), decided))
                .orElse(decided);
        Optional<Spread> spread = verdict.delivery().spread();
        if (spread.isEmpty()) {
            return Optional.of(forecast(verdict, population, hosts, now(), verdict.end()));
        }
        List<GroupForecast> parts = new ArrayList<>();
        Instant begins = now();
        for (Spread.Part part : spread.get().of(hosts)) {
            parts.add(forecast(verdict, population, part.hosts(), begins, part.at()));
            begins = part.at();
        }
        return Optional.of(Forecasts.together(parts));
    }

    /** @param begins of a force: when its hosts may begin */
    private GroupForecast forecast(
            Verdict verdict, Population population, RoaringBitmap hosts, Instant begins, Instant end) {
        Forecast.Plan plan = new Forecast.Plan(
                verdict.type() == VerdictType.DEFER ? end : begins,
                verdict.type() == VerdictType.FORCE ? Optional.of(end) : Optional.empty(),
                verdict.delivery().allowance(),
                update.restart() != RestartNeed.NONE,
                verdict.delivery().outsideWindows(),
                verdict.delivery().byOperator().isPresent());
        return Forecasts.of(population, hosts, snapshot.fleet(), plan, freezes(verdict), now());
    }

    /** A force waits for no freeze that it goes over. */
    private List<Freeze> freezes(Verdict verdict) {
        return snapshot.decisions().freezes().stream()
                .filter(freeze -> !verdict.goesOver().freezes().contains(freeze.number()))
                .toList();
    }
}
