package lucid.server.orders;

import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.carriage.Carriage;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostName;
import lucid.core.fleet.Outcome;
import lucid.core.order.HeardBy;
import lucid.core.order.HeardBy.Hearing;
import lucid.core.order.WhyOverdue;
import lucid.core.ruling.Decision;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.Effect;
import lucid.core.ruling.RulingGroup;
import lucid.core.ruling.Timeline;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.server.snapshot.Snapshot;
import lucid.server.views.OverdueHosts;
import lucid.server.views.Views.HostList;
import lucid.server.views.Views.RuleMatchView;
import lucid.server.web.ProblemException;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;

/** Which hosts have heard what was decided, and do it. */
@RestController
class HeardController {

    private static final int MOST_PROBLEMS = 5;

    private final Receipts receipts;
    private final OrdersHeard orders;
    private final Clock clock;

    HeardController(Receipts receipts, OrdersHeard orders, Clock clock) {
        this.receipts = receipts;
        this.orders = orders;
        this.clock = clock;
    }

    /** @param problems what hosts of it said, the commonest first; at most five */
    record HeardHosts(Hearing hearing, HostList hosts, List<String> problems) {}

    /**
     * A decision on the update that holds for hosts.
     *
     * @param match what it says
     * @param hosts for how many of those that lack the update, or are to lose it, it holds
     * @param tooLate those of them that have downloaded what is withheld from them, and may install it all the same
     * @param overdue of a force: hosts on which it is past due, by why they still lack it
     * @param nextWindow when the next window of those opens that had none since
     * @param installedSince hosts from which it is withheld, and was so when they installed it later than it was
     *     decided
     */
    record HeardDecision(
            RuleMatchView match,
            Instant decidedAt,
            int hosts,
            List<HeardHosts> heard,
            HostList tooLate,
            List<OverdueHosts> overdue,
            Optional<Instant> nextWindow,
            HostList installedSince) {}

    /** Of each decision that holds for hosts that lack the update, or are to lose it: how far it has come. */
    @GetMapping("/api/cases/{id}/heard")
    List<HeardDecision> ofCase(@PathVariable UpdateId id, Snapshot snapshot) {
        Instant now = clock.instant();
        Update update = snapshot.update(id);
        Carriage carriage = snapshot.carriage(update, now);
        Timeline timeline = Timeline.of(update, snapshot.decisions(), snapshot.fleet(), snapshot.catalogue());
        Map<DecisionNumber, RulingGroup> decided = new LinkedHashMap<>();
        List<RulingGroup> groups = new ArrayList<>(timeline.groups(carriage.lacking(), now));
        Map<DecisionNumber, RoaringBitmap> withheldButThere = new HashMap<>();
        for (RulingGroup group : timeline.groups(carriage.having(), now)) {
            if (group.match().effect() == Effect.REMOVE) {
                groups.add(group);
            } else if (group.match().effect() == Effect.WITHHELD) {
                group.match()
                        .source()
                        .flatMap(source -> decision(source, snapshot.decisions()))
                        .ifPresent(decision -> {
                            RoaringBitmap installed =
                                    installedSince(decision, update, timeline, group.hosts(), snapshot);
                            if (!installed.isEmpty()) {
                                withheldButThere
                                        .computeIfAbsent(decision.number(), any -> new RoaringBitmap())
                                        .or(installed);
                                groups.add(new RulingGroup(group.match(), new RoaringBitmap()));
                            }
                        });
            }
        }
        for (RulingGroup group : groups) {
            group.match()
                    .source()
                    .ifPresent(source -> decided.merge(
                            source,
                            group,
                            (a, b) -> new RulingGroup(a.match(), RoaringBitmap.or(a.hosts(), b.hosts()))));
        }
        return decided.values().stream()
                .flatMap(group -> heard(
                        group,
                        tooLate(group, update, snapshot),
                        withheldButThere.getOrDefault(group.match().source().orElseThrow(), new RoaringBitmap()),
                        snapshot,
                        now)
                        .stream())
                .toList();
    }

    private static RoaringBitmap tooLate(RulingGroup group, Update update, Snapshot snapshot) {
        return group.match().effect() == Effect.WITHHELD
                ? RoaringBitmap.and(snapshot.carriages().outcomes().staged(update.id()), group.hosts())
                : new RoaringBitmap();
    }

    /** What the failed gate of a pilot withholds from its sample, it was asked to install before. */
    private static RoaringBitmap installedSince(
            Decision decision, Update update, Timeline timeline, RoaringBitmap among, Snapshot snapshot) {
        RoaringBitmap installed = new RoaringBitmap();
        snapshot.carriages().outcomes().last(update.id()).forEach((host, outcome) -> {
            if (among.contains(host)
                    && outcome.what() == Outcome.What.INSTALLED
                    && outcome.at().isAfter(decision.createdAt())
                    && timeline.groups(RoaringBitmap.bitmapOf(host), outcome.at()).stream()
                            .anyMatch(then -> then.match().effect() == Effect.WITHHELD)) {
                installed.add(host);
            }
        });
        return installed;
    }

