package lucid.core.reporting;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import lucid.core.carriage.Carriages;
import lucid.core.ruling.Decision;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.Effect;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.ruling.InForce;
import lucid.core.ruling.ReasonWord;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import org.roaringbitmap.RoaringBitmap;

/**
 * One decision by which people withhold an update now. Standing rules, the fleet's caution and freezes withhold too,
 * but nobody decided them on an update.
 *
 * @param update on which it is; none for an exception on a product or kind
 * @param hosts from which it withholds
 * @param since when it was decided; of a renewed exception, when the first of its chain was
 * @param owner who answers for it
 */
public record Withholding(
        Decision decision, Optional<Update> update, RoaringBitmap hosts, Instant since, Instant end, String owner) {

    /** What withholds from some host now, the longest standing first. */
    public static List<Withholding> at(Carriages carriages, Decisions decisions, Instant now) {
        List<Withholding> all = new ArrayList<>();
        for (InForce one : InForce.at(carriages, decisions, now)) {
            of(one, decisions)
                    .filter(withholding -> !withholding.hosts.isEmpty())
                    .ifPresent(all::add);
        }
        all.sort(Comparator.comparing(Withholding::since)
                .thenComparing(one -> one.decision.number().value()));
        return List.copyOf(all);
    }

    private static Optional<Withholding> of(InForce one, Decisions decisions) {
        if (one.decision() instanceof Verdict verdict && verdict.type() != VerdictType.FORCE) {
            RoaringBitmap hosts = one.hosts();
            verdict.pilot().ifPresent(pilot -> hosts.andNot(pilot.everSampled()));
            return Optional.of(new Withholding(
                    verdict, one.update(), hosts, verdict.createdAt(), verdict.end(), verdict.author()));
        }
        if (one.decision() instanceof ExceptionGrant exception && exception.effect() == Effect.WITHHELD) {
            Instant since = exception.before().stream()
                    .flatMap(number -> decisions.exception(number).stream())
                    .map(ExceptionGrant::createdAt)
                    .min(Comparator.naturalOrder())
                    .orElse(exception.createdAt());
            return Optional.of(
                    new Withholding(exception, one.update(), one.hosts(), since, exception.end(), exception.owner()));
        }
        return Optional.empty();
    }

    /** Words from the small list; an exception, and a verdict with words of its author's own alone, has none. */
    public Set<ReasonWord> reasons() {
        return decision instanceof Verdict verdict ? verdict.reasons() : Set.of();
    }

    /**
     * What is withheld for one reason, or by one person.
     *
     * @param pairs hosts, each once for each update that is withheld from it
     * @param oldest since when the longest standing of them has stood
     * @param nextEnd when the first of them ends
     */
    public record WithheldSum(int decisions, int updates, int pairs, Instant oldest, Instant nextEnd) {
        static WithheldSum of(List<Withholding> some) {
            Set<UpdateId> updates = new HashSet<>();
            some.forEach(one -> one.update.ifPresent(update -> updates.add(update.id())));
            return new WithheldSum(
                    some.size(),
                    updates.size(),
                    some.stream().mapToInt(one -> one.hosts.getCardinality()).sum(),
                    some.stream()
                            .map(Withholding::since)
                            .min(Comparator.naturalOrder())
                            .orElseThrow(),
                    some.stream()
                            .map(Withholding::end)
                            .min(Comparator.naturalOrder())
                            .orElseThrow());
        }
    }

    /** By reason; who has two stands under both. */
    public static Map<ReasonWord, WithheldSum> byReason(List<Withholding> all) {
        Map<ReasonWord, List<Withholding>> by = new EnumMap<>(ReasonWord.class);
        all.forEach(one -> one.reasons().forEach(reason -> by.computeIfAbsent(reason, word -> new ArrayList<>())
                .add(one)));
        Map<ReasonWord, WithheldSum> sums = new EnumMap<>(ReasonWord.class);
        by.forEach((reason, some) -> sums.put(reason, WithheldSum.of(some)));
        return sums;
    }

    /** Those that stand for no reason of the small list: exceptions, and verdicts with words of their own. */
    public static Optional<WithheldSum> withoutReason(List<Withholding> all) {
        List<Withholding> some =
                all.stream().filter(one -> one.reasons().isEmpty()).toList();
        return some.isEmpty() ? Optional.empty() : Optional.of(WithheldSum.of(some));
    }

    /** By who answers for it, in order of names. */
    public static Map<String, WithheldSum> byOwner(List<Withholding> all) {
        Map<String, List<Withholding>> by = new TreeMap<>();
        all.forEach(
                one -> by.computeIfAbsent(one.owner, owner -> new ArrayList<>()).add(one));
        Map<String, WithheldSum> sums = new TreeMap<>();
        by.forEach((owner, some) -> sums.put(owner, WithheldSum.of(some)));
        return sums;
    }
}
