package lucid.core.ruling;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import lucid.core.evidence.Evidence;
import lucid.core.evidence.KnownIssue;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostCondition;
import lucid.core.fleet.Population;
import lucid.core.update.Catalogue;
import lucid.core.update.Kind;
import lucid.core.update.Product;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;

/**
 * An exception: hosts that depart from the verdicts on something until a day, or until something happens if that comes
 * first. After its {@link #end} it has lapsed and no longer counts. (Named so because Java uses the bare word for
 * something else.)
 *
 * <p>A renewal is an exception of its own that goes on from an earlier one, which is taken back in the same moment: so
 * what was in force, and why, is known for every day. So is one that was handed over to another owner.
 *
 * @param effect what is in force instead; withheld is the usual one
 * @param until the end of its last day
 * @param measure what compensates meanwhile
 * @param before those that it goes on from, the first one first; empty for one that was never renewed
 * @param renewals how often it was renewed; a renewal that was taken back does not count
 * @param endsWhen what ends it before its day, where something may
 * @param approver who approved it, where it needed that
 */
public record ExceptionGrant(
        DecisionNumber.OfException number,
        Scope scope,
        HostCondition hosts,
        Effect effect,
        Instant until,
        String reason,
        String owner,
        String measure,
        String author,
        Instant createdAt,
        Optional<Instant> revokedAt,
        List<DecisionNumber.OfException> before,
        int renewals,
        Optional<EndsWhen> endsWhen,
        Optional<String> approver)
        implements Decision {

    /** An exception that goes on from no other and ends on its day. */
    public ExceptionGrant(
            DecisionNumber.OfException number,
            Scope scope,
            HostCondition hosts,
            Effect effect,
            Instant until,
            String reason,
            String owner,
            String measure,
            String author,
            Instant createdAt,
            Optional<Instant> revokedAt) {
        this(
                number,
                scope,
                hosts,
                effect,
                until,
                reason,
                owner,
                measure,
                author,
                createdAt,
                revokedAt,
                List.of(),
                0,
                Optional.empty(),
                Optional.empty());
    }

    /**
     * Something that ends an exception on an update before its day.
     *
     * @param issue identifier of the known issue that is fixed; empty for a successor
     * @param cameTrue when it happened; empty as long as it has not
     */
    public record EndsWhen(Type type, String issue, Optional<Instant> cameTrue) {
        public enum Type {
            /** An update that supersedes it is released. */
            SUCCESSOR,
            /** A known issue of it is fixed. */
            ISSUE_FIXED
        }
    }

    /** What an exception is about. */
    public sealed interface Scope {
        boolean covers(Update update);

        /** Narrower scopes win over wider ones; 0 is the narrowest. */
        int width();

        record OfUpdate(UpdateId updateId) implements Scope {
            @Override
            public boolean covers(Update update) {
                return updateId.equals(update.id());
            }

            @Override
            public int width() {
                return 0;
            }
        }

        /** One product, whatever update changes it. */
        record OfProduct(Product product) implements Scope {
            @Override
            public boolean covers(Update update) {
                return update.fixes().stream()
                        .anyMatch(fix -> fix.build().product().equals(product));
            }

            @Override
            public int width() {
                return 1;
            }
        }

        record OfKind(Kind kind) implements Scope {
            @Override
            public boolean covers(Update update) {
                return update.kind() == kind;
            }

            @Override
            public int width() {
                return 2;
            }
        }
    }

    /** @throws IllegalArgumentException if the effect is none that an exception can have */
    public ExceptionGrant {
        if (effect == Effect.NOTHING_TO_DO) {
            throw new IllegalArgumentException("an exception withholds, offers, or leaves it to the operator");
        }
    }

    @Override
    public boolean covers(Host host, Population entry) {
        return hosts.test(host);
    }

    /** When it lapses: at the end of its last day, or when what it waits for has happened. */
    public Instant end() {
        return endsWhen.flatMap(EndsWhen::cameTrue)
                .filter(early -> early.isBefore(until))
                .orElse(until);
    }

    public boolean endedEarly() {
        return end().isBefore(until);
    }

    public boolean standsAt(Instant instant) {
        return isMadeBy(instant) && instant.isBefore(end());
    }

    /** The number that it had before it was ever renewed: by it, it is known through all renewals. */
    public DecisionNumber.OfException first() {
        return before.isEmpty() ? number : before.get(0);
    }

    /** True if {@code named} names it, or one that it goes on from: a renewal does not undo what went over it. */
    public boolean isNamedIn(Set<? extends DecisionNumber> named) {
        return named.contains(number) || before.stream().anyMatch(named::contains);
    }

    /** True if what it waits for has happened. It is looked at while it stands, and then {@link #ended}. */
    public boolean isToEnd(Catalogue catalogue, Evidence evidence) {
        return endsWhen.filter(when -> when.cameTrue().isEmpty()
                        && switch (when.type()) {
                            case SUCCESSOR ->
                                scope instanceof Scope.OfUpdate of
                                        && catalogue.successorsOf(of.updateId()).stream()
                                                .anyMatch(Update::canBeOffered);
                            case ISSUE_FIXED ->
                                Optional.ofNullable(evidence.issues().get(when.issue()))
                                        .filter(issue -> issue.state() == KnownIssue.State.FIXED)
                                        .isPresent();
                        })
                .isPresent();
    }

    public ExceptionGrant ended(Instant instant) {
        return with(revokedAt, endsWhen.map(when -> new EndsWhen(when.type(), when.issue(), Optional.of(instant))));
    }

    public ExceptionGrant revoked(Instant instant) {
        return with(Optional.of(instant), endsWhen);
    }

    private ExceptionGrant with(Optional<Instant> nextRevokedAt, Optional<EndsWhen> nextEndsWhen) {
        return new ExceptionGrant(
                number,
                scope,
                hosts,
                effect,
                until,
                reason,
                owner,
                measure,
                author,
                createdAt,
                nextRevokedAt,
                before,
                renewals,
                nextEndsWhen,
                approver);
    }

    /** One that goes on from this until another day, with another reason; nobody had to approve it. */
    public ExceptionGrant renewed(
            DecisionNumber.OfException next, Instant nextUntil, String nextReason, String nextAuthor, Instant at) {
        return goesOn(next, nextUntil, nextReason, owner, nextAuthor, at, renewals + 1, Optional.empty());
    }

    public ExceptionGrant approvedBy(Optional<String> nextApprover) {
        return new ExceptionGrant(
                number,
                scope,
                hosts,
                effect,
                until,
                reason,
                owner,
                measure,
                author,
                createdAt,
                revokedAt,
                before,
                renewals,
                endsWhen,
                nextApprover);
    }

    /** One that goes on from this with another owner; nothing else becomes other. */
    public ExceptionGrant handedTo(DecisionNumber.OfException next, String nextOwner, Instant at) {
        return goesOn(next, until, reason, nextOwner, author, at, renewals, approver);
    }

    /** One that goes on from this, which went on from {@code earlier}, as if it had not. */
    public ExceptionGrant as(DecisionNumber.OfException next, ExceptionGrant earlier, Instant at) {
        return goesOn(
                next,
                earlier.until,
                earlier.reason,
                earlier.owner,
                earlier.author,
                at,
                earlier.renewals,
                earlier.approver);
    }

    private ExceptionGrant goesOn(
            DecisionNumber.OfException next,
            Instant nextUntil,
            String nextReason,
            String nextOwner,
            String nextAuthor,
            Instant at,
            int nextRenewals,
            Optional<String> nextApprover) {
        return new ExceptionGrant(
                next,
                scope,
                hosts,
                effect,
                nextUntil,
                nextReason,
                nextOwner,
                measure,
                nextAuthor,
                at,
                Optional.empty(),
                Stream.concat(before.stream(), Stream.of(number)).toList(),
                nextRenewals,
                endsWhen,
                nextApprover);
    }
}
