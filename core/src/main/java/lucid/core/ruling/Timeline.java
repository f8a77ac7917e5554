package lucid.core.ruling;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.Deque;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.function.Predicate;
import java.util.stream.Stream;
import lucid.core.carriage.CarriageState;
import lucid.core.fleet.FirstDay;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostCondition;
import lucid.core.fleet.Population;
import lucid.core.fleet.Requirements;
import lucid.core.fleet.Spread;
import lucid.core.fleet.StandingRule;
import lucid.core.update.Catalogue;
import lucid.core.update.RevisionNote;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import org.roaringbitmap.RoaringBitmap;

/**
 * All decisions on one update, compiled: what holds for each host at each instant, and why. It is one list of clauses,
 * each of which either matches and says something or passes. The first that matches holds; the others that match are
 * the chain, which explains what would hold without it.
 *
 * <p>Decisions on other updates do not touch it, but for those on updates that this one contains. Hosts that no
 * decision tells apart are asked about together: {@link #groups} divides a set of hosts by the conditions of the
 * decisions, and puts the question once for each part.
 */
public final class Timeline {

    /** The question put to each clause. {@code state} is the host's last known state. */
    private record Question(Host host, Population entry, CarriageState state, Instant at) {}

    private interface Clause {
        Stream<RuleMatch> matches(Question question);
    }

    private final Update update;
    private final Fleet fleet;
    private final List<Population> entries;
    /** The latest first. */
    private final List<Verdict> verdicts;

    private final List<Acknowledgement> answers;
    /** In the order in which they count: the narrowest scope first; among equals the latest. */
    private final List<ExceptionGrant> exceptions;
    /** Of all updates alike; what ends last comes first. */
    private final List<Freeze> freezes;
    /** What standing rules say of it. */
    private final RuleOffers rules;
    /** What is decided on the updates that this one contains. */
    private final List<Timeline> contained;

    private Timeline(
            Update update,
            Fleet fleet,
            List<Verdict> verdicts,
            List<Acknowledgement> answers,
            List<ExceptionGrant> exceptions,
            List<Freeze> freezes,
            RuleOffers rules,
            List<Timeline> contained) {
        this.update = update;
        this.fleet = fleet;
        this.entries = fleet.ladder().entries();
        this.verdicts = verdicts.stream()
                .sorted(Comparator.comparing(Verdict::number).reversed())
                .toList();
        this.answers = answers;
        this.exceptions = exceptions.stream()
                .sorted(Comparator.comparingInt((ExceptionGrant e) -> e.scope().width())
                        .thenComparing(
                                Comparator.comparing(ExceptionGrant::number).reversed()))
                .toList();
        this.freezes = freezes.stream()
                .sorted(Comparator.comparing(Freeze::until).reversed().thenComparing(Freeze::number))
                .toList();
        this.rules = rules;
        this.contained = contained;
    }

    public static Timeline of(Update update, Decisions decisions, Fleet fleet, Catalogue catalogue) {
        List<ExceptionGrant> exceptions = decisions.exceptionsOn(update);
        List<Timeline> contained = new ArrayList<>();
        for (Update earlier : catalogue.containedIn(update.id())) {
            // An exception that covers both speaks for itself.
            List<ExceptionGrant> onlyEarlier = decisions.exceptionsOn(earlier).stream()
                    .filter(exception -> !exceptions.contains(exception))
                    .toList();
            List<Verdict> verdicts = decisions.verdictsOn(earlier.id());
            if (!verdicts.isEmpty() || !onlyEarlier.isEmpty()) {
                // A freeze is of all updates alike, and speaks for itself.
                contained.add(new Timeline(
                        earlier,
                        fleet,
                        verdicts,
                        List.of(),
                        onlyEarlier,
                        List.of(),
                        rules(earlier, decisions),
                        List.of()));
            }
        }
        return new Timeline(
                update,
                fleet,
                decisions.verdictsOn(update.id()),
                decisions.acknowledgementsOn(update.id()),
                exceptions,
                decisions.freezes(),
                rules(update, decisions),
                contained);
    }

    private static RuleOffers rules(Update update, Decisions decisions) {
        return new RuleOffers(update, decisions.cautions(), decisions.shownOf(update.id()));
    }

    /** The whole rule, in its order. */
    private List<Clause> clauses() {
        return List.of(
                this::carriedOrNotApplicable,
                this::cannotTake,
                this::overridingForce,
                this::exceptions,
                this::freezes,
                this::verdicts,
                this::containsWithheld,
                this::targetRelease,
                this::judgedOnly,
                this::standingRule);
    }

