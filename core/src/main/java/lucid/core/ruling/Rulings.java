package lucid.core.ruling;

import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import java.util.stream.Stream;
import lucid.core.carriage.CarriageState;
import lucid.core.fleet.Host;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Population;
import lucid.core.fleet.StandingRule;
import lucid.core.update.Catalogue;
import lucid.core.update.Update;

/**
 * What holds for a host and an update: one list of clauses, each of which either matches and answers or passes. The first that
 * matches holds; the others that match are the chain that explains what would hold without it.
 *
 * @param decisions all verdicts and exceptions
 * @param ladder the populations with their standing rules
 * @param catalogue which update supersedes which
 */
public record Rulings(Decisions decisions, Ladder ladder, Catalogue catalogue) {

    /** The question put to each clause. {@code state} is the host's last known state. */
    private record Question(Host host, Update update, CarriageState state, Instant at, Optional<Population> population, List<Verdict> verdicts) {}

    private interface ClauseOfList {
        Stream<Finding> findings(Question question);
    }

    /** The whole rule, in its order. */
    private List<ClauseOfList> clauses() {
        return List.of(this::carriedOrNotApplicable, this::overridingForce, this::exceptions, this::verdicts, this::supersedesBlocked, this::standingRule);
    }

    /**
     * @param state the host's last known state for the update
     */
    public Ruling ruling(Host host, Update update, CarriageState state, Instant at) {
        Optional<Population> population = ladder.owner(host);
        List<Verdict> verdicts = population.map(p -> decisions.verdictsOn(update.id()).stream()
                        .filter(v -> v.populationId().equals(p.id()) && v.names(host))
                        .toList())
                .orElse(List.of());
        Question now = new Question(host, update, state, at, population, verdicts);
        List<Finding> chain = chain(now);
        Answer answer = chain.get(0).answer();
        Optional<Instant> until = boundaries(now)
                .filter(instant -> instant.isAfter(at))
                .sorted()
                .filter(instant -> chain(new Question(host, update, state, instant, population, verdicts)).get(0).answer() != answer)
                .findFirst();
        return new Ruling(chain.get(0), until, chain);
    }

    private List<Finding> chain(Question question) {
        return clauses().stream().flatMap(clause -> clause.findings(question)).toList();
    }

    /** Clause 1: a host that carries the update, or to which it does not apply, has nothing to do. */
    private Stream<Finding> carriedOrNotApplicable(Question question) {
        return question.state().lacks()
                ? Stream.empty()
                : Stream.of(new Finding(Finding.Clause.CARRIED_OR_NOT_APPLICABLE, Answer.NOTHING_TO_DO,
                        Optional.empty(), Optional.empty(), Optional.empty()));
    }

    /** Clause 2: a force that names as overridden an exception or block which applies here. */
    private Stream<Finding> overridingForce(Question question) {
        return latestFirst(question)
                .filter(v -> v.type() == VerdictType.FORCE && answer(v, question) == Answer.OFFERED)
                .filter(v -> standingExceptions(question).anyMatch(e -> v.overriddenExceptions().contains(e.number()))
                        || standingBlocks(question).anyMatch(b -> v.overrides().contains(b.number())))
                .map(v -> finding(Finding.Clause.OVERRIDING_FORCE, v, question));
    }

    /** Clause 3: the exception with the narrowest scope; among equals the later. */
    private Stream<Finding> exceptions(Question question) {
        return standingExceptions(question)
                .sorted(Comparator.comparingInt((ExceptionGrant e) -> e.scope().width())
                        .thenComparing(Comparator.comparingLong(ExceptionGrant::number).reversed()))
                .map(e -> new Finding(Finding.Clause.EXCEPTION, e.effect(), Optional.of(e.number()), Optional.of(e.until()), Optional.empty()));
    }

    /** Clause 5: the later verdict; but nothing that offers goes over a matching block which it does not name. */
    private Stream<Finding> verdicts(Question question) {
        Predicate<Verdict> heldBack = v -> answer(v, question) == Answer.OFFERED
                && standingBlocks(question).anyMatch(block -> !v.overrides().contains(block.number()));
        // An offer that a block holds back stays in the chain, behind everything that counts.
        return Stream.concat(
                        latestFirst(question).filter(heldBack.negate()),
                        latestFirst(question).filter(heldBack))
                .map(v -> finding(Finding.Clause.VERDICT, v, question));
    }

    /**
     * What a verdict answers while it stands. A force was meant for the fixes of its day: after a revision with other fixes it withholds until
     * somebody judges anew, at most until the standing rule would offer the revision. Block and deferral hold to their end.
     */
    private static Answer answer(Verdict verdict, Question question) {
        return isForceOfOtherFixes(verdict, question) ? Answer.WITHHELD : verdict.answerAt(question.at());
    }

