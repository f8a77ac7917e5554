package lucid.core.fleet;

import java.time.DayOfWeek;
import java.time.LocalTime;
import java.time.format.DateTimeParseException;
import java.util.ArrayList;
import java.util.EnumSet;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * Hours that come back every week, in local wall time: "mon-fri 06:00-23:00". They begin on each of the days; those
 * that end at or before the time at which they begin last over midnight, and belong to the day on which they begin.
 */
public record WeekSpan(Set<DayOfWeek> days, LocalTime from, LocalTime to) {

    private static final Pattern TEXT =
            Pattern.compile("(?<days>.+?)\\s+(?<from>\\d{1,2}:\\d{2})\\s*[-–]\\s*(?<to>\\d{1,2}:\\d{2})");
    private static final Pattern DAYS = Pattern.compile("(?<first>[a-z]+)\\s*(?:[-–]\\s*(?<last>[a-z]+))?");
    private static final String EVERY_DAY = "daily";
    private static final String END_OF_DAY = "24:00";

    public WeekSpan {
        if (days.isEmpty()) {
            throw new IllegalArgumentException("hours need a day of the week");
        }
        days = Set.copyOf(days);
    }

    boolean endsNextDay() {
        return !to.isAfter(from);
    }

    /**
     * Reads "mon-fri 06:00-23:00", "sat, sun 22:00-02:00", "daily 00:00-24:00"; days may be written in full.
     *
     * @throws IllegalArgumentException saying what is wrong with it
     */
    public static WeekSpan parse(String text) {
        Matcher whole = TEXT.matcher(text.strip().toLowerCase(Locale.ROOT));
        if (!whole.matches()) {
            throw new IllegalArgumentException(
                    "'" + text.strip() + "' is not hours such as 'mon-fri 06:00-23:00' or 'daily 22:00-02:00'");
        }
        EnumSet<DayOfWeek> days = EnumSet.noneOf(DayOfWeek.class);
        if (whole.group("days").equals(EVERY_DAY)) {
            days = EnumSet.allOf(DayOfWeek.class);
        } else {
            for (String part : whole.group("days").split("\\s*,\\s*")) {
                days.addAll(days(part));
            }
        }
        String to = whole.group("to");
        return new WeekSpan(days, time(whole.group("from")), to.equals(END_OF_DAY) ? LocalTime.MIDNIGHT : time(to));
    }

    private static Set<DayOfWeek> days(String part) {
        Matcher range = DAYS.matcher(part);
        if (!range.matches()) {
            throw new IllegalArgumentException("'" + part + "' is no day of the week");
        }
        DayOfWeek first = day(range.group("first"));
        DayOfWeek last = range.group("last") == null ? first : day(range.group("last"));
        EnumSet<DayOfWeek> days = EnumSet.of(first);
        for (DayOfWeek day = first; day != last; ) {
            day = day.plus(1);
            days.add(day);
        }
        return days;
    }

    private static DayOfWeek day(String word) {
        for (DayOfWeek day : DayOfWeek.values()) {
            if (word.length() >= 3 && day.name().toLowerCase(Locale.ROOT).startsWith(word)) {
                return day;
            }
        }
        throw new IllegalArgumentException("'" + word + "' is no day of the week");
    }

    private static LocalTime time(String text) {
        try {
            return LocalTime.parse(text.length() == 4 ? "0" + text : text);
        } catch (DateTimeParseException e) {
            throw new IllegalArgumentException("'" + text + "' is no time of the day");
        }
    }

    /** As {@link #parse} reads it: "mon-fri 06:00-23:00". */
    @Override
    public String toString() {
        return daysText() + " " + from + "-" + (to.equals(LocalTime.MIDNIGHT) ? END_OF_DAY : to);
    }

    private String daysText() {
        if (days.size() == DayOfWeek.values().length) {
            return EVERY_DAY;
        }
        List<String> parts = new ArrayList<>();
        for (DayOfWeek first : DayOfWeek.values()) {
            if (days.contains(first) && !days.contains(first.minus(1))) {
                DayOfWeek last = first;
                while (days.contains(last.plus(1))) {
                    last = last.plus(1);
                }
                parts.add(word(first) + (first == last ? "" : "-" + word(last)));
            }
        }
        return String.join(",", parts);
    }

    private static String word(DayOfWeek day) {
        return day.name().substring(0, 3).toLowerCase(Locale.ROOT);
    }
}
