package lucid.core.docket;

import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import lucid.core.evidence.CaseNote;
import lucid.core.evidence.Evidence;
import lucid.core.evidence.ExploitScore;
import lucid.core.evidence.KnownExploited;
import lucid.core.evidence.KnownIssue;
import lucid.core.evidence.NotAffectedNote;
import lucid.core.evidence.TriedHosts;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.Population;
import lucid.core.fleet.Spread;
import lucid.core.pilot.Pilot;
import lucid.core.pilot.Progress;
import lucid.core.ruling.Decision;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.ruling.Timeline;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.RevisionNote;
import lucid.core.update.Update;
import lucid.core.update.Vulnerability;
import lucid.core.weighing.BaselineRates;
import lucid.core.weighing.CellTries;
import lucid.core.weighing.HarmInEvidence;
import lucid.core.weighing.VulnerabilityRisk;
import lucid.core.weighing.Weigher;
import org.roaringbitmap.RoaringBitmap;

/**
 * Why now: every fact of one case that wants judgement and has not been answered since it became true. Each is worked
 * out from what is stored with its instant, so that a fact has one beginning, however often the docket is made.
 */
final class Cues {

    /** How long before its end a verdict or exception comes back. */
    static final Duration BEFORE_END = Duration.ofDays(3);
    /** How long before a force is due hosts that still lack it are told. */
    static final Duration BEFORE_DUE = Duration.ofDays(1);
    /** How long before a standing rule offers what nobody has judged it is told. */
    static final Duration BEFORE_OFFER = Duration.ofDays(2);

    private static final double RAISED_AT = 0.95;
    private static final double GONE_BELOW = 0.8;
    private static final int FEWEST_FAILURES = 2;
    private static final double CHANGED_SHARE = 0.05;
    private static final int CHANGED_HOSTS = 10;

    /** How long after its end a block, deferral or exception is told to have ended. */
    static final Duration AFTER_END = Duration.ofDays(7);

    private final Docket.Facts facts;
    private final Update update;
    private final CaseFacts of;
    private final Timeline timeline;
    /** Of the update itself, and of the one under which it is folded: an answer for either counts. */
    private final List<Timeline> answering;

    private final BaselineRates.Baseline usual;
    private final Instant now;
    private final Fleet fleet;
    private final Evidence evidence;
    private final RoaringBitmap lacking;
    private final Optional<Instant> answered;
    private final List<Cue> cues = new ArrayList<>();
    private final RoaringBitmap open = new RoaringBitmap();

    Cues(
            Docket.Facts facts,
            Update update,
            CaseFacts of,
            List<Timeline> answering,
            BaselineRates.Baseline usual,
            Instant now) {
        this.facts = facts;
        this.update = update;
        this.of = of;
        this.timeline = answering.get(0);
        this.answering = answering;
        this.usual = usual;
        this.now = now;
        this.fleet = facts.carriages().fleet();
        this.evidence = facts.evidence();
        this.lacking = of.carriage().lacking();
        this.answered = timeline.lastAnswer(now);
    }

    /** The hosts that some cue is about and nobody has answered for. */
    RoaringBitmap open() {
        return open;
    }

    /**
     * In the order of their types, the newest first within one.
     *
     * @param never hosts that lack it and to which nothing ever offers it
     */
    List<Cue> all(List<DocketCase.OfPopulation> weighings, Optional<DocketCase.Offer> nextOffer, RoaringBitmap never) {
        ofRelease();
        ofDecisions(nextOffer);
        ofNever(never);
        ofFollowUps();
        ofObjections();
        ofFailures();
        if (!lacking.isEmpty()) {
            ofExploitation();
            if (answered.isPresent()) {
                ofProbability(weighings);
            }
            ofIssues();
        }
        return sorted();
    }

    /**
     * Those which stand on the case of the successor under which the update is folded: what is known of it is known of
     * what contains it.
     */
    List<Cue> foldedUnder() {
        ofFollowUps();
        ofObjections();
        ofFailures();
        if (!lacking.isEmpty()) {
            ofExploitation();
            ofIssues();
        }
        return sorted().stream()
                .map(cue -> new Cue(
                        cue.type(),
                        cue.raised(),
                        cue.about(),
                        cue.hosts(),
                        cue.when(),
                        cue.open(),
                        Optional.of(update.id())))
                .toList();
    }

    private List<Cue> sorted() {
        cues.sort(ORDER);
        return List.copyOf(cues);
    }