    private static boolean isForceOfOtherFixes(Verdict verdict, Question question) {
        return verdict.type() == VerdictType.FORCE
                && question.update().newFixesAfter(verdict.handedDown()).filter(revision -> !revision.read().isAfter(question.at())).isPresent();
    }

    /**
     * Clause 6: what supersedes an update under a block is withheld from whom that block covers until somebody answers for it, at most until the block's end.
     * The block that ends last comes first.
     */
    private Stream<Finding> supersedesBlocked(Question question) {
        return question.population().stream().flatMap(population -> blockedPredecessors(question.update(), question.at()).stream()
                .filter(block -> block.populationId().equals(population.id()) && block.names(question.host()))
                .sorted(Comparator.comparing(Verdict::end).reversed().thenComparing(Verdict::number))
                .map(block -> new Finding(Finding.Clause.SUPERSEDES_BLOCKED, Answer.WITHHELD, Optional.of(block.number()), Optional.of(block.end()), Optional.empty())));
    }

    /** Standing blocks on updates that this one supersedes, for which nobody has answered since both were known. */
    public List<Verdict> blockedPredecessors(Update update, Instant at) {
        return catalogue.predecessorsOf(update.id()).stream().flatMap(earlier -> decisions.verdictsOn(earlier.id()).stream())
                .filter(block -> block.type() == VerdictType.BLOCK && block.standsAt(at) && !isAnswered(update, block, at))
                .toList();
    }

    private boolean isAnswered(Update update, Verdict block, Instant at) {
        Instant known = block.handedDown().isAfter(update.firstRead()) ? block.handedDown() : update.firstRead();
        return decisions.lastAnswer(update, at).filter(given -> !given.isBefore(known)).isPresent();
    }

    /** Clause 8: the standing rule of the population, or the fleet's. */
    private Stream<Finding> standingRule(Question question) {
        Optional<Instant> offered = offeredByRule(question);
        boolean open = offered.filter(instant -> !instant.isAfter(question.at())).isPresent();
        return Stream.of(new Finding(Finding.Clause.STANDING_RULE, open ? Answer.OFFERED : Answer.WITHHELD,
                Optional.empty(), open ? Optional.empty() : offered, Optional.empty()));
    }

    /**
     * When the standing rule offers an update that nobody has judged; never, if empty. What its vendor has
     * withdrawn, or what has no fixed version, is never offered by a rule. The delay counts from publication, but from
     * the first reading of a document that was already older than the delay when it was read.
     */
    public Optional<Instant> offeredByRule(Update update, Optional<Population> population) {
        if (update.isWithdrawn() || !update.canBeInstalled()) {
            return Optional.empty();
        }
        StandingRule rule = population.map(Population::rule).orElse(ladder.fleetRule());
        return rule.offerOf(update).delay().map(delay -> startOfDelay(update, delay).plus(delay));
    }

    private static Instant startOfDelay(Update update, Duration delay) {
        boolean readLate = Duration.between(update.published(), update.firstRead()).compareTo(delay) > 0;
        return readLate ? update.firstRead() : update.published();
    }

    private Stream<Instant> boundaries(Question question) {
        return Stream.of(
                        question.verdicts().stream().map(Verdict::end),
                        decisions.exceptions().stream().map(ExceptionGrant::until),
                        blockedPredecessors(question.update(), question.at()).stream().map(Verdict::end),
                        offeredByRule(question).stream())
                .flatMap(instants -> instants);
    }

    private Stream<Verdict> latestFirst(Question question) {
        return question.verdicts().stream()
                .filter(v -> v.standsAt(question.at()))
                .filter(v -> !isForceOfOtherFixes(v, question) || offeredByRule(question).filter(offer -> !offer.isAfter(question.at())).isEmpty())
                .sorted(Comparator.comparingLong(Verdict::number).reversed());
    }

    private Optional<Instant> offeredByRule(Question question) {
        return offeredByRule(question.update(), question.population());
    }

    private Stream<Verdict> standingBlocks(Question question) {
        return latestFirst(question).filter(v -> v.type() == VerdictType.BLOCK);
    }

    private Stream<ExceptionGrant> standingExceptions(Question question) {
        return decisions.exceptions().stream()
                .filter(e -> e.standsAt(question.at()) && e.scope().covers(question.update()) && e.hosts().test(question.host()));
    }

    private Finding finding(Finding.Clause clause, Verdict verdict, Question question) {
        if (isForceOfOtherFixes(verdict, question)) {
            return new Finding(clause, Answer.WITHHELD, Optional.of(verdict.number()), offeredByRule(question), Optional.empty());
        }
        Answer answer = verdict.answerAt(question.at());
        boolean endsByItself = verdict.type() != VerdictType.DEFER || answer != Answer.OFFERED;
        return new Finding(clause, answer, Optional.of(verdict.number()),
                endsByItself ? Optional.of(verdict.end()) : Optional.empty(),
                verdict.type() == VerdictType.FORCE ? Optional.of(verdict.end()) : Optional.empty());
    }
}
