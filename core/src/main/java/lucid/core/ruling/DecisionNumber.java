package lucid.core.ruling;

/**
 * The number of a decision among those of its kind; later ones are higher. That of a verdict is never that of an
 * exception.
 */
public sealed interface DecisionNumber {

    /** From 1. */
    long value();

    record OfVerdict(long value) implements DecisionNumber, Comparable<OfVerdict> {
        @Override
        public int compareTo(OfVerdict other) {
            return Long.compare(value, other.value);
        }

        @Override
        public String toString() {
            return Long.toString(value);
        }
    }

    record OfException(long value) implements DecisionNumber, Comparable<OfException> {
        @Override
        public int compareTo(OfException other) {
            return Long.compare(value, other.value);
        }

        @Override
        public String toString() {
            return Long.toString(value);
        }
    }

    record OfFreeze(long value) implements DecisionNumber, Comparable<OfFreeze> {
        @Override
        public int compareTo(OfFreeze other) {
            return Long.compare(value, other.value);
        }

        @Override
        public String toString() {
            return Long.toString(value);
        }
    }

    record OfCaution(long value) implements DecisionNumber, Comparable<OfCaution> {
        @Override
        public int compareTo(OfCaution other) {
            return Long.compare(value, other.value);
        }

        @Override
        public String toString() {
            return Long.toString(value);
        }
    }

    record OfAcknowledgement(long value) implements DecisionNumber, Comparable<OfAcknowledgement> {
        @Override
        public int compareTo(OfAcknowledgement other) {
            return Long.compare(value, other.value);
        }

        @Override
        public String toString() {
            return Long.toString(value);
        }
    }
}
