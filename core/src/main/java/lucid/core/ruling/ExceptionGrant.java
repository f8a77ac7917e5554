package lucid.core.ruling;

import java.time.Instant;
import java.util.Optional;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostCondition;
import lucid.core.fleet.Population;
import lucid.core.update.Kind;
import lucid.core.update.Product;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;

/**
 * An exception: hosts that depart from the verdicts on something until a day. After that instant it has lapsed and no
 * longer counts. (Named so because Java uses the bare word for something else.)
 *
 * @param effect what holds instead; withheld is the usual one
 * @param measure what compensates meanwhile
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
        Optional<Instant> revokedAt)
        implements Decision {

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

    public boolean standsAt(Instant instant) {
        return isMadeBy(instant) && instant.isBefore(until);
    }

    public ExceptionGrant revoked(Instant instant) {
        return new ExceptionGrant(
                number, scope, hosts, effect, until, reason, owner, measure, author, createdAt, Optional.of(instant));
    }
}
