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
import java.util.TreeMap;
import lucid.core.evidence.DoesNotMatter;
import lucid.core.evidence.Evidence;
import lucid.core.evidence.ExploitScore;
import lucid.core.evidence.KnownExploited;
import lucid.core.evidence.KnownIssue;
import lucid.core.evidence.TriedHosts;
import lucid.core.evidence.UsualRates;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Outcome;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.RevisionNote;
import lucid.core.update.Update;
import lucid.core.update.Vulnerability;
import lucid.core.weighing.Scales;
import lucid.core.weighing.Weakness;
import org.roaringbitmap.RoaringBitmap;

/**
 * Why now: every fact of one case that wants judgement and has not been answered since it became true. Each is worked out from what is stored with its
 * instant, so that a fact has one beginning, however often the docket is made.
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

    private final Docket.Facts facts;
    private final Update update;
    private final CaseFacts of;
    private final Map<String, RoaringBitmap> members;
    private final List<Verdict> blockedPredecessors;
    private final UsualRates.Usual usual;
    private final Instant now;
    private final Fleet fleet;
    private final Evidence evidence;
    private final RoaringBitmap lacking;
    private final Optional<Instant> answered;
    private final List<Cue> cues = new ArrayList<>();

    Cues(Docket.Facts facts, Update update, CaseFacts of, Map<String, RoaringBitmap> members, List<Verdict> blockedPredecessors, UsualRates.Usual usual, Instant now) {
        this.facts = facts;
        this.update = update;
        this.of = of;
        this.members = members;
        this.blockedPredecessors = blockedPredecessors;
        this.usual = usual;
        this.now = now;
        this.fleet = facts.carriages().fleet();
        this.evidence = facts.evidence();
        this.lacking = of.carriage().lacking();
        this.answered = facts.decisions().lastAnswer(update, now);
    }

    private boolean isAnswered(Instant raised) {
        return answered.filter(given -> !given.isBefore(raised)).isPresent();
    }

    /** True while a block on an earlier update covers hosts of the population and nobody has answered for this one since. */
    boolean asksToCarryOver(String population) {
        return blockedPredecessors.stream().anyMatch(block -> block.populationId().equals(population) && !isAnswered(carryOverRaised(block)));
    }

    private Instant carryOverRaised(Verdict block) {
        return later(update.firstRead(), block.handedDown());
    }

    /** In the order of their types, the newest first within one. */
    List<Cue> all(List<DocketCase.OfPopulation> weighings, Optional<DocketCase.Offer> nextOffer) {
        ofRelease();
        ofDecisions(nextOffer);
        ofFailures();
        if (!lacking.isEmpty()) {
            ofExploitation(weighings);
            ofIssues();
        }
        cues.sort(Comparator.comparing(Cue::type).thenComparing(Comparator.comparing(Cue::raised).reversed()).thenComparing(Cue::about));
        return List.copyOf(cues);
    }

    private void add(Cue cue) {
        if (!isAnswered(cue.raised())) {
            cues.add(cue);
        }
    }

    private void ofRelease() {
        if (answered.isEmpty() && !lacking.isEmpty()) {
            add(new Cue(Cue.Type.NEW, update.firstRead(), "", lacking.getCardinality(), Optional.empty()));
        }
        Optional<RevisionNote> revised = answered.flatMap(update::revisedAfter);
        if (update.isWithdrawn() && (revised.isPresent() || answered.isEmpty() && !of.carriage().applicable().isEmpty())) {
            add(new Cue(Cue.Type.WITHDRAWN, update.revisions().get(update.revisions().size() - 1).read()));
        } else if (revised.isPresent() && !lacking.isEmpty()) {
            boolean newFixes = update.newFixesAfter(answered.get()).isPresent();
            add(new Cue(newFixes ? Cue.Type.REVISED_FIXES : Cue.Type.REVISED_TEXT, revised.get().read()));
        }
        Map<String, List<Verdict>> byUpdate = new TreeMap<>();
        blockedPredecessors.forEach(block -> byUpdate.computeIfAbsent(block.updateId(), id -> new ArrayList<>()).add(block));
        byUpdate.forEach((blocked, blocks) -> {
            RoaringBitmap hosts = new RoaringBitmap();
            blocks.forEach(block -> hosts.or(RoaringBitmap.and(named(block), lacking)));
            Instant raised = blocks.stream().map(this::carryOverRaised).max(Comparator.naturalOrder()).orElseThrow();
            if (!hosts.isEmpty()) {
                add(new Cue(Cue.Type.SUPERSEDES_BLOCKED, raised, blocked, hosts.getCardinality(), Optional.empty()));
            }
        });
    }

    private void ofExploitation(List<DocketCase.OfPopulation> weighings) {
        for (Vulnerability weakness : update.vulnerabilities()) {
            KnownExploited listed = evidence.exploited().get(weakness.id());
            if (listed != null) {
                add(new Cue(Cue.Type.KNOWN_EXPLOITED, later(listed.read(), update.firstRead()), weakness.id(), lacking.getCardinality(),
                        Optional.of(listed.added().atStartOfDay(ZoneOffset.UTC).toInstant())));
            }
        }
        if (answered.isPresent()) {
            crossedProbability(weighings).ifPresent(this::add);
        }
    }

    /** The suggestion of some population would be another with the probabilities of the day of the last answer. */
    private Optional<Cue> crossedProbability(List<DocketCase.OfPopulation> weighings) {
        List<Weakness> then = new ArrayList<>();
        ExploitScore newest = null;
        for (Weakness weakness : of.gathering().update().weaknesses()) {
            List<ExploitScore> history = evidence.scoreHistory().getOrDefault(weakness.id(), List.of());
            Optional<ExploitScore> before = history.stream().filter(score -> !score.read().isAfter(answered.get())).reduce((a, b) -> b);
            Optional<ExploitScore> since = history.stream().filter(score -> score.read().isAfter(answered.get())).reduce((a, b) -> b);
            then.add(since.isEmpty() ? weakness
                    : new Weakness(weakness.id(), weakness.knownExploited(), before.map(ExploitScore::probability), weakness.rating(), weakness.vector(), weakness.base()));
            newest = since.orElse(newest);
        }
        if (newest == null) {
            return Optional.empty();
        }
        Scales scales = new Scales(facts.weights(), of.gathering().update().withWeaknesses(then));
        for (DocketCase.OfPopulation one : weighings) {
            if (one.population().isPresent()) {
                String id = one.population().get();
                int tier = fleet.ladder().find(id).orElseThrow().tier();
                if (!scales.weigh(of.gathering().population(tier, members.get(id)), asksToCarryOver(id)).suggestion().equals(one.weighing().suggestion())) {
                    return Optional.of(new Cue(Cue.Type.PROBABILITY_CROSSED, newest.read(), newest.cve(), 0, Optional.empty()));
                }
            }
        }
        return Optional.empty();
    }

    private void ofIssues() {
        for (KnownIssue issue : of.issues()) {
            RoaringBitmap touched = issue.hosts().map(where -> fleet.matching(where, lacking)).orElse(lacking);
            if (!touched.isEmpty() && issue.isOpen()) {
                add(new Cue(Cue.Type.ISSUE_OPENED, later(issue.changed(), update.firstRead()), issue.id(), issue.hosts().isPresent() ? touched.getCardinality() : 0, Optional.empty()));
            } else if (!touched.isEmpty() && answered.isPresent()) {
                add(new Cue(Cue.Type.ISSUE_FIXED, issue.changed(), issue.id(), issue.hosts().isPresent() ? touched.getCardinality() : 0, Optional.empty()));
            }
        }
    }

    private void ofFailures() {
        TriedHosts tried = of.tried();
        failuresAboveUsual(tried.tries(), usual.mean()).ifPresent(raised -> {
            Map<String, Integer> codes = new TreeMap<>();
            tried.tries().forEach(one -> one.failure().ifPresent(failure -> codes.merge(failure.code(), 1, Integer::sum)));
            String most = codes.entrySet().stream().max(Map.Entry.comparingByValue()).orElseThrow().getKey();
            add(new Cue(Cue.Type.FAILURES_ABOVE_USUAL, raised, most, tried.failed(), Optional.empty()));
        });
        List<Instant> silent = tried.tries().stream().flatMap(one -> one.failure().stream()).filter(f -> f.code().equals(TriedHosts.SILENT)).map(TriedHosts.Failure::at).toList();
        silent.stream().max(Comparator.naturalOrder()).ifPresent(last -> add(new Cue(Cue.Type.SILENT_AFTER_INSTALL, last, "", silent.size(), Optional.empty())));
    }

    /**
     * When it began to fail more often than usual, if it still does. The tries are played again in their order: raised once it is sure to 95 % with two
     * failures, gone once that falls below 80 %, so that it does not come and go with single tries.
     */
    static Optional<Instant> failuresAboveUsual(Collection<TriedHosts.Try> tries, double usual) {
        Instant raised = null;
        int tried = 0;
        int failed = 0;
        for (TriedHosts.Try one : tries) {
            if (one.failed() && raised != null && Scales.aboveUsual(tried, failed, 0, usual) < GONE_BELOW) {
                raised = null;
            }
            tried++;
            if (one.failed()) {
                failed++;
                if (raised == null && failed >= FEWEST_FAILURES && Scales.aboveUsual(tried, failed, 0, usual) >= RAISED_AT) {
                    raised = one.at();
                }
            }
        }
        boolean gone = raised != null && Scales.aboveUsual(tried, failed, 0, usual) < GONE_BELOW;
        return gone ? Optional.empty() : Optional.ofNullable(raised);
    }

    private void ofDecisions(Optional<DocketCase.Offer> nextOffer) {
        if (answered.isEmpty() && !lacking.isEmpty()) {
            nextOffer.filter(offer -> !offer.at().minus(BEFORE_OFFER).isAfter(now))
                    .ifPresent(offer -> add(new Cue(Cue.Type.OFFERED_SOON, later(offer.at().minus(BEFORE_OFFER), update.firstRead()), offer.population(), 0, Optional.of(offer.at()))));
        }
        facts.decisions().verdictsOn(update.id()).stream().filter(v -> v.standsAt(now)).forEach(this::ofVerdict);
        for (ExceptionGrant exception : facts.decisions().exceptions()) {
            boolean ends = exception.standsAt(now) && !exception.until().minus(BEFORE_END).isAfter(now);
            if (ends && !(exception.scope() instanceof ExceptionGrant.Scope.OfKind) && exception.scope().covers(update)) {
                int hosts = fleet.matching(exception.hosts(), lacking).getCardinality();
                if (hosts > 0) {
                    add(new Cue(Cue.Type.EXCEPTION_ENDS, later(exception.until().minus(BEFORE_END), exception.made()), "" + exception.number(), hosts, Optional.of(exception.until())));
                }
            }
        }
        evidence.notesOn(update.id()).stream().filter(DoesNotMatter::stands).forEach(this::ofNote);
    }

    private RoaringBitmap named(Verdict verdict) {
        RoaringBitmap hosts = members.getOrDefault(verdict.populationId(), new RoaringBitmap());
        return verdict.narrowing().map(where -> fleet.matching(where, hosts)).orElse(hosts);
    }

    private void ofVerdict(Verdict verdict) {
        RoaringBitmap named = named(verdict);
        int lackingIt = RoaringBitmap.andCardinality(named, lacking);
        String number = "" + verdict.number();
        if (lackingIt > 0 && verdict.type() != VerdictType.FORCE && verdict.end().isAfter(now) && !verdict.end().minus(BEFORE_END).isAfter(now)) {
            add(new Cue(verdict.type() == VerdictType.BLOCK ? Cue.Type.BLOCK_ENDS : Cue.Type.DEFERRAL_ENDS, later(verdict.end().minus(BEFORE_END), verdict.handedDown().plusMillis(1)), number,
                    lackingIt, Optional.of(verdict.end())));
        }
        if (lackingIt > 0 && verdict.type() == VerdictType.FORCE && !verdict.end().minus(BEFORE_DUE).isAfter(now)) {
            add(new Cue(Cue.Type.DUE_AT_RISK, later(verdict.end().minus(BEFORE_DUE), verdict.handedDown().plusMillis(1)), number, lackingIt, Optional.of(verdict.end())));
        }
        if (verdict.type() == VerdictType.BLOCK) {
            List<Instant> since = facts.carriages().outcomes().last(update.id()).values().stream()
                    .filter(outcome -> outcome.what() == Outcome.What.INSTALLED && outcome.at().isAfter(verdict.handedDown()) && named.contains(outcome.host()))
                    .map(Outcome::at).toList();
            since.stream().max(Comparator.naturalOrder()).ifPresent(last -> add(new Cue(Cue.Type.BLOCKED_BUT_INSTALLED, last, number, since.size(), Optional.empty())));
        }
        boolean newest = facts.decisions().verdictsOn(update.id()).stream().noneMatch(v -> v.populationId().equals(verdict.populationId()) && v.takenBack().isEmpty() && v.number() > verdict.number());
        if (newest && !verdict.named().isEmpty()) {
            int others = RoaringBitmap.xorCardinality(named, verdict.named());
            if (others > CHANGED_HOSTS || others > CHANGED_SHARE * verdict.named().getCardinality()) {
                // Nobody keeps when each host came; after a newer verdict or answer its hosts are the ones to compare with.
                add(new Cue(Cue.Type.POPULATION_CHANGED, answered.orElse(verdict.handedDown()).plusMillis(1), number, others, Optional.empty()));
            }
        }
    }

    private void ofNote(DoesNotMatter note) {
        RoaringBitmap stillLacking = RoaringBitmap.and(note.then(), lacking);
        int matters = stillLacking.getCardinality() - fleet.matching(note.hosts(), stillLacking).getCardinality();
        if (matters > 0) {
            add(new Cue(Cue.Type.MATTERS_NOW, answered.orElse(note.written()).plusMillis(1), "" + note.number(), matters, Optional.empty()));
        }
    }

    private static Instant later(Instant a, Instant b) {
        return a.isAfter(b) ? a : b;
    }
}
