package lucid.server.intake;

import java.lang.reflect.InvocationTargetException;
import java.lang.reflect.RecordComponent;
import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Collectors;

/**
 * One point in which a newer reader reads a document otherwise.
 *
 * @param subject what it is about: an update, an issue, a report
 * @param part which part of it, in words
 * @param before as it counts; empty where it was not read
 * @param now as it is read now; empty where it is not read any more
 */
public record ReadingDifference(String subject, String part, String before, String now) {

    private static final int LONGEST = 1_000;

    /**
     * The parts in which two records of one type differ; a record that only one side has differs as a whole.
     *
     * @param <R> what was read: a record
     */
    public static <R> List<ReadingDifference> between(
            String subject, Optional<? extends R> before, Optional<? extends R> now) {
        if (before.isEmpty() || now.isEmpty()) {
            return before.isEmpty() && now.isEmpty()
                    ? List.of()
                    : List.of(new ReadingDifference(subject, "all of it", words(before), words(now)));
        }
        List<ReadingDifference> differences = new ArrayList<>();
        for (RecordComponent part : before.get().getClass().getRecordComponents()) {
            Object was = value(part, before.get());
            Object is = value(part, now.get());
            if (!Objects.equals(was, is)) {
                differences.add(new ReadingDifference(subject, words(part.getName()), words(was), words(is)));
            }
        }
        return differences;
    }

    private static Object value(RecordComponent part, Object of) {
        try {
            return part.getAccessor().invoke(of);
        } catch (IllegalAccessException | InvocationTargetException e) {
            throw new IllegalStateException(e);
        }
    }

    /** {@code revisionWords} as "revision words". */
    private static String words(String camelCase) {
        return camelCase.replaceAll("([A-Z])", " $1").toLowerCase(Locale.ROOT);
    }

    private static String words(Object value) {
        if (value instanceof Optional<?> optional) {
            return optional.map(ReadingDifference::words).orElse("");
        }
        if (value instanceof Collection<?> several) {
            return cut(several.stream().map(ReadingDifference::words).collect(Collectors.joining("; ")));
        }
        // What has words of its own is said in them.
        if (value instanceof Record record
                && record.toString().startsWith(record.getClass().getSimpleName() + "[")) {
            List<String> parts = new ArrayList<>();
            for (RecordComponent part : record.getClass().getRecordComponents()) {
                String words = words(value(part, record));
                if (!words.isEmpty()) {
                    parts.add(words);
                }
            }
            return cut(String.join(", ", parts));
        }
        return cut(String.valueOf(value));
    }

    private static String cut(String text) {
        return KeptDocuments.cut(text, LONGEST);
    }
}
