package lucid.core.fleet;

import java.util.List;
import java.util.stream.Collectors;

/**
 * A condition on hosts, written as in {@code reader = R2 and spool_free_mb < 300}. {@link HostConditions} reads it;
 * {@link #toString()} prints it back in one canonical way, which reads as the same condition.
 *
 * <p>A trait that is not set satisfies no comparison, not even {@code ≠}; {@code is not set} asks for it. {@code not}
 * is plain negation.
 */
public sealed interface HostCondition {

    boolean test(Host host);

    /** {@code trait op value}. Values of different types are never equal and never in order. */
    record Comparison(String trait, Operator operator, Trait value) implements HostCondition {
        @Override
        public boolean test(Host host) {
            return host.trait(trait)
                    .filter(found -> operator.holds(found, value))
                    .isPresent();
        }

        @Override
        public String toString() {
            return ConditionText.word(trait) + " " + operator + " " + ConditionText.literal(value);
        }
    }

    /** {@code trait in (a, b)}. */
    record Membership(String trait, List<Trait> values) implements HostCondition {
        @Override
        public boolean test(Host host) {
            return host.trait(trait).filter(values::contains).isPresent();
        }

        @Override
        public String toString() {
            return ConditionText.word(trait) + " in ("
                    + values.stream().map(ConditionText::literal).collect(Collectors.joining(", ")) + ")";
        }
    }

    /** {@code trait is set}. */
    record IsSet(String trait) implements HostCondition {
        @Override
        public boolean test(Host host) {
            return host.trait(trait).isPresent();
        }

        @Override
        public String toString() {
            return ConditionText.word(trait) + " is set";
        }
    }

    record Not(HostCondition inner) implements HostCondition {
        @Override
        public boolean test(Host host) {
            return !inner.test(host);
        }

        @Override
        public String toString() {
            if (inner instanceof IsSet isSet) {
                return ConditionText.word(isSet.trait()) + " is not set";
            }
            return "not " + (inner instanceof And || inner instanceof Or ? "(" + inner + ")" : inner.toString());
        }
    }

    record And(List<HostCondition> parts) implements HostCondition {
        @Override
        public boolean test(Host host) {
            return parts.stream().allMatch(part -> part.test(host));
        }

        @Override
        public String toString() {
            return parts.stream()
                    .map(p -> p instanceof Or ? "(" + p + ")" : p.toString())
                    .collect(Collectors.joining(" and "));
        }
    }

    record Or(List<HostCondition> parts) implements HostCondition {
        @Override
        public boolean test(Host host) {
            return parts.stream().anyMatch(part -> part.test(host));
        }

        @Override
        public String toString() {
            return parts.stream().map(HostCondition::toString).collect(Collectors.joining(" or "));
        }
    }

    /** The comparison operators; the last four are for numbers only. */
    enum Operator {
        EQUAL("="),
        NOT_EQUAL("≠"),
        LESS("<"),
        AT_MOST("≤"),
        GREATER(">"),
        AT_LEAST("≥");

        private final String sign;

        Operator(String sign) {
            this.sign = sign;
        }

        boolean ordersNumbers() {
            return this != EQUAL && this != NOT_EQUAL;
        }

        boolean holds(Trait left, Trait right) {
            if (left.type() != right.type()) {
                return false;
            }
            if (!ordersNumbers()) {
                return left.equals(right) == (this == EQUAL);
            }
            if (!(left instanceof Trait.Number a) || !(right instanceof Trait.Number b)) {
                return false;
            }
            int order = a.value().compareTo(b.value());
            return switch (this) {
                case LESS -> order < 0;
                case AT_MOST -> order <= 0;
                case GREATER -> order > 0;
                default -> order >= 0;
            };
        }

        @Override
        public String toString() {
            return sign;
        }
    }
}
