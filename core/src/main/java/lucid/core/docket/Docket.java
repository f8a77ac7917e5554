package lucid.core.docket;

import java.time.Instant;
import java.util.Collection;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import lucid.core.carriage.Carriages;
import lucid.core.evidence.Evidence;
import lucid.core.evidence.TriedHosts;
import lucid.core.ruling.Decisions;
import lucid.core.update.Kind;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.core.weighing.BaselineRates;
import lucid.core.weighing.Weights;

/**
 * All cases at one instant. Never changes: {@link #next} makes the docket of a later moment and takes over every case
 * that nothing touched in between.
 *
 * <p><b>Newest only.</b> A case folds under its newest successor if that is released for all the hosts which lack it,
 * so that nobody judges what the next update brings anyway. It unfolds while that successor is blocked or withdrawn.
 */
public final class Docket {

    /** Everything on which a docket rests. */
    public record Facts(Carriages carriages, Evidence evidence, Weights weights, Decisions decisions) {}

    /** So many that none is waited for long at the end; each part looks up again what the others have looked up. */
    private static final int PARTS = 8;

    private final Facts facts;
    private final Instant at;
    private final Map<UpdateId, DocketCase> cases;
    private final Map<UpdateId, TriedHosts> tried;
    private final BaselineRates usual;
    /** In order; made when first asked for. */
    private volatile List<DocketCase> ordered;

    private final Parallelism parallelism;

    private Docket(
            Facts facts,
            Instant at,
            Map<UpdateId, DocketCase> cases,
            Map<UpdateId, TriedHosts> tried,
            BaselineRates usual,
            Parallelism parallelism) {
        this.facts = facts;
        this.at = at;
        this.cases = cases;
        this.tried = tried;
        this.usual = usual;
        this.parallelism = parallelism;
    }

    public static Docket of(Facts facts, Instant at) {
        return of(facts, at, Parallelism.NONE);
    }

    /** @param parallelism by which this docket, and those that follow it, are made from nothing */
    public static Docket of(Facts facts, Instant at, Parallelism parallelism) {
        Map<UpdateId, TriedHosts> tried = tried(facts, at, parallelism);
        return made(facts, at, tried, usual(facts, tried, at), parallelism);
    }

    private static Docket made(
            Facts facts, Instant at, Map<UpdateId, TriedHosts> tried, BaselineRates usual, Parallelism parallelism) {
        Map<UpdateId, DocketCase> cases = new HashMap<>();
        parallelism
                .each(
                        parts(facts.carriages().catalogue().updates()),
                        part -> made(part, new Cases(facts, at, tried::get, usual)))
                .forEach(cases::putAll);
        return new Docket(facts, at, cases, tried, usual, parallelism);
    }

    /** The docket of these facts at this instant, every case of it made anew with the baseline rates of this one. */
    Docket anew(Facts later, Instant now) {
        return made(later, now, tried(later, now, parallelism), usual, parallelism);
    }

    private static Map<UpdateId, TriedHosts> tried(Facts facts, Instant at, Parallelism parallelism) {
        Map<UpdateId, TriedHosts> all = new HashMap<>();
        parallelism
                .each(parts(facts.carriages().catalogue().updates()), part -> {
                    Map<UpdateId, TriedHosts> of = new HashMap<>();
                    part.forEach(update -> of.put(update.id(), tried(update, facts, at)));
                    return of;
                })
                .forEach(all::putAll);
        return all;
    }

    private static List<List<Update>> parts(Collection<Update> updates) {
        List<Update> all = List.copyOf(updates);
        return IntStream.range(0, PARTS)
                .mapToObj(i -> all.subList(all.size() * i / PARTS, all.size() * (i + 1) / PARTS))
                .filter(part -> !part.isEmpty())
                .toList();
    }

    private static TriedHosts tried(Update update, Facts facts, Instant at) {
        return TriedHosts.of(
                update,
                facts.carriages().outcomes(),
                facts.evidence(),
                facts.carriages().fleet(),
                at);
    }

