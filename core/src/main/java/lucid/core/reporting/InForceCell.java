package lucid.core.reporting;

import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import lucid.core.ruling.Effect;
import lucid.core.ruling.RuleMatch;
import lucid.core.ruling.RulingGroup;

/**
 * What is in force for the hosts of one population that lack one update.
 *
 * @param withheld hosts from which it is withheld
 * @param needsVerdict of these, those to which nothing will ever offer it
 * @param nextEnd when the first of the withholdings ends by itself
 * @param offered hosts to which it is offered
 * @param byOperator hosts whose operator is to begin it
 * @param nextDue when it is due on the first of those on which it is not yet
 * @param overdue hosts on which it was due
 * @param most what is in force for most of them; none where no host lacks it
 */
public record InForceCell(
        int withheld,
        int needsVerdict,
        Optional<Instant> nextEnd,
        int offered,
        int byOperator,
        Optional<Instant> nextDue,
        int overdue,
        Optional<RuleMatch> most) {

    /** @param groups of the hosts that lack it, the largest first */
    public static InForceCell of(List<RulingGroup> groups, Instant now) {
        Predicate<RuleMatch> withheld = match -> match.effect() == Effect.WITHHELD;
        Predicate<RuleMatch> overdue =
                match -> match.due().filter(due -> !due.isAfter(now)).isPresent();
        return new InForceCell(
                hosts(groups, withheld),
                hosts(groups, RuleMatch::isNever),
                groups.stream()
                        .map(RulingGroup::match)
                        .filter(withheld)
                        .flatMap(match -> match.end().stream())
                        .min(Comparator.naturalOrder()),
                hosts(groups, match -> match.effect() == Effect.OFFERED),
                hosts(groups, match -> match.effect() == Effect.BY_OPERATOR),
                groups.stream()
                        .flatMap(group -> group.match().due().stream())
                        .filter(now::isBefore)
                        .min(Comparator.naturalOrder()),
                hosts(groups, overdue),
                groups.stream().findFirst().map(RulingGroup::match));
    }

    private static int hosts(List<RulingGroup> groups, Predicate<RuleMatch> which) {
        return groups.stream()
                .filter(group -> which.test(group.match()))
                .mapToInt(group -> group.hosts().getCardinality())
                .sum();
    }
}
