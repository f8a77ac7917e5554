package lucid.server.exceptions;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import lucid.core.approval.ApprovalRules;
import lucid.core.approval.Ground;
import lucid.core.evidence.KnownExploited;
import lucid.core.exceptions.ExceptionAccounts;
import lucid.core.fleet.Population;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Effect;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.server.access.FormerPeople;
import lucid.server.proposals.StoredApprovalRules;
import lucid.server.snapshot.Snapshot;
import lucid.server.views.Views.ExceptionView;
import lucid.server.views.Views.HostList;
import lucid.server.views.Views.RulingGroupView;
import lucid.server.web.ListFile;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** All exceptions, from the first day to after their end, with what they cost and what their ends bring. */
@RestController
@RequestMapping("/api/exceptions")
class ExceptionListController {

    private static final int PAGE = 50;
    private static final int MOST_UPDATES = 20;
    private static final int OFTEN = 3;

    /** What ends, or ended, within this time asks somebody to do something. */
    private static final Duration SOON = Duration.ofDays(7);

    private final FormerPeople former;
    private final StoredApprovalRules rules;
    private final Clock clock;

    ExceptionListController(FormerPeople former, StoredApprovalRules rules, Clock clock) {
        this.former = former;
        this.rules = rules;
        this.clock = clock;
    }

    /** Which exceptions are shown. */
    enum Show {
        /** Those that stand, and those that ended within the last thirty days. */
        CURRENT,
        /** Those that end within fourteen days, or ended within seven. */
        ENDING,
        ALL
    }

    /**
     * One of a chain of renewals.
     *
     * @param takenBack true for a renewal or a handing over that was taken back
     */
    record RenewalView(
            DecisionNumber.OfException number,
            Instant createdAt,
            Instant until,
            String reason,
            String author,
            String owner,
            boolean takenBack) {}

    /** @param after what is in force for the hosts when it has ended; for one that has, what is now */
    record UnderException(
            UpdateId update, String title, HostList hosts, double exposure, List<RulingGroupView> after) {}

    /**
     * @param until the end of its last day; {@code end} is before that where it ended early
     * @param ended when it ended or was taken back, if it did
     * @param history the earlier ones that it goes on from, and itself, the first one first
     * @param ownerLeft true if its owner had an account once and has none now
     * @param approver who approved it, where it needed that
     * @param named hosts that its condition names, whatever they carry
     * @param hosts those that lack an update and for which it is, or was, in force
     * @param exposure in points
     * @param updates at most 20, the most exposed first
     * @param moreUpdates how many there are beside these
     * @param exploitedSince identifiers of vulnerabilities that are known to be exploited since it was made or renewed
     * @param mostlyExcepted names of populations of whose hosts more than half are under exceptions on one update
     * @param overriding forces that stand and go over it
     * @param renewalGrounds why it needs an approver to go on; none: it does not
     */
    record ExceptionRow(
            DecisionNumber.OfException number,
            ExceptionAccounts.State state,
            String about,
            Optional<UpdateId> update,
            String title,
            String where,
            Effect effect,
            Instant since,
            Instant until,
            Instant end,
            Optional<Instant> ended,
            String timeZone,
            Optional<ExceptionGrant.EndsWhen> endsWhen,
            int renewals,
            boolean renewedOften,
            List<RenewalView> history,
            String reason,
            String owner,
            boolean ownerLeft,
            String measure,
            String author,
            Optional<String> approver,
            HostList named,
            HostList hosts,
            double exposure,
            double hostDaysSoFar,
            double hostDaysToCome,
            List<UnderException> updates,
            int moreUpdates,
            List<String> exploitedSince,
            List<String> mostlyExcepted,
            List<OverridingForce> overriding,
            List<Ground> renewalGrounds) {}

    /** @param end when it is or was due */
    record OverridingForce(DecisionNumber.OfVerdict number, UpdateId update, String author, Instant end) {}

    /**
     * @param matching how many there are in all
     * @param next number of the first row of the next page, if there is one
     * @param owners of all that stand
     */
    record ExceptionPage(
            List<ExceptionRow> rows,
            int matching,
            Optional<Integer> next,
            ExceptionSummary summary,
            Set<String> owners,
            double[] tierWeights) {}

    /**
     * @param standing how many stand
     * @param asking of these and of those that ended within a week, how many ask somebody to do something: they end or
     *     ended within a week, or their owner has left
     */
    record ExceptionSummary(int standing, int asking) {}

    @GetMapping("/summary")
    ExceptionSummary summary(Snapshot snapshot) {
        Instant now = clock.instant();
        return summary(accounts(snapshot, now).chains(), former.now(), now);
    }