    /** @param state the host's last known state for the update */
    public Ruling ruling(Host host, CarriageState state, Instant at) {
        Question now = new Question(host, fleet.ladder().entryOf(host), state, at);
        List<RuleMatch> chain = chain(now);
        Effect effect = chain.get(0).effect();
        Optional<Instant> until = changes(now).stream()
                .filter(instant -> instant.isAfter(at))
                .sorted()
                // When it is due tells nothing of that.
                .filter(instant -> matches(new Question(host, now.entry(), state, instant))
                                .get(0)
                                .effect()
                        != effect)
                .findFirst();
        return new Ruling(chain.get(0), until, chain);
    }

    private List<RuleMatch> chain(Question question) {
        List<RuleMatch> chain = matches(question);
        Optional<Duration> deadline = offer(question).deadline();
        if (deadline.isEmpty() || !followsTheRule(chain.get(0), question)) {
            return chain;
        }
        List<RuleMatch> dated = new ArrayList<>(chain);
        Instant since = later(
                offeredSince(question),
                rules.offeredAt(question.entry(), offer(question), question.at())
                        .orElseThrow());
        Instant due = afterFreezes(since.plus(deadline.get()), question);
        dated.set(0, chain.get(0).due(question.entry().timing().atDueHour(due)));
        return dated;
    }

    /**
     * True where the deadline of the rule counts: the rule offers it, or a deferral whose end was an offer, once the
     * rule would offer it too. Else what was deferred, or let go, would be the only thing that is never due.
     */
    private boolean followsTheRule(RuleMatch holds, Question question) {
        return holds.effect() == Effect.OFFERED
                && (holds.clause() == RuleMatch.Clause.STANDING_RULE
                        || holds.clause() == RuleMatch.Clause.VERDICT
                                && ((Verdict) decision(holds)).type() == VerdictType.DEFER
                                && ruleOffers(question));
    }

    private List<RuleMatch> matches(Question question) {
        List<RuleMatch> matches =
                clauses().stream().flatMap(clause -> clause.matches(question)).toList();
        return matches.get(0).effect().isOffer()
                ? Stream.concat(firstDay(question), matches.stream()).toList()
                : matches;
    }

    /**
     * Since when the host is offered it without a withholding between: a deadline counts from there, so that an end
     * never releases something that is overdue already, nor does a rule that was changed. A freeze begins nothing anew:
     * what falls due in it waits.
     */
    private Instant offeredSince(Question question) {
        Instant since = fleet.ladder().ruleSince().getOrDefault(question.entry().id(), Instant.MIN);
        return begins(question)
                .filter(instant -> instant.isAfter(since) && !instant.isAfter(question.at()))
                .sorted(Comparator.reverseOrder())
                .distinct()
                .filter(instant -> {
                    Question before =
                            new Question(question.host(), question.entry(), question.state(), instant.minusMillis(1));
                    return instant.equals(update.firstRead())
                            || matches(before).stream()
                                    .filter(match -> match.clause() != RuleMatch.Clause.FREEZE)
                                    .findFirst()
                                    .filter(match -> match.effect() == Effect.WITHHELD)
                                    .isPresent();
                })
                .findFirst()
                .orElse(later(since, update.firstRead()));
    }

    /** What falls due while a host is frozen waits until it has been back for the time for a host that was away. */
    private Instant afterFreezes(Instant due, Question question) {
        Duration allowance = question.entry().timing().allowance();
        Instant at = due;
        for (Freeze freeze : freezes.stream()
                .filter(one -> one.covers(question.host(), question.entry()))
                .sorted(Comparator.comparing(Freeze::from))
                .toList()) {
            Instant ends = freeze.endFor(question.host().number());
            Instant back = freeze.revokedAt().filter(ends::isAfter).orElse(ends).plus(allowance);
            if (back.isAfter(freeze.from()) && !freeze.from().isAfter(at) && back.isAfter(at)) {
                at = back;
            }
        }
        return at;
    }

    /** The instants at which something may have begun or ended for the host, by itself or because somebody said so. */
    private Stream<Instant> begins(Question question) {
        Stream<Decision> decided = Stream.of(verdicts.stream(), exceptions.stream(), freezes.stream(), answers.stream())
                .flatMap(decisions -> decisions);
        return Stream.of(
                        changes(question).stream(),
                        decided.flatMap(decision ->
                                Stream.concat(Stream.of(decision.createdAt()), decision.revokedAt().stream())),
                        update.revisions().stream().map(RevisionNote::read),
                        Stream.of(update.firstRead()),
                        contained.stream().flatMap(earlier -> earlier.begins(question)))
                .flatMap(instants -> instants);
    }

    /**
     * Clause 1: a host that carries the update, or to which it does not apply, has nothing to do, unless it is to be
     * removed from there.
     */
    private Stream<RuleMatch> carriedOrNotApplicable(Question question) {
        if (question.state().lacks()) {
            return Stream.empty();
        }
        return Stream.concat(
                question.state() == CarriageState.NOT_APPLICABLE ? Stream.empty() : removal(question).stream(),
                Stream.of(new RuleMatch(
                        RuleMatch.Clause.CARRIED_OR_NOT_APPLICABLE,
                        Effect.NOTHING_TO_DO,
                        Optional.empty(),
                        Optional.empty(),
                        Optional.empty())));
    }

