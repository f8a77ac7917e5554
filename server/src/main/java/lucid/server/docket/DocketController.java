package lucid.server.docket;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.core.docket.Cue;
import lucid.core.docket.Docket;
import lucid.core.docket.DocketCase;
import lucid.core.docket.DocketOrder;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.ruling.Acknowledgement;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Kind;
import lucid.core.update.Rating;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.server.access.Caller;
import lucid.server.docket.DocketQuestion.Show;
import lucid.server.docket.WeighingViews.BeamView;
import lucid.server.snapshot.Snapshot;
import lucid.server.views.CaseVersions;
import lucid.server.views.Views.RuleMatchView;
import lucid.server.web.ProblemException;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springdoc.core.annotations.ParameterObject;
import org.springframework.dao.DataAccessException;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** The docket: cases in the order in which they want judgement. */
@RestController
@RequestMapping("/api")
class DocketController {

    private static final Logger LOG = LoggerFactory.getLogger(DocketController.class);
    private static final int PAGE = 200;
    /** A person who has not looked for so long comes back to what is new since. */
    private static final Duration ABSENCE = Duration.ofMinutes(30);

    private static final Duration STALE = Duration.ofMinutes(1);

    private final Dockets dockets;
    private final LastLookMapper looks;
    private final Clock clock;

    DocketController(Dockets dockets, LastLookMapper looks, Clock clock) {
        this.dockets = dockets;
        this.looks = looks;
        this.clock = clock;
    }

    /** @param holds what holds for most of the hosts that lack it; none where no host lacks it */
    record StripMark(
            PopulationId population, int lacking, int applicable, Optional<RuleMatchView> holds, int differently) {}

    /**
     * @param version what a decision on the case names in If-Match
     * @param open hosts for which some cue is unanswered, by population; nowhere else is the case open
     * @param decided what stands of verdicts, and the last answer
     * @param routine true if nothing speaks for anything but leaving it to the rule
     * @param worth by what the docket is ordered, in points; {@code freshness} times the larger side of the beam plus 1
     * @param foldedUnder the successor that brings it anyway, if it is released for the same hosts
     * @param contains earlier updates that fold under this one
     * @param siblings other updates that close one of its vulnerabilities
     * @param groupedWith the case right behind which it stands because it closes the same vulnerability
     * @param nextOffer the first instant at which a standing rule offers it to hosts that nothing else withholds it
     *     from
     * @param assignees who sees to it, by the notes on it that stand
     */
    record Strip(
            UpdateId id,
            String revision,
            String version,
            String title,
            Kind kind,
            Rating rating,
            Optional<Double> baseScore,
            List<Cue> cues,
            Instant published,
            int lacking,
            int carrying,
            int unknown,
            int facingPublic,
            int notAffected,
            BeamView beam,
            double worth,
            int freshness,
            List<StripMark> marks,
            List<OpenPart> open,
            List<Decided> decided,
            boolean routine,
            Optional<NextOffer> nextOffer,
            boolean noise,
            boolean withdrawn,
            Optional<UpdateId> foldedUnder,
            List<UpdateId> contains,
            List<UpdateId> siblings,
            Optional<UpdateId> groupedWith,
            List<String> assignees) {}

    record NextOffer(String population, Instant at) {}

    record OpenPart(PopulationId population, String name, int hosts) {}

    /**
     * A verdict that stands, or the last answer.
     *
     * @param type none for what is left to the rule
     * @param populations names of those that it is for; none: all
     * @param end of a verdict, or when what is left to the rule is looked at again
     */
    record Decided(
            Optional<VerdictType> type,
            List<String> populations,
            Optional<String> where,
            Optional<Instant> end,
            String author) {
        static Decided of(Verdict v, Ladder ladder) {
            return new Decided(
                    Optional.of(v.type()),
                    names(List.of(v.populationId()), ladder),
                    v.narrowing().map(Object::toString),
                    Optional.of(v.end()),
                    v.author());
        }

        static Decided of(Acknowledgement a, Ladder ladder) {
            return new Decided(
                    Optional.empty(), names(a.populations(), ladder), Optional.empty(), a.lookAgain(), a.author());
        }

        private static List<String> names(Collection<PopulationId> ids, Ladder ladder) {
            return ladder.entries().stream()
                    .filter(entry -> ids.contains(entry.id()))
                    .map(Population::name)
                    .toList();
        }
    }

    record PopulationName(PopulationId id, String name) {}

    /** Cases of each sort, before they are narrowed to a population or kind. */
    record Counts(int open, int routine, int answered, int content) {}

    /**
     * @param hosts number of all hosts
     * @param asOf of when it is, where so many hosts report that the next is still being made; none: of now
     * @param next identifier of the case after which the next page goes on, if there is one
     * @param choices what the cases that are shown can be narrowed to
     * @param routineOffered when a standing rule offers the first of the routine cases
     * @param lastLooked when this person last looked before this visit, if ever
     */
    record DocketPage(
            Optional<Instant> asOf,
            List<PopulationName> populations,
            List<Strip> cases,
            int matching,
            Counts counts,
            DocketQuestion.Choices choices,
            Optional<Instant> routineOffered,
            int hosts,
            int inNoPopulation,
            Optional<UpdateId> next,
            Optional<Instant> lastLooked) {}