    private static BaselineRates usual(Facts facts, Map<UpdateId, TriedHosts> tried, Instant at) {
        Collection<Update> updates = facts.carriages().catalogue().updates();
        Map<Update, TriedHosts> byUpdate = new HashMap<>();
        updates.forEach(update -> byUpdate.put(
                update,
                update.revisionsWithTheseFixes().size() == update.revisions().size()
                        ? tried.get(update.id())
                        : TriedHosts.ofAllRevisions(
                                update,
                                facts.carriages().outcomes(),
                                facts.evidence(),
                                facts.carriages().fleet(),
                                at)));
        return BaselineRates.of(byUpdate, at);
    }

    private static Map<UpdateId, DocketCase> made(Collection<Update> updates, Cases cases) {
        Map<UpdateId, DocketCase> made = new HashMap<>();
        updates.forEach(update -> made.put(update.id(), cases.of(update)));
        return made;
    }

    /**
     * The docket of these facts at this instant. Only what was touched since is weighed anew; the first of a day, and
     * that after very many reports, is made from nothing.
     */
    public Docket next(Facts later, Instant now) {
        if (later.equals(facts) && now.equals(at)) {
            return this;
        }
        Set<UpdateId> outdated = cases.values().stream()
                .filter(known -> !known.validUntil().isAfter(now))
                .map(known -> known.update().id())
                .collect(Collectors.toSet());
        ChangedCases touched = new ChangedCases(facts, at, later, now, tried, outdated);
        if (touched.isEverything()) {
            return of(later, now, parallelism);
        }
        if (touched.isNearlyEverything()) {
            return anew(later, now);
        }
        List<Update> updates = touched.updates().stream()
                .flatMap(id -> later.carriages().catalogue().update(id).stream())
                .toList();
        Map<UpdateId, TriedHosts> nextTried = new HashMap<>(tried);
        updates.forEach(update -> nextTried.put(update.id(), tried(update, later, now)));
        Map<UpdateId, DocketCase> next = new HashMap<>(cases);
        next.putAll(made(updates, new Cases(later, now, nextTried::get, usual)));
        return new Docket(later, now, next, nextTried, usual, parallelism);
    }

    /**
     * Every case in the order in which it wants judgement. One that closes a vulnerability which another closes too
     * stands right behind that other, since both want the same judgement: the fix for another platform, or for another
     * part of a device.
     */
    public List<DocketCase> cases() {
        List<DocketCase> known = ordered;
        if (known == null) {
            known = ordered();
            ordered = known;
        }
        return known;
    }

    private List<DocketCase> ordered() {
        Map<UpdateId, DocketCase> together = new LinkedHashMap<>();
        for (DocketCase one : order().sorted(cases.values())) {
            together.putIfAbsent(one.update().id(), one);
            if (one.needsJudgement()) {
                order().sorted(one.siblings().stream()
                                .map(cases::get)
                                .filter(DocketCase::needsJudgement)
                                .toList())
                        .forEach(
                                sibling -> together.putIfAbsent(sibling.update().id(), sibling));
            }
        }
        return List.copyOf(together.values());
    }

    public DocketOrder order() {
        return new DocketOrder(at);
    }

    public Optional<DocketCase> find(UpdateId updateId) {
        return Optional.ofNullable(cases.get(updateId));
    }

    /** What goes into the weighing of an update. */
    public CaseFacts factsOf(Update update) {
        return new Cases(facts, at, tried::get, usual).factsOf(update);
    }

    /** What is usual of updates like this one. */
    public BaselineRates.Baseline usualOf(Update update) {
        return usual.of(update);
    }

    public Instant at() {
        return at;
    }

    /** Content changes every day; it is counted apart. */
    public static boolean isNoise(Update update) {
        return update.kind() == Kind.CONTENT;
    }
}