    /** A block that removes it, where that is what would hold if the host lacked it. */
    private Optional<RuleMatch> removal(Question question) {
        if (verdicts.stream().noneMatch(verdict -> verdict.delivery().removes())) {
            return Optional.empty();
        }
        // What it could not take again, it can lose all the same.
        RuleMatch holds =
                chain(new Question(question.host(), question.entry(), CarriageState.MISSING, question.at())).stream()
                        .filter(match -> match.clause() != RuleMatch.Clause.CANNOT_TAKE)
                        .findFirst()
                        .orElseThrow();
        return holds.clause() == RuleMatch.Clause.VERDICT
                        && ((Verdict) decision(holds)).delivery().removes()
                ? Optional.of(new RuleMatch(
                        RuleMatch.Clause.VERDICT, Effect.REMOVE, holds.source(), holds.end(), Optional.empty()))
                : Optional.empty();
    }

    /** The hosts among these, which carry the update, from which it is to be removed. */
    public RoaringBitmap removed(RoaringBitmap carrying, Instant at) {
        RoaringBitmap removed = new RoaringBitmap();
        for (RulingGroup group : groups(carrying, at)) {
            if (group.match().clause() == RuleMatch.Clause.VERDICT
                    && ((Verdict) decision(group.match())).delivery().removes()) {
                removed.or(group.hosts());
            }
        }
        return removed;
    }

    /** What a host is known not to be able to take is not offered to it, whatever is decided. */
    private Stream<RuleMatch> cannotTake(Question question) {
        return Requirements.notMetBy(question.host(), update).stream()
                .limit(1)
                .map(lacked -> new RuleMatch(
                        RuleMatch.Clause.CANNOT_TAKE,
                        Effect.WITHHELD,
                        Optional.empty(),
                        Optional.empty(),
                        Optional.empty()));
    }

    /** Whoever offers an upgrade to a host that has just come offers it after its first day. */
    private Stream<RuleMatch> firstDay(Question question) {
        return FirstDay.of(question.host(), update, question.at())
                .map(end -> new RuleMatch(
                        RuleMatch.Clause.FIRST_DAY,
                        Effect.WITHHELD,
                        Optional.empty(),
                        Optional.of(end),
                        Optional.empty()))
                .stream();
    }

    /**
     * Clause 2: a force that names as overridden every exception, freeze and withholding that applies here; one of them
     * at least, else it is a verdict like others. What a later decision withholds it cannot have named.
     */
    private Stream<RuleMatch> overridingForce(Question question) {
        return standing(question)
                .filter(v ->
                        v.type() == VerdictType.FORCE && effect(v, question).isOffer())
                .filter(v -> namesAll(v, question)
                        && (standingExceptions(question).findAny().isPresent()
                                || standingFreezes(question).findAny().isPresent()
                                || standingBlocks(question).findAny().isPresent()))
                .map(v -> match(RuleMatch.Clause.OVERRIDING_FORCE, v, question));
    }

    private boolean namesAll(Verdict force, Question question) {
        return standingExceptions(question).allMatch(e -> e.isNamedIn(force.overriddenExceptions()))
                && standingFreezes(question)
                        .allMatch(freeze -> force.goesOver().freezes().contains(freeze.number()))
                && standingBlocks(question).allMatch(block -> force.overrides().contains(block.number()))
                && standing(question)
                        .noneMatch(v -> v.number().compareTo(force.number()) > 0
                                && v.type() != VerdictType.FORCE
                                && effect(v, question) == Effect.WITHHELD
                                && !force.overrides().contains(v.number()))
                && unanswered(question).findAny().isEmpty();
    }

    /** Clause 3: the exception with the narrowest scope; among equals the later. */
    private Stream<RuleMatch> exceptions(Question question) {
        return standingExceptions(question)
                .map(e -> new RuleMatch(
                        RuleMatch.Clause.EXCEPTION,
                        e.effect(),
                        Optional.of(e.number()),
                        Optional.of(e.end()),
                        Optional.empty()));
    }

    /** Clause 4: a freeze; of several the one that ends last. */
    private Stream<RuleMatch> freezes(Question question) {
        return standingFreezes(question)
                .map(freeze -> new RuleMatch(
                        RuleMatch.Clause.FREEZE,
                        Effect.WITHHELD,
                        Optional.of(freeze.number()),
                        Optional.of(freeze.endFor(question.host().number())),
                        Optional.empty()));
    }

    private Stream<Freeze> standingFreezes(Question question) {
        return freezes.stream()
                .filter(freeze -> freeze.standsFor(question.host().number(), question.at())
                        && freeze.covers(question.host(), question.entry()));
    }