    static final Comparator<Cue> ORDER = Comparator.comparing(Cue::type)
            .thenComparing(Comparator.comparing(Cue::raised).reversed())
            .thenComparing(Cue::about);

    /** @param shown how many hosts it names, 0 for none in particular */
    private void add(
            Cue.Type type, Instant raised, String about, RoaringBitmap hosts, int shown, Optional<Instant> when) {
        RoaringBitmap left = hosts.clone();
        answering.forEach(by -> left.andNot(by.answered(hosts, raised, now)));
        addOpen(type, raised, about, shown, when, left);
    }

    private void add(Cue.Type type, Instant raised, String about, RoaringBitmap hosts, Optional<Instant> when) {
        add(type, raised, about, hosts, hosts.getCardinality(), when);
    }

    private void addOpen(
            Cue.Type type, Instant raised, String about, int shown, Optional<Instant> when, RoaringBitmap left) {
        if (!left.isEmpty()) {
            cues.add(new Cue(type, raised, about, shown, when, left.getCardinality(), Optional.empty()));
            open.or(left);
        }
    }

    private void ofRelease() {
        add(Cue.Type.NEW, update.firstRead(), "", lacking, Optional.empty());
        RoaringBitmap judged = timeline.answered(of.carriage().applicable(), update.firstRead(), now);
        RevisionNote newest = update.revisions().get(update.revisions().size() - 1);
        if (!update.unread().isEmpty() && !update.isWithdrawn()) {
            // It is about no host in particular: it stands until the products are read, or told to be on no host.
            cues.add(new Cue(
                    Cue.Type.PRODUCTS_NOT_READ,
                    newest.read(),
                    "" + update.unreadNames(),
                    0,
                    Optional.empty(),
                    0,
                    Optional.empty()));
        }
        if (update.isWithdrawn()) {
            add(Cue.Type.WITHDRAWN, newest.read(), "", of.carriage().applicable(), 0, Optional.empty());
        } else if (answered.flatMap(update::revisedAfter).isPresent()) {
            boolean newFixes = update.newFixesAfter(answered.get()).isPresent();
            add(
                    newFixes ? Cue.Type.REVISED_FIXES : Cue.Type.REVISED_TEXT,
                    newest.read(),
                    "",
                    RoaringBitmap.and(judged, lacking),
                    0,
                    Optional.empty());
        }
        for (Timeline.Withheld withheld : timeline.containedAndWithheld(lacking, now)) {
            addOpen(
                    Cue.Type.SUPERSEDES_BLOCKED,
                    withheld.known(),
                    withheld.updateId().value(),
                    withheld.hosts().getCardinality(),
                    Optional.empty(),
                    withheld.open());
        }
    }

    /** Where no host lacks it, nobody can answer it otherwise than by taking the note back. */
    private void ofFollowUps() {
        evidence.caseNotesOn(update.id()).stream().filter(CaseNote::stands).forEach(note -> note.followUp()
                .from()
                .filter(from -> !from.isAfter(now))
                .ifPresent(from -> {
                    if (lacking.isEmpty()) {
                        cues.add(new Cue(
                                Cue.Type.LOOK_AGAIN, from, note.words(), 0, Optional.empty(), 0, Optional.empty()));
                    } else {
                        add(Cue.Type.LOOK_AGAIN, from, note.words(), lacking, 0, Optional.empty());
                    }
                }));
    }

    /** As long as the force and the exception stand, for the hosts that both are about. */
    private void ofObjections() {
        evidence.caseNotesOn(update.id()).stream().filter(CaseNote::stands).forEach(note -> note.objection()
                .ifPresent(objection -> facts.decisions()
                        .verdict(new DecisionNumber.OfVerdict(objection.force()))
                        .filter(force -> force.standsAt(now))
                        .ifPresent(force -> add(
                                Cue.Type.OBJECTED,
                                note.createdAt(),
                                note.author() + ": " + note.words(),
                                objectedFor(objection, RoaringBitmap.and(named(force), lacking)),
                                Optional.empty()))));
    }

    /** An exception is known by its number through all renewals. */
    private RoaringBitmap objectedFor(CaseNote.Objection objection, RoaringBitmap forced) {
        Set<DecisionNumber> number = Set.of(new DecisionNumber.OfException(objection.exception()));
        RoaringBitmap hosts = new RoaringBitmap();
        facts.decisions().exceptionsOn(update).stream()
                .filter(exception -> exception.standsAt(now) && exception.isNamedIn(number))
                .forEach(exception -> hosts.or(fleet.matching(exception.hosts(), forced)));
        return hosts;
    }

