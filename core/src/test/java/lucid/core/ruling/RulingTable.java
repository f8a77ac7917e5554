package lucid.core.ruling;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.core.fleet.Host;
import lucid.core.fleet.PopulationId;
import lucid.core.fleet.Spread;

/**
 * The ruling as a table that is read from the top: slow, without a chain, and each line plainly one line of the rule.
 * It asks nothing of what it is compared with.
 *
 * @param entryOf the entry of the ladder of each host, by its number
 * @param offeredByRule when the line of a rule that is for the host offers the update, by line and update; missing:
 *     never
 * @param delays of the lines, in days
 * @param contained identifiers of the updates that each contains
 * @param firstRead when each update was first read
 * @param newFixes when a revision with other fixes of each update was read
 */
record RulingTable(
        Decisions decisions,
        Map<Integer, String> entryOf,
        Map<String, Instant> offeredByRule,
        Map<String, Integer> delays,
        Map<String, List<String>> contained,
        Map<String, Instant> firstRead,
        Map<String, Instant> newFixes) {

    private static boolean made(Instant from, Optional<Instant> revokedAt, Instant at) {
        return !from.isAfter(at) && (revokedAt.isEmpty() || revokedAt.get().isAfter(at));
    }

    /** The rule of the kiosks has a line for those with the second reader. */
    private String line(Host host) {
        String entry = entryOf.get(host.number());
        boolean second = "R2".equals(host.traits().get("reader").toString());
        return entry.equals("kiosks") && second ? "kiosks R2" : entry;
    }

    private Optional<Instant> rule(Host host, String update) {
        return Optional.ofNullable(offeredByRule.get(line(host) + " " + update));
    }

    private boolean ruleOffers(Host host, String update, Instant at) {
        Optional<Instant> offer = rule(host, update);
        Optional<Caution> caution = Optional.empty();
        for (Caution declared : decisions.cautions()) {
            if (made(declared.createdAt(), declared.revokedAt(), at)
                    && declared.until().isAfter(at)) {
                caution = Optional.of(declared);
            }
        }
        if (offer.isEmpty() || caution.isPresent() && caution.get().level() == Caution.Level.JUDGED_ONLY) {
            return false;
        }
        int more = caution.isPresent() ? delays.get(line(host)) : 0;
        return !offer.get().plus(Duration.ofDays(more)).isAfter(at);
    }

    private boolean otherFixes(String update, Verdict verdict, Instant at) {
        Instant read = newFixes.get(update);
        return read != null && read.isAfter(verdict.createdAt()) && !read.isAfter(at);
    }

    private List<Verdict> standing(Host host, String update, Instant at) {
        List<Verdict> standing = new ArrayList<>();
        for (Verdict verdict : decisions.verdicts()) {
            boolean covers = verdict.updateId().value().equals(update)
                    && verdict.populationId().value().equals(entryOf.get(host.number()))
                    && (verdict.narrowing().isEmpty()
                            || verdict.narrowing().get().test(host));
            if (!covers || !made(verdict.createdAt(), verdict.revokedAt(), at)) {
                continue;
            }
            boolean past = !end(verdict, host).isAfter(at);
            boolean ruleOffers = ruleOffers(host, update, at);
            boolean over =
                    switch (verdict.type()) {
                        case BLOCK -> past;
                        case DEFER -> past && otherFixes(update, verdict, at);
                        case PILOT -> past || otherFixes(update, verdict, at) && ruleOffers;
                        case FORCE -> otherFixes(update, verdict, at) && ruleOffers;
                    };
            if (!over) {
                standing.add(verdict);
            }
        }
        return standing;
    }

    private static Instant end(Verdict verdict, Host host) {
        if (verdict.delivery().spread().isPresent()) {
            for (Spread.Part part : verdict.delivery().spread().get().parts()) {
                if (part.hosts().contains(host.number())) {
                    return part.at();
                }
            }
        }
        return verdict.end();
    }

    /** A force for two parts: the first begins at once, the second when the first is due. */
    private static boolean begun(Verdict force, Host host, Instant at) {
        if (force.delivery().spread().isEmpty()) {
            return true;
        }
        Spread.Part first = force.delivery().spread().get().parts().get(0);
        return first.hosts().contains(host.number()) || !first.at().isAfter(at);
    }

    private static Effect offer(Verdict verdict) {
        return verdict.delivery().byOperator().isPresent() ? Effect.BY_OPERATOR : Effect.OFFERED;
    }

    /** In the pilots of these tests nobody comes later and nobody leaves. */
    private static boolean sampled(Verdict verdict, Host host, Instant at) {
        return verdict.type() == VerdictType.PILOT
                && verdict.pilot().get().places().stream().anyMatch(place -> place.host() == host.number())
                && (verdict.pilot().get().failedAt().isEmpty()
                        || verdict.pilot().get().failedAt().get().isAfter(at));
    }

    private boolean offers(Verdict verdict, Host host, String update, Instant at) {
        return (verdict.type() == VerdictType.FORCE && begun(verdict, host, at) || sampled(verdict, host, at))
                        && !otherFixes(update, verdict, at)
                || verdict.type() == VerdictType.DEFER && !end(verdict, host).isAfter(at);
    }

    private static List<DecisionNumber.OfVerdict> blocks(List<Verdict> verdicts) {
        return verdicts.stream()
                .filter(v -> v.type() == VerdictType.BLOCK)
                .map(Verdict::number)
                .toList();
    }

    private List<ExceptionGrant> exceptions(Host host, String update, Instant at) {
        return decisions.exceptions().stream()
                .filter(e -> made(e.createdAt(), e.revokedAt(), at)
                        && e.until().isAfter(at)
                        && e.hosts().test(host))
                .filter(e -> !(e.scope() instanceof ExceptionGrant.Scope.OfUpdate of)
                        || of.updateId().value().equals(update))
                .toList();
    }

    private static Instant end(Freeze freeze, Host host) {
        if (freeze.spread().isPresent()) {
            for (Spread.Part part : freeze.spread().get().parts()) {
                if (part.hosts().contains(host.number())) {
                    return part.at();
                }
            }
        }
        return freeze.until();
    }

    private List<Freeze> freezes(Host host, Instant at) {
        return decisions.freezes().stream()
                .filter(f -> made(f.createdAt(), f.revokedAt(), at)
                        && !f.from().isAfter(at)
                        && end(f, host).isAfter(at)
                        && (f.populations().isEmpty()
                                || f.populations().contains(new PopulationId(entryOf.get(host.number())))))
                .toList();
    }

    /** Something that withholds an update by itself: a verdict, or an exception. */
    private record Withheld(DecisionNumber number, Instant createdAt) {}

    /** What verdicts and exceptions on the update itself say: empty if none says anything. */
    private Optional<Object> byItself(
            Host host,
            String update,
            Instant at,
            boolean heldBack,
            List<ExceptionGrant> exceptions,
            List<Freeze> freezes) {
        List<Verdict> verdicts = standing(host, update, at);
        List<DecisionNumber.OfVerdict> blocks = blocks(verdicts);
        for (Verdict force : verdicts) {
            boolean overSomething = !exceptions.isEmpty() || !blocks.isEmpty() || !freezes.isEmpty();
            boolean namesAll = exceptions.stream()
                            .allMatch(e -> force.overriddenExceptions().contains(e.number()))
                    && freezes.stream().allMatch(f -> force.goesOver().freezes().contains(f.number()))
                    && force.overrides().containsAll(blocks);
            boolean nothingLaterWithholds = verdicts.stream()
                    .noneMatch(v -> v.number().value() > force.number().value()
                            && v.type() != VerdictType.FORCE
                            && !offers(v, host, update, at)
                            && !force.overrides().contains(v.number()));
            if (force.type() == VerdictType.FORCE
                    && offers(force, host, update, at)
                    && overSomething
                    && namesAll
                    && nothingLaterWithholds
                    && !heldBack) {
                return Optional.of(offer(force));
            }
        }
        for (int width = 0; width <= 2; width++) {
            for (int i = exceptions.size() - 1; i >= 0; i--) {
                ExceptionGrant exception = exceptions.get(i);
                if (exception.scope().width() == width) {
                    return Optional.of(
                            exception.effect() == Effect.WITHHELD
                                    ? new Withheld(exception.number(), exception.createdAt())
                                    : exception.effect());
                }
            }
        }
        if (!freezes.isEmpty()) {
            return Optional.of(Effect.WITHHELD);
        }
        for (int i = verdicts.size() - 1; i >= 0; i--) {
            Verdict verdict = verdicts.get(i);
            if (!offers(verdict, host, update, at)) {
                return Optional.of(new Withheld(verdict.number(), verdict.createdAt()));
            }
            if (!heldBack && verdict.overrides().containsAll(blocks)) {
                return Optional.of(offer(verdict));
            }
        }
        return Optional.empty();
    }

    /**
     * True while an update that this one contains is withheld, and nobody has answered for this one since both were
     * known.
     */
    private boolean isHeldBack(Host host, String update, Instant at) {
        for (String earlier : contained.getOrDefault(update, List.of())) {
            List<ExceptionGrant> onlyEarlier = exceptions(host, earlier, at).stream()
                    .filter(e -> e.scope() instanceof ExceptionGrant.Scope.OfUpdate)
                    .toList();
            Optional<Object> says = byItself(host, earlier, at, false, onlyEarlier, List.of());
            if (says.isPresent() && says.get() instanceof Withheld withheld) {
                Instant known = withheld.createdAt().isAfter(firstRead.get(update))
                        ? withheld.createdAt()
                        : firstRead.get(update);
                boolean answered = decisions.acknowledgements().stream()
                                .anyMatch(a -> a.updateId().value().equals(update)
                                        && made(a.createdAt(), a.revokedAt(), at)
                                        && !a.createdAt().isBefore(known)
                                        && (a.populations().isEmpty()
                                                || a.populations()
                                                        .contains(new PopulationId(entryOf.get(host.number())))))
                        || decisions.verdicts().stream()
                                .anyMatch(v -> v.updateId().value().equals(update)
                                        && made(v.createdAt(), v.revokedAt(), at)
                                        && !v.createdAt().isBefore(known)
                                        && v.populationId().value().equals(entryOf.get(host.number()))
                                        && (v.narrowing().isEmpty()
                                                || v.narrowing().get().test(host))
                                        && (v.type() == VerdictType.BLOCK
                                                || v.type() == VerdictType.PILOT && !sampled(v, host, at)
                                                || v.type() == VerdictType.FORCE && !begun(v, host, at)
                                                || v.type() == VerdictType.DEFER
                                                        && v.end().isAfter(v.createdAt())
                                                || Stream.concat(
                                                                v.overriddenExceptions().stream(),
                                                                v.overrides().stream())
                                                        .anyMatch(withheld.number()::equals)));
                if (!answered) {
                    return true;
                }
            }
        }
        return false;
    }

    Effect effect(Host host, String update, boolean lacks, Instant at) {
        boolean heldBack = isHeldBack(host, update, at);
        Optional<Object> says = byItself(host, update, at, heldBack, exceptions(host, update, at), freezes(host, at));
        if (!lacks) {
            boolean removed = says.isPresent()
                    && says.get() instanceof Withheld withheld
                    && decisions.verdicts().stream()
                            .anyMatch(v -> v.number().equals(withheld.number())
                                    && v.delivery().removes());
            return removed ? Effect.REMOVE : Effect.NOTHING_TO_DO;
        }
        if (says.isPresent()) {
            return says.get() instanceof Effect effect ? effect : Effect.WITHHELD;
        }
        return !heldBack && ruleOffers(host, update, at) ? Effect.OFFERED : Effect.WITHHELD;
    }
}
