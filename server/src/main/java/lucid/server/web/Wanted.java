package lucid.server.web;

import java.lang.reflect.RecordComponent;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Arrays;
import java.util.Collection;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/** What a field or parameter of a type may be, in words that a caller can act on. */
final class Wanted {

    private Wanted() {}

    /** A few words that can stand before "is expected". */
    static String words(Class<?> type) {
        if (type.isEnum()) {
            return "one of "
                    + Stream.of(type.getEnumConstants()).map(String::valueOf).collect(Collectors.joining(", "));
        }
        if (type == boolean.class || type == Boolean.class) {
            return "true or false";
        }
        if (type == int.class || type == Integer.class || type == long.class || type == Long.class) {
            return "a whole number";
        }
        if (type == double.class || type == Double.class) {
            return "a number";
        }
        if (type == LocalDate.class) {
            return "a day such as 2026-12-14";
        }
        if (type == Instant.class) {
            return "an instant such as 2026-12-14T08:00:00Z";
        }
        if (Collection.class.isAssignableFrom(type) || type.isArray()) {
            return "a list";
        }
        if (type.isRecord() && type.getRecordComponents().length > 1) {
            return object(type);
        }
        return Map.class.isAssignableFrom(type) ? "an object" : "a text";
    }

    /** What a body with these fields is, of which one alone would be taken for a text of its own. */
    static String object(Class<?> type) {
        return "an object with "
                + Arrays.stream(type.getRecordComponents())
                        .map(RecordComponent::getName)
                        .collect(Collectors.joining(", "));
    }
}
