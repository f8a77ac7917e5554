package lucid.core.ruling;

import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Stream;
import lucid.core.pilot.PilotNumber;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;

/**
 * Everything that people have decided, also what has ended or was taken back. Never changes: {@link #with} makes the
 * next. What was decided on one update is found without a look at the others.
 */
public final class Decisions {

    public static final Decisions NONE = new Decisions(
            new TreeMap<>(), new TreeMap<>(), new TreeMap<>(), new TreeMap<>(), new TreeMap<>(), Map.of());

    private final TreeMap<Long, Verdict> verdicts;
    private final TreeMap<Long, ExceptionGrant> exceptions;
    private final TreeMap<Long, Acknowledgement> acknowledgements;
    private final TreeMap<Long, Freeze> freezes;
    private final TreeMap<Long, Caution> cautions;
    /** Nobody decided it, but rules that somebody made wait for it. */
    private final Map<UpdateId, List<TriesShown>> shown;
    /** Made when first asked for; to make it twice does no harm. */
    private volatile Map<UpdateId, List<Verdict>> verdictsByUpdate;

    private volatile Map<UpdateId, List<Acknowledgement>> acknowledgementsByUpdate;
    private volatile ExceptionsByScope exceptionsByScope;

    /** @param wider on more than one update */
    private record ExceptionsByScope(Map<UpdateId, List<ExceptionGrant>> onUpdates, List<ExceptionGrant> wider) {
        static ExceptionsByScope of(Collection<ExceptionGrant> exceptions) {
            Map<UpdateId, List<ExceptionGrant>> onUpdates = new HashMap<>();
            List<ExceptionGrant> wider = new ArrayList<>();
            for (ExceptionGrant exception : exceptions) {
                if (exception.scope() instanceof ExceptionGrant.Scope.OfUpdate one) {
                    onUpdates
                            .computeIfAbsent(one.updateId(), id -> new ArrayList<>())
                            .add(exception);
                } else {
                    wider.add(exception);
                }
            }
            return new ExceptionsByScope(onUpdates, wider);
        }

        List<ExceptionGrant> covering(Update update) {
            List<ExceptionGrant> covering = new ArrayList<>(onUpdates.getOrDefault(update.id(), List.of()));
            wider.stream().filter(one -> one.scope().covers(update)).forEach(covering::add);
            covering.sort(Comparator.comparing(one -> one.number().value()));
            return covering;
        }
    }

    private Decisions(
            TreeMap<Long, Verdict> verdicts,
            TreeMap<Long, ExceptionGrant> exceptions,
            TreeMap<Long, Acknowledgement> acknowledgements,
            TreeMap<Long, Freeze> freezes,
            TreeMap<Long, Caution> cautions,
            Map<UpdateId, List<TriesShown>> shown) {
        this.verdicts = verdicts;
        this.exceptions = exceptions;
        this.acknowledgements = acknowledgements;
        this.freezes = freezes;
        this.cautions = cautions;
        this.shown = shown;
    }

    public Decisions(List<Verdict> verdicts, List<ExceptionGrant> exceptions, List<Acknowledgement> acknowledgements) {
        this(
                byNumber(verdicts),
                byNumber(exceptions),
                byNumber(acknowledgements),
                new TreeMap<>(),
                new TreeMap<>(),
                Map.of());
    }

    private static <D extends Decision> TreeMap<Long, D> byNumber(List<D> decisions) {
        TreeMap<Long, D> byNumber = new TreeMap<>();
        decisions.forEach(decision -> byNumber.put(decision.number().value(), decision));
        return byNumber;
    }

    /** In the order in which they were decided, as the other lists. */
    public List<Verdict> verdicts() {
        return List.copyOf(verdicts.values());
    }

    public List<ExceptionGrant> exceptions() {
        return List.copyOf(exceptions.values());
    }

    public List<Acknowledgement> acknowledgements() {
        return List.copyOf(acknowledgements.values());
    }

    public List<Freeze> freezes() {
        return List.copyOf(freezes.values());
    }

    public List<Caution> cautions() {
        return List.copyOf(cautions.values());
    }

    public List<Verdict> verdictsOn(UpdateId updateId) {
        if (verdictsByUpdate == null) {
            verdictsByUpdate = byUpdate(verdicts.values().stream(), Verdict::updateId);
        }
        return verdictsByUpdate.getOrDefault(updateId, List.of());
    }

    public List<Acknowledgement> acknowledgementsOn(UpdateId updateId) {
        if (acknowledgementsByUpdate == null) {
            acknowledgementsByUpdate = byUpdate(acknowledgements.values().stream(), Acknowledgement::updateId);
        }
        return acknowledgementsByUpdate.getOrDefault(updateId, List.of());
    }

    private static <D> Map<UpdateId, List<D>> byUpdate(Stream<D> decisions, Function<D, UpdateId> updateId) {
        Map<UpdateId, List<D>> byUpdate = new HashMap<>();
        decisions.forEach(decision -> byUpdate.computeIfAbsent(updateId.apply(decision), id -> new ArrayList<>())
                .add(decision));
        return byUpdate;
    }

    public List<ExceptionGrant> exceptionsOn(Update update) {
        if (exceptionsByScope == null) {
            exceptionsByScope = ExceptionsByScope.of(exceptions.values());
        }
        return exceptionsByScope.covering(update);
    }

    public Optional<Verdict> verdict(DecisionNumber.OfVerdict number) {
        return Optional.ofNullable(verdicts.get(number.value()));
    }