    private void ofExploitation() {
        for (Vulnerability vulnerability : update.vulnerabilities()) {
            KnownExploited listed = evidence.exploited().get(vulnerability.id());
            if (listed != null) {
                add(
                        Cue.Type.KNOWN_EXPLOITED,
                        later(listed.read(), update.firstRead()),
                        vulnerability.id(),
                        lacking,
                        Optional.of(listed.added().atStartOfDay(ZoneOffset.UTC).toInstant()));
            }
        }
    }

    /**
     * Whether the suggestion of some population would be another with the probabilities of the day of the last answer.
     */
    private void ofProbability(List<DocketCase.OfPopulation> weighings) {
        List<VulnerabilityRisk> then = new ArrayList<>();
        ExploitScore newest = null;
        for (VulnerabilityRisk vulnerability : of.input().update().vulnerabilities()) {
            List<ExploitScore> history = evidence.scoreHistory().getOrDefault(vulnerability.id(), List.of());
            Optional<ExploitScore> before = history.stream()
                    .filter(score -> !score.read().isAfter(answered.get()))
                    .reduce((a, b) -> b);
            Optional<ExploitScore> since = history.stream()
                    .filter(score -> score.read().isAfter(answered.get()))
                    .reduce((a, b) -> b);
            then.add(
                    since.isEmpty()
                            ? vulnerability
                            : new VulnerabilityRisk(
                                    vulnerability.id(),
                                    vulnerability.closedBy(),
                                    vulnerability.knownExploited(),
                                    before.map(ExploitScore::probability),
                                    vulnerability.rating(),
                                    vulnerability.vector(),
                                    vulnerability.base()));
            newest = since.orElse(newest);
        }
        if (newest == null) {
            return;
        }
        Weigher weigher = new Weigher(facts.weights(), of.input().update().withVulnerabilities(then));
        RoaringBitmap carryOver = timeline.asksToCarryOver(lacking, now);
        for (DocketCase.OfPopulation one : weighings) {
            Population entry = fleet.ladder()
                    .entry(one.population().orElse(Ladder.NO_POPULATION))
                    .orElseThrow();
            RoaringBitmap hosts = fleet.members(entry.id());
            if (!weigher.weigh(
                            of.input().population(entry.tier(), hosts),
                            Cases.asksToCarryOver(RoaringBitmap.and(hosts, lacking), carryOver))
                    .suggestion()
                    .equals(one.weighing().suggestion())) {
                add(Cue.Type.PROBABILITY_CROSSED, newest.read(), newest.cve(), lacking, 0, Optional.empty());
                return;
            }
        }
    }

    private void ofIssues() {
        for (KnownIssue issue : of.issues()) {
            RoaringBitmap touched =
                    issue.hosts().map(where -> fleet.matching(where, lacking)).orElse(lacking);
            if (!touched.isEmpty() && issue.isOpen()) {
                add(
                        Cue.Type.ISSUE_OPENED,
                        later(issue.changed(), update.firstRead()),
                        issue.id(),
                        touched,
                        issue.hosts().isPresent() ? touched.getCardinality() : 0,
                        Optional.empty());
            } else if (!touched.isEmpty() && answered.isPresent()) {
                add(
                        Cue.Type.ISSUE_FIXED,
                        issue.changed(),
                        issue.id(),
                        touched,
                        issue.hosts().isPresent() ? touched.getCardinality() : 0,
                        Optional.empty());
            }
        }
    }

    private void ofFailures() {
        TriedHosts tried = of.tried();
        failuresAboveUsual(tried.tries(), usual.rate()).ifPresent(raised -> {
            Map<String, Integer> codes = new TreeMap<>();
            tried.tries()
                    .forEach(one -> one.failure().ifPresent(failure -> codes.merge(failure.code(), 1, Integer::sum)));
            String most = codes.entrySet().stream()
                    .max(Map.Entry.comparingByValue())
                    .orElseThrow()
                    .getKey();
            add(
                    Cue.Type.FAILURES_ABOVE_USUAL,
                    raised,
                    most,
                    lacking.isEmpty() ? failed(tried) : lacking,
                    tried.failed(),
                    Optional.empty());
        });
        RoaringBitmap silent = new RoaringBitmap();
        Instant last = Instant.MIN;
        for (TriedHosts.Try one : tried.tries()) {
            Optional<Instant> since = one.failure()
                    .filter(failure -> failure.code().equals(TriedHosts.SILENT))
                    .map(TriedHosts.Failure::at);
            if (since.isPresent()) {
                silent.add(one.host());
                last = later(last, since.get());
            }
        }
        add(Cue.Type.SILENT_AFTER_INSTALL, last, "", silent, Optional.empty());
    }