    /**
     * Clause 5: the later verdict; but nothing that offers goes over a block which it does not name, nor over what is
     * withheld from an update that this one contains.
     */
    private Stream<RuleMatch> verdicts(Question question) {
        List<Verdict> standing = standing(question).toList();
        boolean containsWithheld = unanswered(question).findAny().isPresent();
        List<DecisionNumber.OfVerdict> blocks =
                standingBlocks(question).map(Verdict::number).toList();
        Predicate<Verdict> heldBack = v -> effect(v, question).isOffer()
                && (containsWithheld || !v.overrides().containsAll(blocks));
        // An offer that is held back stays in the chain, behind everything that counts.
        return Stream.concat(
                        standing.stream().filter(heldBack.negate()),
                        containsWithheld ? Stream.empty() : standing.stream().filter(heldBack))
                .map(v -> match(RuleMatch.Clause.VERDICT, v, question));
    }

    /**
     * Clause 6: what contains an update that is withheld from a host is withheld from it too, until somebody answers
     * for it, at most until the earlier is no longer withheld. The one that is withheld longest comes first.
     */
    private Stream<RuleMatch> containsWithheld(Question question) {
        List<RuleMatch> withheld = unanswered(question)
                .map(match -> new RuleMatch(
                        match.clause() == RuleMatch.Clause.EXCEPTION
                                ? RuleMatch.Clause.CONTAINS_EXCEPTED
                                : RuleMatch.Clause.SUPERSEDES_BLOCKED,
                        Effect.WITHHELD,
                        match.source(),
                        match.end(),
                        Optional.empty()))
                .sorted(Comparator.comparing((RuleMatch match) -> match.end().orElse(Instant.MAX))
                        .reversed()
                        .thenComparing(match ->
                                match.source().map(DecisionNumber::value).orElse(0L)))
                .toList();
        Stream<RuleMatch> heldBack = withheld.isEmpty()
                ? Stream.empty()
                : standing(question)
                        .filter(v -> effect(v, question).isOffer())
                        .map(v -> match(RuleMatch.Clause.VERDICT, v, question));
        return Stream.concat(withheld.stream(), heldBack);
    }

    /**
     * What withholds the updates that this one contains from the host, and was not answered for this one since both
     * were known.
     */
    private Stream<RuleMatch> unanswered(Question question) {
        return contained.stream()
                .flatMap(earlier -> earlier.withholding(question).stream().filter(match -> answering(
                                later(update.firstRead(), earlier.knownSince(earlier.decision(match))), question.at())
                        .noneMatch(decision -> decision.covers(question.host(), question.entry())
                                && goesOver(decision, earlier.decision(match), question))));
    }

    /** When it was decided; what goes on from an earlier exception, when that was first made. */
    private Instant knownSince(Decision decision) {
        return decision instanceof ExceptionGrant exception
                        && !exception.before().isEmpty()
                ? exceptions.stream()
                        .filter(other -> other.number().equals(exception.first()))
                        .findFirst()
                        .map(ExceptionGrant::createdAt)
                        .orElse(exception.createdAt())
                : decision.createdAt();
    }

    /** Nothing is let go over what withholds an earlier update unless it names that. */
    private static boolean goesOver(Decision decision, Decision withholding, Question question) {
        boolean offers = decision instanceof Verdict verdict
                && (verdict.isLetGo()
                        || verdict.type() != VerdictType.DEFER
                                && verdict.effectFor(question.host(), question.at())
                                        .isOffer());
        return !offers
                || (withholding instanceof ExceptionGrant exception
                        ? exception.isNamedIn(((Verdict) decision).overriddenExceptions())
                        : ((Verdict) decision).overrides().contains(withholding.number()));
    }

    /** What a verdict or an exception says, if that withholds the update from the host. */
    private Optional<RuleMatch> withholding(Question question) {
        return Stream.<Clause>of(this::overridingForce, this::exceptions, this::verdicts)
                .flatMap(clause -> clause.matches(question))
                .findFirst()
                .filter(match -> match.effect() == Effect.WITHHELD);
    }

    private Decision decision(RuleMatch match) {
        DecisionNumber number = match.source().orElseThrow();
        Stream<? extends Decision> of =
                match.clause() == RuleMatch.Clause.EXCEPTION ? exceptions.stream() : verdicts.stream();
        return of.filter(decision -> decision.number().equals(number))
                .findFirst()
                .orElseThrow();
    }

    /** Clause 7: nothing above the release at which the population stays; until somebody promotes it. */
    private Stream<RuleMatch> targetRelease(Question question) {
        return question
                .entry()
                .heldBelow(update)
                .map(target -> new RuleMatch(
                        RuleMatch.Clause.TARGET_RELEASE,
                        Effect.WITHHELD,
                        Optional.empty(),
                        Optional.empty(),
                        Optional.empty()))
                .stream();
    }

