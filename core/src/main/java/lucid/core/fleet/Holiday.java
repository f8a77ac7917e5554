package lucid.core.fleet;

import java.time.LocalDate;

/**
 * Whole days on which few people work.
 *
 * @param last the same as {@code first} for a single day
 */
public record Holiday(LocalDate first, LocalDate last, String name) {

    /** @throws IllegalArgumentException if it ends before it begins */
    public Holiday {
        if (last.isBefore(first)) {
            throw new IllegalArgumentException("'" + name + "' ends on " + last + ", before it begins on " + first);
        }
    }

    boolean isOn(LocalDate day) {
        return !day.isBefore(first) && !day.isAfter(last);
    }
}