    public Optional<ExceptionGrant> exception(DecisionNumber.OfException number) {
        return Optional.ofNullable(exceptions.get(number.value()));
    }

    public Optional<Acknowledgement> acknowledgement(DecisionNumber.OfAcknowledgement number) {
        return Optional.ofNullable(acknowledgements.get(number.value()));
    }

    /** The verdicts of a pilot, one for each population that it is for. */
    public List<Verdict> verdictsOf(PilotNumber pilot) {
        return verdicts.values().stream()
                .filter(verdict ->
                        verdict.pilot().filter(of -> of.number().equals(pilot)).isPresent())
                .toList();
    }

    public Optional<Freeze> freeze(DecisionNumber.OfFreeze number) {
        return Optional.ofNullable(freezes.get(number.value()));
    }

    public Optional<Caution> caution(DecisionNumber.OfCaution number) {
        return Optional.ofNullable(cautions.get(number.value()));
    }

    public DecisionNumber.OfCaution nextCaution() {
        return new DecisionNumber.OfCaution(next(cautions));
    }

    public DecisionNumber.OfFreeze nextFreeze() {
        return new DecisionNumber.OfFreeze(next(freezes));
    }

    /** A number for the next verdict that no other has, as for the others. */
    public DecisionNumber.OfVerdict nextVerdict() {
        return new DecisionNumber.OfVerdict(next(verdicts));
    }

    public PilotNumber nextPilot() {
        return new PilotNumber(1
                + verdicts.values().stream()
                        .flatMap(verdict -> verdict.pilot().stream())
                        .mapToLong(pilot -> pilot.number().value())
                        .max()
                        .orElse(0));
    }

    public DecisionNumber.OfException nextException() {
        return new DecisionNumber.OfException(next(exceptions));
    }

    public DecisionNumber.OfAcknowledgement nextAcknowledgement() {
        return new DecisionNumber.OfAcknowledgement(next(acknowledgements));
    }

    private static long next(TreeMap<Long, ?> decisions) {
        return decisions.isEmpty() ? 1 : decisions.lastKey() + 1;
    }

    /** With this decision added, or put in the place of the one with its number. */
    public Decisions with(Decision decision) {
        return withAll(List.of(decision));
    }

    /** With all of these, as if one were added after the other. */
    public Decisions withAll(List<? extends Decision> decisions) {
        TreeMap<Long, Verdict> nextVerdicts = new TreeMap<>(verdicts);
        TreeMap<Long, ExceptionGrant> nextExceptions = new TreeMap<>(exceptions);
        TreeMap<Long, Acknowledgement> nextAcknowledgements = new TreeMap<>(acknowledgements);
        TreeMap<Long, Freeze> nextFreezes = new TreeMap<>(freezes);
        TreeMap<Long, Caution> nextCautions = new TreeMap<>(cautions);
        for (Decision decision : decisions) {
            long number = decision.number().value();
            if (decision instanceof Verdict verdict) {
                nextVerdicts.put(number, verdict);
            } else if (decision instanceof ExceptionGrant exception) {
                nextExceptions.put(number, exception);
            } else if (decision instanceof Freeze freeze) {
                nextFreezes.put(number, freeze);
            } else if (decision instanceof Caution caution) {
                nextCautions.put(number, caution);
            } else {
                nextAcknowledgements.put(number, (Acknowledgement) decision);
            }
        }
        return new Decisions(nextVerdicts, nextExceptions, nextAcknowledgements, nextFreezes, nextCautions, shown);
    }

    /** With what tries have shown added, or put in the place of what the same ones had shown. */
    public Decisions withShown(List<TriesShown> tries) {
        Map<UpdateId, List<TriesShown>> next = new HashMap<>(shown);
        for (TriesShown one : tries) {
            List<TriesShown> of = new ArrayList<>(next.getOrDefault(one.updateId(), List.of()));
            of.removeIf(other -> other.population().equals(one.population()));
            of.add(one);
            next.put(one.updateId(), List.copyOf(of));
        }
        return new Decisions(verdicts, exceptions, acknowledgements, freezes, cautions, next);
    }

    /** What the tries of populations for which rules wait have shown of an update. */
    public List<TriesShown> shownOf(UpdateId updateId) {
        return shown.getOrDefault(updateId, List.of());
    }

    /** Updates of which tries have shown something else than these say. */
    public Set<UpdateId> shownOtherwise(Decisions than) {
        Set<UpdateId> updates = new HashSet<>(shown.keySet());
        updates.addAll(than.shown.keySet());
        updates.removeIf(id -> shownOf(id).equals(than.shownOf(id)));
        return updates;
    }

    @Override
    public boolean equals(Object other) {
        return this == other
                || other instanceof Decisions that
                        && verdicts.equals(that.verdicts)
                        && exceptions.equals(that.exceptions)
                        && acknowledgements.equals(that.acknowledgements)
                        && freezes.equals(that.freezes)
                        && cautions.equals(that.cautions)
                        && shown.equals(that.shown);
    }

    @Override
    public int hashCode() {
        return Objects.hash(verdicts, exceptions, acknowledgements, freezes, cautions, shown);
    }

    @Override
    public String toString() {
        return verdicts.values() + " " + exceptions.values() + " " + acknowledgements.values() + " " + freezes.values()
                + " " + cautions.values() + " " + shown.values();
    }
}