    private static RoaringBitmap failed(TriedHosts tried) {
        RoaringBitmap failed = new RoaringBitmap();
        tried.tries().stream().filter(TriedHosts.Try::failed).forEach(one -> failed.add(one.host()));
        return failed;
    }

    /**
     * When it began to fail more often than usual, if it still does. The tries are played again in their order: raised
     * once it is sure to 95 % with two failures, gone once that falls below 80 %, so that it does not come and go with
     * single tries.
     */
    static Optional<Instant> failuresAboveUsual(Collection<TriedHosts.Try> tries, double usual) {
        Instant raised = null;
        int tried = 0;
        int failed = 0;
        for (TriedHosts.Try one : tries) {
            if (one.failed() && raised != null && aboveUsual(tried, failed, usual) < GONE_BELOW) {
                raised = null;
            }
            tried++;
            if (one.failed()) {
                failed++;
                if (raised == null && failed >= FEWEST_FAILURES && aboveUsual(tried, failed, usual) >= RAISED_AT) {
                    raised = one.at();
                }
            }
        }
        boolean gone = raised != null && aboveUsual(tried, failed, usual) < GONE_BELOW;
        return gone ? Optional.empty() : Optional.ofNullable(raised);
    }

    private static double aboveUsual(int tried, int failed, double usual) {
        return HarmInEvidence.aboveUsual(CellTries.of(tried, Map.of(FailureClass.DEGRADED, failed)), usual);
    }

    private void ofDecisions(Optional<DocketCase.Offer> nextOffer) {
        nextOffer.filter(offer -> !offer.at().minus(BEFORE_OFFER).isAfter(now)).ifPresent(offer -> {
            Instant raised = later(offer.at().minus(BEFORE_OFFER), update.firstRead());
            // Whoever was judged before it came near is judged.
            RoaringBitmap unjudged =
                    RoaringBitmap.andNot(offer.hosts(), timeline.answered(offer.hosts(), update.firstRead(), now));
            add(Cue.Type.OFFERED_SOON, raised, offer.populationName(), unjudged, 0, Optional.of(offer.at()));
        });
        facts.decisions().verdictsOn(update.id()).forEach(this::ofVerdict);
        ofForces();
        facts.decisions().exceptionsOn(update).forEach(this::ofException);
        evidence.notesOn(update.id()).stream().filter(NotAffectedNote::stands).forEach(this::ofNote);
    }

    /**
     * Never is not for ever unheard: what the rule never offers comes back until a verdict says what becomes of it, or
     * a day is named to look again.
     */
    private void ofNever(RoaringBitmap never) {
        if (update.isWithdrawn() || !update.canBeInstalled()) {
            return;
        }
        RoaringBitmap unheard = RoaringBitmap.andNot(never, timeline.lookedAtAgain(never, now));
        addOpen(
                Cue.Type.NEEDS_VERDICT,
                timeline.lastEnd(now).map(end -> later(end, update.firstRead())).orElse(update.firstRead()),
                "",
                unheard.getCardinality(),
                Optional.empty(),
                unheard);
    }

    private void ofException(ExceptionGrant exception) {
        RoaringBitmap hosts = fleet.matching(exception.hosts(), lacking);
        ofEnd(Cue.Type.EXCEPTION_ENDS, Cue.Type.EXCEPTION_ENDED, exception, exception.end(), hosts);
    }

    /** Shortly before something ends, and for some days after, for the hosts for which it is, or was, what holds. */
    private void ofEnd(Cue.Type before, Cue.Type after, Decision decision, Instant end, RoaringBitmap hosts) {
        if (!decision.isMadeBy(now)) {
            return;
        }
        if (end.isAfter(now) && !end.minus(BEFORE_END).isAfter(now)) {
            add(
                    before,
                    later(end.minus(BEFORE_END), decision.createdAt().plusMillis(1)),
                    "" + decision.number(),
                    inForce(decision, hosts, now),
                    Optional.of(end));
        } else if (!end.isAfter(now) && end.plus(AFTER_END).isAfter(now)) {
            add(after, end, "" + decision.number(), inForce(decision, hosts, end.minusMillis(1)), Optional.of(end));
        }
    }