    private static ExceptionSummary summary(List<ExceptionGrant> chains, FormerPeople.Left left, Instant now) {
        return new ExceptionSummary(
                (int) chains.stream().filter(one -> one.standsAt(now)).count(), (int) chains.stream()
                        .filter(one -> one.revokedAt().isEmpty()
                                && (isNear(one.end(), now) || one.standsAt(now) && left.has(one.owner())))
                        .count());
    }

    @GetMapping
    ExceptionPage page(
            @RequestParam(defaultValue = "CURRENT") Show show,
            @RequestParam Optional<String> owner,
            @RequestParam Optional<String> text,
            @RequestParam(defaultValue = "0") int from,
            Snapshot snapshot) {
        Instant now = clock.instant();
        FormerPeople.Left left = former.now();
        ApprovalRules asked = rules.now();
        ExceptionAccounts accounts = accounts(snapshot, now);
        List<ExceptionGrant> chains = accounts.chains();
        List<ExceptionGrant> matching = chains.stream()
                .filter(shown(show, now).and(matching(owner, text, snapshot)))
                .toList();
        int first = Math.min(Math.max(from, 0), matching.size());
        List<ExceptionGrant> page = matching.subList(first, Math.min(first + PAGE, matching.size()));
        return new ExceptionPage(
                page.stream()
                        .map(one -> row(accounts.of(one), snapshot, left, asked))
                        .toList(),
                matching.size(),
                first + page.size() < matching.size() ? Optional.of(first + page.size()) : Optional.empty(),
                summary(chains, left, now),
                chains.stream()
                        .filter(one -> one.standsAt(now))
                        .map(ExceptionGrant::owner)
                        .collect(Collectors.toCollection(TreeSet::new)),
                new double[] {
                    snapshot.weights().ofTier(1),
                    snapshot.weights().ofTier(2),
                    snapshot.weights().ofTier(3),
                    snapshot.weights().ofTier(4)
                });
    }

    @GetMapping(path = "/exceptions.csv", produces = "text/csv")
    ResponseEntity<ListFile> csv(
            @RequestParam(defaultValue = "CURRENT") Show show,
            @RequestParam Optional<String> owner,
            @RequestParam Optional<String> text,
            Snapshot snapshot) {
        Instant now = clock.instant();
        FormerPeople.Left left = former.now();
        ApprovalRules asked = rules.now();
        ExceptionAccounts accounts = accounts(snapshot, now);
        return ListFile.csv(
                "exceptions.csv",
                List.of(
                        "number",
                        "state",
                        "about",
                        "title",
                        "where",
                        "effect",
                        "since",
                        "end",
                        "renewals",
                        "owner",
                        "owner has left",
                        "reason",
                        "measure",
                        "hosts",
                        "exposure",
                        "host-days so far",
                        "host-days to come",
                        "exploited since"),
                accounts.chains().stream()
                        .filter(shown(show, now).and(matching(owner, text, snapshot)))
                        .map(one -> row(accounts.of(one), snapshot, left, asked))
                        .map(row -> List.of(
                                row.number(),
                                row.state().name().toLowerCase(Locale.ROOT),
                                row.about(),
                                row.title(),
                                row.where(),
                                ExceptionWords.effect(row.effect()),
                                row.since(),
                                row.end(),
                                row.renewals(),
                                row.owner(),
                                row.ownerLeft() ? "has left" : "",
                                row.reason(),
                                row.measure(),
                                row.hosts().count(),
                                row.exposure(),
                                row.hostDaysSoFar(),
                                row.hostDaysToCome(),
                                String.join(" ", row.exploitedSince()))));
    }

    private static ExceptionAccounts accounts(Snapshot snapshot, Instant now) {
        return new ExceptionAccounts(
                snapshot.carriages(), snapshot.decisions(), snapshot.evidence(), snapshot.weights(), now);
    }

    private static boolean isNear(Instant end, Instant now) {
        return end.isAfter(now.minus(SOON)) && !end.isAfter(now.plus(SOON));
    }

    private static Predicate<ExceptionGrant> shown(Show show, Instant now) {
        return switch (show) {
            case ALL -> exception -> true;
            case CURRENT -> exception -> ExceptionAccounts.overSince(exception).isAfter(now.minus(Duration.ofDays(30)));
            case ENDING ->
                exception -> exception.revokedAt().isEmpty()
                        && exception.end().isAfter(now.minus(SOON))
                        && !exception.end().isAfter(now.plus(ExceptionAccounts.ENDING));
        };
    }

