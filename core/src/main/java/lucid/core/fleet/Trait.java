package lucid.core.fleet;

import java.math.BigDecimal;

/** The value of one typed fact about a host. */
public sealed interface Trait {

    Type type();

    /**
     * What a text says where nobody tells its type: {@code true} or {@code false}, a plain decimal number, else the
     * text itself.
     */
    static Trait ofText(String text) {
        if (text.equals("true") || text.equals("false")) {
            return new Truth(text.equals("true"));
        }
        return text.matches("-?\\d{1,30}(\\.\\d{1,30})?") ? new Number(new BigDecimal(text)) : new Text(text);
    }

    /** The types of traits, with the words of the condition language's messages. */
    enum Type {
        TEXT("text"),
        NUMBER("a number"),
        TRUTH("true or false");

        private final String words;

        Type(String words) {
            this.words = words;
        }

        String words() {
            return words;
        }
    }

    record Text(String value) implements Trait {
        @Override
        public Type type() {
            return Type.TEXT;
        }

        @Override
        public String toString() {
            return value;
        }
    }

    /** Numbers are equal by value: 300 and 300.0 are the same. */
    record Number(BigDecimal value) implements Trait {

        /**
         * Digits before or behind the point; written out, a number of ten characters such as 1e99999999 would fill the
         * memory.
         */
        private static final int MOST_DIGITS = 50;

        /** @throws IllegalArgumentException for a number with more than 50 digits before or behind the point */
        public Number {
            value = value.stripTrailingZeros();
            if (value.scale() > MOST_DIGITS || (long) value.precision() - value.scale() > MOST_DIGITS) {
                throw new IllegalArgumentException(
                        "a number has at most " + MOST_DIGITS + " digits before and behind the point");
            }
        }

        public Number(long value) {
            this(BigDecimal.valueOf(value));
        }

        @Override
        public Type type() {
            return Type.NUMBER;
        }

        @Override
        public String toString() {
            return value.toPlainString();
        }
    }

    record Truth(boolean value) implements Trait {
        @Override
        public Type type() {
            return Type.TRUTH;
        }

        @Override
        public String toString() {
            return String.valueOf(value);
        }
    }
}