    /**
     * Cases in order.
     *
     * @param after identifier of the last case of the page before
     */
    @GetMapping("/docket")
    DocketPage docket(
            @ParameterObject DocketQuestion.Asked asked,
            @RequestParam Optional<UpdateId> after,
            Authentication caller) {
        Dockets.Current current = dockets.current();
        Snapshot snapshot = current.snapshot();
        List<DocketCase> all = current.docket().cases();
        DocketQuestion question = new DocketQuestion(
                asked,
                snapshot.fleet().ladder(),
                snapshot.evidence(),
                current.docket().at());
        List<DocketCase> matching = question.cases(all);
        int from = after.map(id -> 1 + place(matching, id)).orElse(0);
        List<DocketCase> page = matching.subList(from, Math.min(matching.size(), from + PAGE));
        return new DocketPage(
                Optional.of(current.docket().at()).filter(at -> at.plus(STALE).isBefore(clock.instant())),
                snapshot.fleet().ladder().populations().stream()
                        .map(p -> new PopulationName(p.id(), p.name()))
                        .toList(),
                strips(page, snapshot, current.docket().order()),
                matching.size(),
                new Counts(
                        count(all, Show.OPEN),
                        count(all, Show.ROUTINE),
                        count(all, Show.ANSWERED),
                        count(all, Show.CONTENT)),
                question.choices(all),
                firstOffer(all),
                snapshot.fleet().all().getCardinality(),
                snapshot.fleet().inNoPopulation().getCardinality(),
                from + page.size() < matching.size()
                        ? Optional.of(page.get(page.size() - 1).update().id())
                        : Optional.empty(),
                caller.getPrincipal() instanceof Caller.Person person ? lastLooked(person) : Optional.empty());
    }

    private static int place(List<DocketCase> cases, UpdateId id) {
        for (int place = 0; place < cases.size(); place++) {
            if (cases.get(place).update().id().equals(id)) {
                return place;
            }
        }
        throw ProblemException.badField("after", "the case " + id + " is not in this list any more; begin at the top");
    }

    private static int count(List<DocketCase> all, Show show) {
        return (int) all.stream().filter(show::has).count();
    }

    private static Optional<Instant> firstOffer(List<DocketCase> all) {
        return all.stream()
                .filter(Show.ROUTINE::has)
                .flatMap(one -> one.nextOffer().stream())
                .map(DocketCase.Offer::at)
                .min(Instant::compareTo);
    }

    private Optional<Instant> lastLooked(Caller.Person person) {
        Instant now = clock.instant();
        Optional<LastLookMapper.Look> known = looks.of(person.login());
        boolean comesBack =
                known.filter(look -> look.latest().plus(ABSENCE).isAfter(now)).isEmpty();
        Instant before = comesBack
                ? known.map(LastLookMapper.Look::latest).orElse(null)
                : known.get().beforeVisit();
        if (comesBack || known.get().latest().plus(Duration.ofMinutes(1)).isBefore(now)) {
            remember(new LastLookMapper.Look(person.login(), before, now));
        }
        return Optional.ofNullable(before);
    }

    /** What cannot be kept, for want of room for example, keeps nobody from looking. */
    private void remember(LastLookMapper.Look look) {
        try {
            looks.looked(look);
        } catch (DataAccessException e) {
            LOG.warn("When {} looked could not be kept: {}", look.account(), e.getMessage());
        }
    }

    private static List<Strip> strips(List<DocketCase> page, Snapshot snapshot, DocketOrder order) {
        List<Strip> strips = new ArrayList<>();
        Optional<UpdateId> leading = Optional.empty();
        for (DocketCase c : page) {
            boolean groupedWith = leading.filter(c.siblings()::contains).isPresent();
            strips.add(strip(c, snapshot, order, groupedWith ? leading : Optional.empty()));
            leading = groupedWith ? leading : Optional.of(c.update().id());
        }
        return strips;
    }

    private static Strip strip(DocketCase c, Snapshot snapshot, DocketOrder order, Optional<UpdateId> groupedWith) {
        Update update = c.update();
        DocketCase.Counts counts = c.counts();
        return new Strip(
                update.id(),
                update.revision(),
                CaseVersions.of(snapshot, update),
                update.title(),
                update.kind(),
                update.rating(),
                update.highestBaseScore(),
                c.cues(),
                update.published(),
                counts.lacking(),
                counts.having(),
                counts.unknown(),
                counts.facingPublic(),
                counts.notAffected(),
                BeamView.of(c),
                order.worth(c),
                order.freshness(c),
                c.marks().stream()
                        .map(mark -> new StripMark(
                                mark.population(),
                                mark.lacking(),
                                mark.applicable(),
                                mark.holds().map(f -> RuleMatchView.of(f, snapshot.decisions())),
                                mark.differently()))
                        .toList(),
                c.open().entrySet().stream()
                        .map(part -> new OpenPart(
                                part.getKey(),
                                snapshot.fleet()
                                        .ladder()
                                        .entry(part.getKey())
                                        .orElseThrow()
                                        .name(),
                                part.getValue()))
                        .toList(),
                decided(update, snapshot, order.now()),
                c.routine(),
                c.nextOffer().map(offer -> new NextOffer(offer.populationName(), offer.at())),
                Docket.isNoise(update),
                update.isWithdrawn(),
                c.foldedUnder(),
                c.contains(),
                c.siblings(),
                groupedWith,
                DocketQuestion.assignees(update.id(), snapshot.evidence()).toList());
    }

    private static List<Decided> decided(Update update, Snapshot snapshot, Instant now) {
        Ladder ladder = snapshot.fleet().ladder();
        Stream<Decided> verdicts = snapshot.decisions().verdictsOn(update.id()).stream()
                .filter(v -> v.standsAt(now))
                .map(v -> Decided.of(v, ladder));
        Stream<Decided> answer = snapshot.decisions().acknowledgementsOn(update.id()).stream()
                .filter(a -> a.isMadeBy(now))
                .reduce((earlier, later) -> later)
                .stream()
                .map(a -> Decided.of(a, ladder));
        return Stream.concat(verdicts, answer).toList();
    }
}