    private Optional<HeardDecision> heard(
            RulingGroup group, RoaringBitmap tooLate, RoaringBitmap installedSince, Snapshot snapshot, Instant now) {
        return decision(group.match().source().orElseThrow(), snapshot.decisions())
                .map(decision -> {
                    Map<Hearing, RoaringBitmap> heard =
                            orders.heard(group.hosts(), decision.createdAt(), snapshot, now);
                    Optional<WhyOverdue> overdue =
                            decision instanceof Verdict verdict && verdict.type() == VerdictType.FORCE
                                    ? Optional.of(orders.whyOverdue(verdict, group.hosts(), heard, snapshot, now))
                                    : Optional.empty();
                    return new HeardDecision(
                            RuleMatchView.of(group.match(), snapshot.decisions()),
                            decision.createdAt(),
                            group.hosts().getCardinality(),
                            heard.entrySet().stream()
                                    .map(entry -> new HeardHosts(
                                            entry.getKey(),
                                            HostList.of(snapshot.fleet(), entry.getValue()),
                                            problems(entry.getKey(), entry.getValue())))
                                    .toList(),
                            HostList.of(snapshot.fleet(), tooLate),
                            overdue.map(why -> OverdueHosts.of(why, snapshot.fleet()))
                                    .orElse(List.of()),
                            overdue.flatMap(WhyOverdue::nextWindow),
                            HostList.of(snapshot.fleet(), installedSince));
                });
    }

    private List<String> problems(Hearing hearing, RoaringBitmap hosts) {
        if (hearing != Hearing.NOT_OBEYED && hearing != Hearing.REFUSES) {
            return List.of();
        }
        Map<String, Integer> said = new LinkedHashMap<>();
        hosts.forEach(
                (int host) -> receipts.of(host).flatMap(Receipts.Heard::receipt).ifPresent(receipt -> receipt.problems()
                        .forEach(one -> said.merge(one, 1, Integer::sum))));
        return said.entrySet().stream()
                .sorted(Map.Entry.<String, Integer>comparingByValue().reversed())
                .limit(MOST_PROBLEMS)
                .map(Map.Entry::getKey)
                .toList();
    }

    /** @param hosts that say that what was decided on it is not in force on them */
    record NotObeyed(UpdateId update, String title, HostList hosts) {}

    /** Updates on which something was decided that hosts say is not in force on them, those with most hosts first. */
    @GetMapping("/api/not-obeyed")
    List<NotObeyed> notObeyed(Snapshot snapshot) {
        Map<UpdateId, RoaringBitmap> hosts = new HashMap<>();
        snapshot.fleet().all().forEach((int host) -> receipts.of(host)
                .flatMap(Receipts.Heard::receipt)
                .filter(receipt -> receipt.state() == HeardBy.Became.NOT_IN_FORCE)
                .ifPresent(receipt -> receipt.notInForce()
                        .forEach(id -> hosts.computeIfAbsent(new UpdateId(id), any -> new RoaringBitmap())
                                .add(host))));
        return hosts.entrySet().stream()
                .flatMap(entry -> snapshot.catalogue().update(entry.getKey()).stream()
                        .filter(update -> isDecided(update, snapshot.decisions()))
                        .map(update -> new NotObeyed(
                                update.id(), update.title(), HostList.of(snapshot.fleet(), entry.getValue()))))
                .sorted(Comparator.comparingInt((NotObeyed one) -> -one.hosts().count())
                        .thenComparing(NotObeyed::update))
                .toList();
    }

    private static boolean isDecided(Update update, Decisions decisions) {
        return decisions.verdictsOn(update.id()).stream()
                        .anyMatch(verdict -> verdict.revokedAt().isEmpty())
                || !decisions.exceptionsOn(update).isEmpty();
    }

    private static Optional<? extends Decision> decision(DecisionNumber number, Decisions decisions) {
        if (number instanceof DecisionNumber.OfVerdict verdict) {
            return decisions.verdict(verdict);
        }
        if (number instanceof DecisionNumber.OfException exception) {
            return decisions.exception(exception);
        }
        return number instanceof DecisionNumber.OfFreeze freeze
                ? decisions.freeze(freeze)
                : number instanceof DecisionNumber.OfCaution caution ? decisions.caution(caution) : Optional.empty();
    }

    /**
     * What a host has heard, and what it says became of it.
     *
     * @param askedAt when it last asked for its orders; none: never
     * @param currentAt the last instant at which it is known to have kept what held for it
     * @param serial of the orders that it said it keeps
     */
    record HeardByHost(
            Optional<Instant> askedAt,
            Optional<Instant> currentAt,
            Optional<Instant> receivedAt,
            Optional<Long> serial,
            Optional<HeardBy.Became> became,
            boolean installs,
            String reporter,
            List<String> problems) {}

    @GetMapping("/api/hosts/{name}/heard")
    HeardByHost ofHost(@PathVariable HostName name, Snapshot snapshot) {
        Host host =
                snapshot.fleet().host(name).orElseThrow(() -> ProblemException.notFound("there is no host " + name));
        Optional<Receipts.Heard> heard = receipts.of(host.number());
        Optional<Receipt> receipt = heard.flatMap(Receipts.Heard::receipt);
        return new HeardByHost(
                heard.map(Receipts.Heard::askedAt),
                heard.map(Receipts.Heard::currentAt),
                heard.flatMap(Receipts.Heard::receivedAt),
                receipt.map(Receipt::serial),
                receipt.map(Receipt::state),
                receipt.map(Receipt::installs).orElse(false),
                receipt.map(Receipt::reporter).orElse(""),
                receipt.map(Receipt::problems).orElse(List.of()));
    }
}