    /** Clause 8: while the fleet is to get judged updates only, no standing rule offers anything. */
    private Stream<RuleMatch> judgedOnly(Question question) {
        return rules
                .cautionAt(question.at())
                .filter(caution -> caution.level() == Caution.Level.JUDGED_ONLY)
                .map(caution -> new RuleMatch(
                        RuleMatch.Clause.CAUTION,
                        Effect.WITHHELD,
                        Optional.of(caution.number()),
                        Optional.of(caution.until()),
                        Optional.empty()))
                .stream();
    }

    /** Clause 9: the standing rule of the population, or the fleet's; while the fleet is watchful its delay doubles. */
    private Stream<RuleMatch> standingRule(Question question) {
        StandingRule.Offer offer = offer(question);
        boolean open = rules.hasPassed(offer, question.at());
        return Stream.of(new RuleMatch(
                RuleMatch.Clause.STANDING_RULE,
                open ? Effect.OFFERED : Effect.WITHHELD,
                Optional.empty(),
                open ? Optional.empty() : rules.passesAt(offer, question.at()),
                Optional.empty()));
    }

    private StandingRule.Offer offer(Question question) {
        return question.entry().rule().offerOf(update, question.host());
    }

    private boolean ruleOffers(Question question) {
        return rules.offers(question.entry(), offer(question), question.at());
    }

    /**
     * When the rules first offer an update that nobody has judged to some hosts of an entry, as it looks at an instant:
     * when they did, if they offer it then; else when they next will; never, if empty.
     */
    public Optional<Instant> offeredByRule(Population entry, Instant at) {
        return entry.rule().offersOf(update.kind(), update.rating()).stream()
                .flatMap(offer -> rules.offeredAt(entry, offer, at).stream())
                .min(Comparator.naturalOrder());
    }

    /** Hosts of one entry to which the rules offer it at the same instant. @param at none: never */
    public record OfRule(Population entry, Optional<Instant> at, RoaringBitmap hosts) {}

    /** As {@link #offeredByRule(Population, Instant)}, host by host, without those that cannot take it. */
    public List<OfRule> offeredByRule(RoaringBitmap among, Instant at) {
        return parts(
                        RoaringBitmap.andNot(among, Requirements.cannotTake(update, among, fleet)),
                        entry -> new Dividers(new LinkedHashSet<>(entry.rule().conditionsFor(update)), List.of()))
                .stream()
                .map(part -> new OfRule(
                        part.entry(),
                        rules.offeredAt(
                                part.entry(),
                                part.entry()
                                        .rule()
                                        .offerOf(update, fleet.host(part.hosts().first())),
                                at),
                        part.hosts()))
                .toList();
    }

    /** The instants at which what the rule of an entry says may change. */
    private Stream<Instant> ruleChanges(Population entry) {
        return entry.rule().offersOf(update.kind(), update.rating()).stream().flatMap(rules::changes);
    }

    /** Every instant at which something may begin or end for the host. */
    private List<Instant> changes(Question question) {
        List<Instant> changes = new ArrayList<>();
        verdicts.stream()
                .filter(v -> v.covers(question.host(), question.entry()))
                .forEach(v -> v.ends().forEach(changes::add));
        exceptions.forEach(e -> changes.add(e.end()));
        freezes.forEach(freeze -> changes.addAll(
                List.of(freeze.from(), freeze.endFor(question.host().number()))));
        contained.forEach(earlier -> changes.addAll(earlier.changes(question)));
        FirstDay.of(question.host(), update, Instant.MIN).ifPresent(changes::add);
        ruleChanges(question.entry()).forEach(changes::add);
        return changes;
    }

    /**
     * Every instant at which the ruling of one of these hosts, or whether it is answered for, may become another
     * although nobody decides anything.
     */
    public Stream<Instant> changes(RoaringBitmap among) {
        return Stream.concat(changes(), FirstDay.ends(update, among, fleet));
    }

    private Stream<Instant> changes() {
        return Stream.of(
                        verdicts.stream().flatMap(Verdict::ends),
                        exceptions.stream().map(ExceptionGrant::end),
                        freezes.stream().flatMap(Timeline::changes),
                        answers.stream().flatMap(answer -> answer.lookAgain().stream()),
                        contained.stream().flatMap(Timeline::changes),
                        entries.stream().flatMap(this::ruleChanges))
                .flatMap(instants -> instants);
    }

    private static Stream<Instant> changes(Freeze freeze) {
        return Stream.concat(
                Stream.of(freeze.from(), freeze.until()),
                freeze.spread().stream()
                        .flatMap(spread -> spread.parts().stream().map(Spread.Part::at)));
    }

