package lucid.core.update;

import java.util.Locale;
import java.util.Optional;
import java.util.stream.Stream;

/**
 * With whom a document may be shared, the widest circle first (Traffic Light Protocol 2.0, FIRST, August 2022; its
 * earlier version said WHITE for CLEAR).
 */
public enum SharingLevel {
    CLEAR,
    GREEN,
    AMBER,
    AMBER_STRICT,
    RED;

    /** As the protocol writes it: {@code AMBER+STRICT}. */
    public String word() {
        return name().replace('_', '+');
    }

    /** The level of that label, with or without {@code TLP:} before it; empty for none of them. */
    public static Optional<SharingLevel> ofLabel(String label) {
        String word = label.strip().toUpperCase(Locale.ROOT).replaceFirst("^TLP:", "");
        return word.equals("WHITE")
                ? Optional.of(CLEAR)
                : Stream.of(values()).filter(level -> level.word().equals(word)).findFirst();
    }
}