    private RoaringBitmap named(Verdict verdict) {
        if (fleet.ladder().entry(verdict.populationId()).isEmpty()) {
            return new RoaringBitmap();
        }
        RoaringBitmap hosts = fleet.members(verdict.populationId());
        return verdict.narrowing().map(where -> fleet.matching(where, hosts)).orElse(hosts);
    }

    private void ofVerdict(Verdict verdict) {
        RoaringBitmap named = named(verdict);
        RoaringBitmap lackingIt = RoaringBitmap.and(named, lacking);
        switch (verdict.type()) {
            case BLOCK -> ofEnd(Cue.Type.BLOCK_ENDS, Cue.Type.BLOCK_ENDED, verdict, verdict.end(), lackingIt);
            case DEFER -> {
                if (!verdict.isLetGo()) {
                    parts(verdict, lackingIt)
                            .forEach(part -> ofEnd(
                                    Cue.Type.DEFERRAL_ENDS, Cue.Type.DEFERRAL_ENDED, verdict, part.at(), part.hosts()));
                }
            }
            case PILOT -> ofPilot(verdict, lackingIt);
            case FORCE -> {}
        }
        if (verdict.standsAt(now)) {
            ofStanding(verdict, named);
        }
    }

    /** What its gate says, and that the day on which it was to have answered comes near or has gone by. */
    private void ofPilot(Verdict verdict, RoaringBitmap lackingIt) {
        ofEnd(Cue.Type.PILOT_ENDS, Cue.Type.PILOT_ENDED, verdict, verdict.end(), lackingIt);
        if (!verdict.standsAt(now)) {
            return;
        }
        Pilot pilot = verdict.pilot().orElseThrow();
        Progress progress =
                Progress.of(pilot, update, of.tried(), facts.carriages().outcomes(), fleet);
        Optional<Cue.Type> type =
                switch (progress.state()) {
                    case MET -> Optional.of(Cue.Type.PILOT_MET);
                    case FAILED -> Optional.of(Cue.Type.PILOT_FAILED);
                    case EXHAUSTED -> Optional.of(Cue.Type.PILOT_EXHAUSTED);
                    case SOAKING, AWAITS_SIGN_OFF -> Optional.empty();
                };
        Instant since = pilot.failedAt().or(progress::since).orElse(verdict.createdAt());
        type.ifPresent(one -> add(
                one,
                later(since, verdict.createdAt().plusMillis(1)),
                "" + pilot.number(),
                inForce(verdict, lackingIt, now),
                Optional.of(verdict.end())));
    }

    /** The parts in which it ends, or is due, for these hosts: one, unless it is spread. */
    private static List<Spread.Part> parts(Verdict verdict, RoaringBitmap hosts) {
        return verdict.delivery()
                .spread()
                .map(spread -> spread.of(hosts))
                .orElseGet(() -> List.of(new Spread.Part(verdict.end(), hosts)));
    }

    /** Hosts of a force that are due at the same instant. */
    private record Due(Verdict force, Spread.Part part) {}

    /**
     * Forces that were handed down together, for several populations, are one cue before they are due and one after.
     */
    private void ofForces() {
        Map<Instant, List<Due>> together = facts.decisions().verdictsOn(update.id()).stream()
                .filter(verdict -> verdict.type() == VerdictType.FORCE && verdict.standsAt(now))
                .flatMap(verdict -> parts(verdict, RoaringBitmap.and(named(verdict), lacking)).stream()
                        .filter(part -> !part.at().minus(BEFORE_DUE).isAfter(now))
                        .map(part -> new Due(verdict, part)))
                .collect(Collectors.groupingBy(due -> due.force().createdAt(), TreeMap::new, Collectors.toList()));
        together.values().forEach(forces -> Stream.of(true, false)
                .map(past -> forces.stream()
                        .filter(due -> due.part().at().isAfter(now) != past)
                        .toList())
                .filter(some -> !some.isEmpty())
                .forEach(this::ofForces));
    }