    /**
     * What a verdict answers while it stands. A force and a pilot were meant for the fixes of their day: after a
     * revision with other fixes they withhold until somebody judges anew, at most until the standing rule would offer
     * the revision. Block and deferral hold to their end.
     */
    private Effect effect(Verdict verdict, Question question) {
        return isOfOtherFixes(verdict, question.at())
                ? Effect.WITHHELD
                : verdict.effectFor(question.host(), question.at());
    }

    private boolean isOfOtherFixes(Verdict verdict, Instant at) {
        return (verdict.type() == VerdictType.FORCE || verdict.type() == VerdictType.PILOT)
                && hasOtherFixesThan(verdict, at);
    }

    private boolean hasOtherFixesThan(Verdict verdict, Instant at) {
        return update.newFixesAfter(verdict.createdAt())
                .filter(revision -> !revision.read().isAfter(at))
                .isPresent();
    }

    /**
     * The verdicts that stand for the host, the latest first. An offer was of the fixes of its day; other fixes begin
     * with the rule. What its vendor has withdrawn, or what has no fixed version, no verdict offers.
     */
    private Stream<Verdict> standing(Question question) {
        Instant at = question.at();
        return verdicts.stream()
                .filter(v -> v.standsAt(at) && v.covers(question.host(), question.entry()))
                .filter(v -> update.canBeOffered()
                        || !v.effectFor(question.host(), at).isOffer())
                .filter(v -> v.type() != VerdictType.DEFER
                        || v.withholdsAt(question.host(), at)
                        || !hasOtherFixesThan(v, at))
                .filter(v -> !isOfOtherFixes(v, at) || !ruleOffers(question));
    }

    private Stream<Verdict> standingBlocks(Question question) {
        return standing(question).filter(v -> v.type() == VerdictType.BLOCK);
    }

    private Stream<ExceptionGrant> standingExceptions(Question question) {
        return exceptions.stream()
                .filter(e -> update.canBeOffered() || !e.effect().isOffer())
                .filter(e -> e.standsAt(question.at()) && e.covers(question.host(), question.entry()));
    }

    private RuleMatch match(RuleMatch.Clause clause, Verdict verdict, Question question) {
        if (isOfOtherFixes(verdict, question.at())) {
            return new RuleMatch(
                    clause,
                    Effect.WITHHELD,
                    Optional.of(verdict.number()),
                    rules.offeredAt(question.entry(), offer(question), question.at()),
                    Optional.empty());
        }
        Effect effect = verdict.effectFor(question.host(), question.at());
        int host = question.host().number();
        boolean forced = verdict.type() == VerdictType.FORCE;
        boolean pilot = verdict.type() == VerdictType.PILOT;
        return new RuleMatch(
                clause,
                effect,
                Optional.of(verdict.number()),
                pilot && verdict.withholdsAt(question.at())
                        ? Optional.of(verdict.end())
                        : effect == Effect.WITHHELD
                                ? Optional.of(forced ? verdict.beginsFor(host) : verdict.endFor(host))
                                : Optional.empty(),
                forced ? Optional.of(verdict.endFor(host)) : Optional.empty());
    }

    // ---- who is answered for

    private Stream<Decision> answering(Instant since, Instant at) {
        Instant from = later(since, update.firstRead());
        return Stream.concat(verdicts.stream(), answers.stream())
                .map(decision -> (Decision) decision)
                .filter(decision ->
                        decision.isMadeBy(at) && !decision.createdAt().isBefore(from));
    }

    /**
     * When somebody last gave a verdict or an answer on it, by {@code at}, that was not taken back; none from before
     * the update was read counts.
     */
    public Optional<Instant> lastAnswer(Instant at) {
        return answering(Instant.MIN, at).map(Decision::createdAt).max(Comparator.naturalOrder());
    }

    /**
     * The last instant, by {@code at}, at which a verdict, an exception or the time until somebody looks again ended.
     */
    public Optional<Instant> lastEnd(Instant at) {
        return Stream.of(
                        verdicts.stream().flatMap(Verdict::ends),
                        exceptions.stream().map(ExceptionGrant::end),
                        answers.stream().flatMap(answer -> answer.lookAgain().stream()))
                .flatMap(ends -> ends)
                .filter(end -> !end.isAfter(at))
                .max(Comparator.naturalOrder());
    }

    /**
     * The hosts among these that a verdict or an answer covers which was given from {@code since} on, by {@code at}.
     */
    public RoaringBitmap answered(RoaringBitmap among, Instant since, Instant at) {
        return covered(among, answering(since, at).toList());
    }

    /** The hosts among these that are left to the rule until a day that is still to come. */
    public RoaringBitmap lookedAtAgain(RoaringBitmap among, Instant at) {
        return covered(
                among,
                answers.stream()
                        .filter(a -> a.isMadeBy(at)
                                && a.lookAgain().filter(day -> day.isAfter(at)).isPresent())
                        .map(a -> (Decision) a)
                        .toList());
    }