    private static Predicate<ExceptionGrant> matching(
            Optional<String> owner, Optional<String> text, Snapshot snapshot) {
        Optional<String> wanted =
                text.map(words -> words.strip().toLowerCase(Locale.ROOT)).filter(words -> !words.isEmpty());
        return exception -> owner.filter(one -> !one.equals(exception.owner())).isEmpty()
                && (wanted.isEmpty()
                        || Stream.of(
                                        ExceptionView.about(exception),
                                        update(exception, snapshot)
                                                .map(Update::title)
                                                .orElse(""),
                                        exception.hosts().toString(),
                                        exception.reason(),
                                        exception.measure())
                                .anyMatch(part -> part.toLowerCase(Locale.ROOT).contains(wanted.get())));
    }

    private static Optional<Update> update(ExceptionGrant exception, Snapshot snapshot) {
        return exception.scope() instanceof ExceptionGrant.Scope.OfUpdate of
                ? snapshot.catalogue().update(of.updateId())
                : Optional.empty();
    }

    private static ExceptionRow row(
            ExceptionAccounts.Account account, Snapshot snapshot, FormerPeople.Left left, ApprovalRules rules) {
        ExceptionGrant exception = account.exception();
        Optional<Update> update = update(exception, snapshot);
        List<ExceptionAccounts.OfUpdate> shown = account.updates()
                .subList(0, Math.min(MOST_UPDATES, account.updates().size()));
        boolean over =
                account.state() == ExceptionAccounts.State.CLOSED || account.state() == ExceptionAccounts.State.LAPSED;
        return new ExceptionRow(
                exception.number(),
                account.state(),
                ExceptionView.about(exception),
                update.map(Update::id),
                update.map(Update::title).orElse(""),
                exception.hosts().toString(),
                exception.effect(),
                account.since(),
                exception.until(),
                exception.end(),
                over ? Optional.of(ExceptionAccounts.overSince(exception)) : Optional.empty(),
                ExceptionWords.zone(snapshot.fleet(), exception.hosts()).getId(),
                exception.endsWhen(),
                exception.renewals(),
                exception.renewals() >= OFTEN,
                history(exception, snapshot),
                exception.reason(),
                exception.owner(),
                left.has(exception.owner()),
                exception.measure(),
                exception.author(),
                exception.approver(),
                HostList.of(snapshot.fleet(), account.named()),
                HostList.of(snapshot.fleet(), account.hosts()),
                account.exposure(),
                account.hostDaysSoFar(),
                account.hostDaysToCome(),
                shown.stream()
                        .map(of -> new UnderException(
                                of.update().id(),
                                of.update().title(),
                                HostList.of(snapshot.fleet(), of.hosts()),
                                of.exposure(),
                                of.then().stream()
                                        .map(group -> RulingGroupView.of(group, snapshot.fleet(), snapshot.decisions()))
                                        .toList()))
                        .toList(),
                account.updates().size() - shown.size(),
                account.exploitedSince().stream().map(KnownExploited::cve).toList(),
                account.mostlyExcepted().stream()
                        .flatMap(id -> snapshot.fleet().ladder().entry(id).stream())
                        .map(Population::name)
                        .toList(),
                account.overriding().stream()
                        .map(force ->
                                new OverridingForce(force.number(), force.updateId(), force.author(), force.end()))
                        .toList(),
                List.copyOf(Ground.of(exception, snapshot.fleet(), rules)));
    }

    private static List<RenewalView> history(ExceptionGrant exception, Snapshot snapshot) {
        List<ExceptionGrant> chain = Stream.concat(
                        exception.before().stream().flatMap(number -> snapshot.decisions().exception(number).stream()),
                        Stream.of(exception))
                .toList();
        return IntStream.range(0, chain.size())
                .mapToObj(i -> {
                    ExceptionGrant one = chain.get(i);
                    return new RenewalView(
                            one.number(),
                            one.createdAt(),
                            one.until(),
                            one.reason(),
                            one.author(),
                            one.owner(),
                            isTakenBack(chain, i));
                })
                .toList();
    }

    /** What goes on as the one before it was takes it back. */
    private static boolean isTakenBack(List<ExceptionGrant> chain, int place) {
        if (place == 0 || place + 1 == chain.size()) {
            return false;
        }
        ExceptionGrant before = chain.get(place - 1);
        ExceptionGrant after = chain.get(place + 1);
        return after.renewals() == before.renewals()
                && after.owner().equals(before.owner())
                && after.until().equals(before.until());
    }
}