    /** @param forces of one moment, all of them past due or none */
    private void ofForces(List<Due> forces) {
        Due first = forces.stream()
                .min(Comparator.comparing((Due due) -> due.part().at())
                        .thenComparing(due -> due.force().number()))
                .orElseThrow();
        RoaringBitmap forced = new RoaringBitmap();
        forces.forEach(due -> forced.or(inForce(due.force(), due.part().hosts(), now)));
        Instant end = first.part().at();
        boolean past = !end.isAfter(now);
        Instant raised = past
                ? end
                : later(end.minus(BEFORE_DUE), first.force().createdAt().plusMillis(1));
        add(
                past ? Cue.Type.OVERDUE : Cue.Type.DUE_AT_RISK,
                raised,
                "" + first.force().number(),
                forced,
                Optional.of(end));
    }

    /** Those of the hosts for which it is what holds at an instant: another decision may have taken its place. */
    private RoaringBitmap inForce(Decision decision, RoaringBitmap hosts, Instant at) {
        RoaringBitmap all = new RoaringBitmap();
        timeline.groups(hosts, at).stream()
                .filter(group -> group.match().source().equals(Optional.of(decision.number())))
                .forEach(group -> all.or(group.hosts()));
        return all;
    }

    private void ofStanding(Verdict verdict, RoaringBitmap named) {
        String number = "" + verdict.number();
        if (verdict.type() == VerdictType.BLOCK) {
            // Hosts that lacked it when it was blocked, or came since, and carry it now; whether or not they told of an
            // install.
            RoaringBitmap since = RoaringBitmap.and(of.carriage().having(), cameUnder(verdict, named));
            Instant last = verdict.createdAt().plusMillis(1);
            for (Outcome outcome :
                    facts.carriages().outcomes().last(update.id()).values()) {
                if (outcome.what() == Outcome.What.INSTALLED
                        && outcome.at().isAfter(verdict.createdAt())
                        && named.contains(outcome.host())) {
                    since.add(outcome.host());
                    last = later(last, outcome.at());
                }
            }
            // Nobody keeps when each host came; it is answered on those that carried it already when somebody answered
            // after the block.
            RoaringBitmap unheard = RoaringBitmap.andNot(
                    since,
                    timeline.carriedWhenAnswered(since, verdict.createdAt().plusMillis(1), now));
            addOpen(Cue.Type.BLOCKED_BUT_INSTALLED, last, number, since.getCardinality(), Optional.empty(), unheard);
        }
        boolean newest = facts.decisions().verdictsOn(update.id()).stream()
                .noneMatch(v -> v.populationId().equals(verdict.populationId())
                        && v.revokedAt().isEmpty()
                        && v.number().compareTo(verdict.number()) > 0);
        if (newest && !verdict.then().named().isEmpty()) {
            RoaringBitmap others = RoaringBitmap.xor(named, verdict.then().named());
            if (others.getCardinality() > CHANGED_HOSTS
                    || others.getCardinality()
                            > CHANGED_SHARE * verdict.then().named().getCardinality()) {
                // Nobody keeps when each host came; after a newer verdict or answer its hosts are the ones to compare
                // with.
                addOpen(
                        Cue.Type.POPULATION_CHANGED,
                        answered.orElse(verdict.createdAt()).plusMillis(1),
                        number,
                        others.getCardinality(),
                        Optional.empty(),
                        others);
            }
        }
    }

    /**
     * Hosts for which the verdict was when it was handed down, and those that came under it since; the latter only
     * where it is kept whom it named.
     */
    private static RoaringBitmap cameUnder(Verdict verdict, RoaringBitmap named) {
        RoaringBitmap decided = RoaringBitmap.and(named, verdict.then().decided());
        return verdict.then().named().isEmpty()
                ? decided
                : RoaringBitmap.or(
                        decided, RoaringBitmap.andNot(named, verdict.then().named()));
    }

    private void ofNote(NotAffectedNote note) {
        RoaringBitmap stillLacking = RoaringBitmap.and(note.then(), lacking);
        RoaringBitmap matters = RoaringBitmap.andNot(stillLacking, fleet.matching(note.hosts(), stillLacking));
        addOpen(
                Cue.Type.AFFECTED_NOW,
                answered.orElse(note.createdAt()).plusMillis(1),
                "" + note.number(),
                matters.getCardinality(),
                Optional.empty(),
                matters);
    }

    private static Instant later(Instant a, Instant b) {
        return a.isAfter(b) ? a : b;
    }
}