    /**
     * The hosts among these that carry the update, and of which that was so when a verdict or an answer covered them
     * that was given from {@code since} on, by {@code at}: whoever gave it could know. Of one that does not keep who
     * lacked it then, all hosts are taken to have carried it.
     */
    public RoaringBitmap carriedWhenAnswered(RoaringBitmap among, Instant since, Instant at) {
        RoaringBitmap carried = new RoaringBitmap();
        answering(since, at).forEach(decision -> {
            RoaringBitmap covered = covered(among, List.of(decision));
            covered.andNot(lackedThen(decision));
            carried.or(covered);
        });
        return carried;
    }

    private static RoaringBitmap lackedThen(Decision decision) {
        return decision instanceof Verdict verdict
                ? verdict.then().decided()
                : ((Acknowledgement) decision).lackedThen().orElseGet(RoaringBitmap::new);
    }

    private RoaringBitmap covered(RoaringBitmap among, List<Decision> decisions) {
        RoaringBitmap covered = new RoaringBitmap();
        if (!decisions.isEmpty()) {
            for (Part part : parts(among, entry -> new Dividers(conditions(decisions, entry), List.of()))) {
                Host any = fleet.host(part.hosts().first());
                if (decisions.stream().anyMatch(decision -> decision.covers(any, part.entry()))) {
                    covered.or(part.hosts());
                }
            }
        }
        return covered;
    }

    /** The hosts among these from which it is withheld only because it contains something that is. */
    public RoaringBitmap asksToCarryOver(RoaringBitmap among, Instant at) {
        RoaringBitmap hosts = new RoaringBitmap();
        if (!contained.isEmpty()) {
            for (Part part : parts(among, entry -> dividers(entry, at))) {
                Question question =
                        new Question(fleet.host(part.hosts().first()), part.entry(), CarriageState.MISSING, at);
                if (unanswered(question).findAny().isPresent()) {
                    hosts.or(part.hosts());
                }
            }
        }
        return hosts;
    }

    /** The updates that this one contains and that are withheld from some of these hosts. */
    public List<Withheld> containedAndWithheld(RoaringBitmap among, Instant at) {
        Map<UpdateId, Withheld> byUpdate = new LinkedHashMap<>();
        for (Part part : contained.isEmpty() ? List.<Part>of() : parts(among, entry -> dividers(entry, at))) {
            Question question = new Question(fleet.host(part.hosts().first()), part.entry(), CarriageState.MISSING, at);
            List<RuleMatch> open = unanswered(question).toList();
            for (Timeline earlier : contained) {
                earlier.withholding(question).ifPresent(match -> {
                    Instant known =
                            later(update.firstRead(), earlier.decision(match).createdAt());
                    byUpdate.merge(
                            earlier.update.id(),
                            new Withheld(
                                    earlier.update.id(),
                                    part.hosts(),
                                    open.contains(match) ? part.hosts() : new RoaringBitmap(),
                                    known),
                            (a, b) -> new Withheld(
                                    a.updateId(),
                                    RoaringBitmap.or(a.hosts(), b.hosts()),
                                    RoaringBitmap.or(a.open(), b.open()),
                                    later(a.known(), b.known())));
                });
            }
        }
        return List.copyOf(byUpdate.values());
    }

    /**
     * @param open of its hosts, those for which nobody has decided on the containing update since
     * @param known since when both the update and that the earlier one is withheld were known, latest of all hosts
     */
    public record Withheld(UpdateId updateId, RoaringBitmap hosts, RoaringBitmap open, Instant known) {}

    // ---- many hosts at once

    /** Hosts of one entry of the ladder that no decision tells apart. */
    private record Part(Population entry, RoaringBitmap hosts) {}

    /**
     * By what the hosts of an entry are told apart.
     *
     * @param sets hosts that are told apart by name: those that pilots offer the update to, and parts of an end that is
     *     spread
     */
    private record Dividers(Set<HostCondition> conditions, List<RoaringBitmap> sets) {
        private Dividers and(Collection<RoaringBitmap> more) {
            List<RoaringBitmap> all = new ArrayList<>(sets);
            all.addAll(more);
            return new Dividers(conditions, all);
        }
    }

    private Dividers dividers(Population entry, Instant at) {
        Dividers dividers = new Dividers(
                conditions(
                        Stream.<Decision>concat(verdicts.stream(), exceptions.stream())
                                .toList(),
                        entry),
                new ArrayList<>());
        dividers.conditions().addAll(entry.rule().conditionsFor(update));
        verdicts.stream()
                .filter(verdict -> verdict.populationId().equals(entry.id()))
                .flatMap(verdict -> verdict.pilot().stream())
                .forEach(pilot -> dividers.sets().add(pilot.sampleAt(at)));
        verdicts.stream()
                .filter(verdict -> verdict.populationId().equals(entry.id()))
                .flatMap(verdict -> verdict.delivery().spread().stream())
                .flatMap(spread -> spread.parts().stream())
                .forEach(part -> dividers.sets().add(part.hosts()));
        freezes.stream()
                .filter(freeze -> freeze.standsAt(at) && freeze.covers(entry.id()))
                .flatMap(freeze -> freeze.spread().stream())
                .flatMap(spread -> spread.parts().stream())
                .forEach(part -> dividers.sets().add(part.hosts()));
        for (Timeline earlier : contained) {
            Dividers more = earlier.dividers(entry, at);
            dividers.conditions().addAll(more.conditions());
            dividers.sets().addAll(more.sets());
        }
        return dividers;
    }

    private static Set<HostCondition> conditions(List<Decision> decisions, Population entry) {
        Set<HostCondition> conditions = new LinkedHashSet<>();
        for (Decision decision : decisions) {
            if (decision instanceof Verdict verdict) {
                verdict.narrowing()
                        .filter(where -> verdict.populationId().equals(entry.id()))
                        .ifPresent(conditions::add);
            } else if (decision instanceof ExceptionGrant exception) {
                conditions.add(exception.hosts());
            }
        }
        return conditions;
    }

    private List<Part> parts(RoaringBitmap among, Function<Population, Dividers> dividers) {
        List<Part> all = new ArrayList<>();
        fleet.byEntry(among).forEach((id, hosts) -> {
            Population entry = fleet.ladder().entry(id).orElseThrow();
            divided(hosts, dividers.apply(entry)).forEach(part -> all.add(new Part(entry, part)));
        });
        return all;
    }

    private List<RoaringBitmap> divided(RoaringBitmap hosts, Dividers dividers) {
        Deque<RoaringBitmap> parts = new ArrayDeque<>(List.of(hosts));
        List<RoaringBitmap> inside = Stream.of(
                        dividers.conditions().stream().map(condition -> fleet.matching(condition, hosts)),
                        dividers.sets().stream().map(set -> RoaringBitmap.and(set, hosts)),
                        Stream.of(Requirements.cannotTake(update, hosts, fleet)))
                .flatMap(sets -> sets)
                .toList();
        for (RoaringBitmap matching : inside) {
            if (matching.isEmpty() || matching.getCardinality() == hosts.getCardinality()) {
                continue;
            }
            for (int left = parts.size(); left > 0; left--) {
                RoaringBitmap part = parts.remove();
                Stream.of(RoaringBitmap.and(part, matching), RoaringBitmap.andNot(part, matching))
                        .filter(half -> !half.isEmpty())
                        .forEach(parts::add);
            }
        }
        return List.copyOf(parts);
    }

    /**
     * What holds for hosts that lack the update.
     *
     * @param lacking hosts that lack it, of any populations
     * @return for each entry of the ladder in its order, the largest first
     */
    public List<RulingGroup> groups(RoaringBitmap lacking, Instant at) {
        List<RulingGroup> all = new ArrayList<>();
        Map<Population, List<Part>> byEntry = new LinkedHashMap<>();
        Collection<RoaringBitmap> young = FirstDay.byEnd(update, lacking, at, fleet);
        parts(lacking, entry -> dividers(entry, at).and(young))
                .forEach(part -> byEntry.computeIfAbsent(part.entry(), entry -> new ArrayList<>())
                        .add(part));
        byEntry.values().forEach(parts -> all.addAll(gathered(parts, at)));
        return List.copyOf(all);
    }

    /** As {@link #groups(RoaringBitmap, Instant)}, for hosts of one entry of the ladder. */
    public List<RulingGroup> groups(Population entry, RoaringBitmap lacking, Instant at) {
        return lacking.isEmpty()
                ? List.of()
                : gathered(
                        divided(lacking, dividers(entry, at).and(FirstDay.byEnd(update, lacking, at, fleet))).stream()
                                .map(hosts -> new Part(entry, hosts))
                                .toList(),
                        at);
    }

    private List<RulingGroup> gathered(List<Part> parts, Instant at) {
        Map<RuleMatch, RoaringBitmap> gathered = new LinkedHashMap<>();
        for (Part part : parts) {
            Question question = new Question(fleet.host(part.hosts().first()), part.entry(), CarriageState.MISSING, at);
            gathered.computeIfAbsent(chain(question).get(0), match -> new RoaringBitmap())
                    .or(part.hosts());
        }
        return sorted(gathered);
    }

    private static List<RulingGroup> sorted(Map<RuleMatch, RoaringBitmap> gathered) {
        return gathered.entrySet().stream()
                .map(of -> new RulingGroup(of.getKey(), of.getValue()))
                .sorted((a, b) ->
                        Integer.compare(b.hosts().getCardinality(), a.hosts().getCardinality()))
                .toList();
    }

    private static Instant later(Instant a, Instant b) {
        return a.isAfter(b) ? a : b;
    }
}
