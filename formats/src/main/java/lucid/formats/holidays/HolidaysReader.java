package lucid.formats.holidays;

import biweekly.ICalendar;
import biweekly.component.VEvent;
import biweekly.io.text.ICalReader;
import biweekly.property.DateOrDateTimeProperty;
import biweekly.property.RawProperty;
import biweekly.property.RecurrenceId;
import biweekly.property.Uid;
import biweekly.util.DateTimeComponents;
import biweekly.util.Duration;
import biweekly.util.Frequency;
import biweekly.util.com.google.ical.compat.javautil.DateIterator;
import java.io.IOException;
import java.io.StringReader;
import java.nio.charset.StandardCharsets;
import java.time.DateTimeException;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.Date;
import java.util.EnumSet;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.TimeZone;
import java.util.stream.Stream;
import lucid.core.fleet.Holiday;
import lucid.formats.document.OpenedDocument;
import lucid.formats.document.Problem;
import lucid.formats.document.RefusedDocumentException;
import lucid.formats.document.Texts;

/**
 * Reads holidays from an iCalendar file (RFC 5545): its events that last whole days, also those that come back. What is
 * at a time of the day is no holiday.
 */
public final class HolidaysReader {

    private static final int LONGEST_FILE = 4 * 1024 * 1024;
    private static final int LONGEST_NAME = 100;
    /** A holiday that lasts longer is a mistake, or a season. */
    private static final int MOST_DAYS_ON_END = 35;

    private static final int MOST_HOLIDAYS = 2_000;
    private static final int FIRST_YEAR = 1900;
    private static final String BEGINNING = "BEGIN:VCALENDAR";
    private static final String UNNAMED = "Holiday";
    private static final Set<Frequency> BY_DAY =
            EnumSet.of(Frequency.YEARLY, Frequency.MONTHLY, Frequency.WEEKLY, Frequency.DAILY);

    /** The day of a date is the same wherever the library and this ask for it alike. */
    private static final TimeZone LIBRARY_ZONE = TimeZone.getDefault();

    private final LocalDate from;
    private final LocalDate until;
    private final List<Holiday> days = new ArrayList<>();
    private final List<Problem> leftOut = new ArrayList<>();
    private final Set<String> movedElsewhere = new HashSet<>();
    private int past;

    private HolidaysReader(LocalDate from, LocalDate until) {
        this.from = from;
        this.until = until;
    }

    /**
     * What a file says.
     *
     * @param name of the calendar, where it has one
     * @param days in their order
     * @param past how many of its events are over
     * @param leftOut what could not be taken, with line or event
     */
    public record Read(Optional<String> name, List<Holiday> days, int past, List<Problem> leftOut) {}

    /**
     * @param from first day that is of interest
     * @param until last day up to which what comes back is taken
     * @throws RefusedDocumentException if this is no iCalendar file, or says more than can be taken
     */
    public static Read read(byte[] file, LocalDate from, LocalDate until) {
        OpenedDocument opened = OpenedDocument.of(file);
        if (opened.bytes().length > LONGEST_FILE) {
            throw new RefusedDocumentException("", "the file is longer than " + LONGEST_FILE / 1024 / 1024 + " MB");
        }
        return new HolidaysReader(from, until).read(opened.text());
    }

    /** True if the first line says so. */
    public static boolean recognises(byte[] file) {
        return new String(file, 0, Math.min(file.length, BEGINNING.length()), StandardCharsets.US_ASCII)
                .equalsIgnoreCase(BEGINNING);
    }

    private Read read(String text) {
        List<ICalendar> calendars = calendars(text);
        List<VEvent> events = calendars.stream()
                .flatMap(calendar -> calendar.getEvents().stream())
                .toList();
        events.forEach(this::noteMoved);
        for (int number = 0; number < events.size(); number++) {
            take(events.get(number), "event " + (number + 1));
        }
        List<Holiday> sorted = days.stream()
                .distinct()
                .sorted(Comparator.comparing(Holiday::first).thenComparing(Holiday::name))
                .toList();
        Optional<String> name = calendars.stream()
                .flatMap(calendar -> nameOf(calendar).stream())
                .findFirst();
        return new Read(name, sorted, past, List.copyOf(leftOut));
    }

    private List<ICalendar> calendars(String text) {
        List<ICalendar> calendars = new ArrayList<>();
        try (ICalReader reader = new ICalReader(new StringReader(text))) {
            for (ICalendar next = reader.readNext(); next != null; next = reader.readNext()) {
                calendars.add(next);
                reader.getWarnings()
                        .forEach(warning -> leftOut.add(new Problem(
                                warning.getLineNumber() == null ? "" : "line " + warning.getLineNumber(),
                                (warning.getPropertyName() == null ? "" : warning.getPropertyName() + ": ")
                                        + warning.getMessage())));
            }
        } catch (IOException e) {
            throw new RefusedDocumentException("", "this cannot be read as an iCalendar file");
        }
        if (calendars.isEmpty()) {
            throw new RefusedDocumentException("", "this is no iCalendar file: no line says " + BEGINNING);
        }
        return calendars;
    }

    /** Of one that came back and was moved, only where it was moved to counts. */
    private void noteMoved(VEvent event) {
        RecurrenceId replaced = event.getRecurrenceId();
        if (replaced != null && replaced.getValue() != null) {
            movedElsewhere.add(uidOf(event) + " " + dayOf(replaced.getValue()));
        }
    }

    private void take(VEvent event, String number) {
        String name = name(event);
        String place = number + " (" + name + ")";
        try {
            if (event.getStatus() != null && event.getStatus().isCancelled()) {
                leftOut.add(new Problem(place, "is cancelled"));
                return;
            }
            LocalDate first = day(event.getDateStart(), "its beginning");
            int length = lengthOf(event, first);
            if (length > MOST_DAYS_ON_END) {
                throw new IllegalArgumentException("lasts " + length + " days on end, more than " + MOST_DAYS_ON_END);
            }
            List<LocalDate> firsts = event.getRecurrenceId() == null ? comesBack(event, first) : List.of(first);
            boolean any = false;
            for (LocalDate day : firsts) {
                LocalDate last = day.plusDays(length - 1L);
                if (!last.isBefore(from)) {
                    any = true;
                    days.add(new Holiday(day, last, name));
                }
            }
            past += any ? 0 : 1;
        } catch (IllegalArgumentException e) {
            leftOut.add(new Problem(place, e.getMessage()));
        }
        if (days.size() > MOST_HOLIDAYS) {
            throw new RefusedDocumentException("", "holds more than " + MOST_HOLIDAYS + " holidays");
        }
    }

    private List<LocalDate> comesBack(VEvent event, LocalDate first) {
        boolean once = event.getRecurrenceRule() == null
                && event.getRecurrenceDates().isEmpty()
                && event.getExceptionDates().isEmpty();
        if (once) {
            return List.of(first);
        }
        if (event.getRecurrenceRule() != null
                && (event.getRecurrenceRule().getValue() == null
                        || !BY_DAY.contains(event.getRecurrenceRule().getValue().getFrequency()))) {
            throw new IllegalArgumentException("comes back otherwise than by day, week, month or year");
        }
        List<LocalDate> all = new ArrayList<>();
        DateIterator dates = event.getDateIterator(LIBRARY_ZONE);
        // One that lasts some days may have begun before.
        dates.advanceTo(
                Date.from(from.minusDays(MOST_DAYS_ON_END).atStartOfDay(zone()).toInstant()));
        while (dates.hasNext() && all.size() <= MOST_HOLIDAYS) {
            LocalDate day = dayOf(dates.next());
            if (day.isAfter(until)) {
                break;
            }
            if (!movedElsewhere.contains(uidOf(event) + " " + day)) {
                all.add(day);
            }
        }
        return all;
    }

    /** In days; the end of an event is the first day after it (RFC 5545, section 3.6.1). */
    private static int lengthOf(VEvent event, LocalDate first) {
        Duration duration =
                event.getDuration() == null ? null : event.getDuration().getValue();
        long length = 1;
        if (event.getDateEnd() != null) {
            length = ChronoUnit.DAYS.between(first, day(event.getDateEnd(), "its end"));
        } else if (duration != null) {
            length = 7L * or0(duration.getWeeks()) + or0(duration.getDays());
        }
        if (length < 0) {
            throw new IllegalArgumentException("ends before it begins");
        }
        return (int) Math.min(Math.max(length, 1), Integer.MAX_VALUE);
    }

    private static int or0(Integer number) {
        return number == null ? 0 : number;
    }

    /** As it is written, whatever the zone; midnight on the wall counts as the day. */
    private static LocalDate day(DateOrDateTimeProperty property, String what) {
        DateTimeComponents written = property == null || property.getValue() == null
                ? null
                : property.getValue().getRawComponents();
        if (written == null) {
            throw new IllegalArgumentException(what + " is missing or could not be read");
        }
        boolean wholeDay = !property.getValue().hasTime()
                || !written.isUtc() && written.getHour() == 0 && written.getMinute() == 0 && written.getSecond() == 0;
        if (!wholeDay) {
            throw new IllegalArgumentException("is at a time of the day; holidays are whole days");
        }
        try {
            LocalDate day = LocalDate.of(written.getYear(), written.getMonth(), written.getDate());
            if (day.getYear() < FIRST_YEAR) {
                throw new IllegalArgumentException(what + " is " + day + ", before the year " + FIRST_YEAR);
            }
            return day;
        } catch (DateTimeException e) {
            throw new IllegalArgumentException(what + " is a day that does not exist", e);
        }
    }

    private static LocalDate dayOf(Date date) {
        return LocalDate.ofInstant(date.toInstant(), zone());
    }

    private static ZoneId zone() {
        return LIBRARY_ZONE.toZoneId();
    }

    private static String uidOf(VEvent event) {
        Uid uid = event.getUid();
        return uid == null ? "" : uid.getValue();
    }

    private static String name(VEvent event) {
        return Optional.ofNullable(event.getSummary())
                .flatMap(summary -> line(summary.getValue()))
                .orElse(UNNAMED);
    }

    /** Of RFC 7986, section 5.1; before it was written, most wrote an experimental property. */
    private static Optional<String> nameOf(ICalendar calendar) {
        return Stream.concat(
                        calendar.getNames().stream().map(name -> name.getValue()),
                        calendar.getExperimentalProperties("X-WR-CALNAME").stream()
                                .map(RawProperty::getValue))
                .flatMap(name -> line(name).stream())
                .findFirst();
    }

    private static Optional<String> line(String text) {
        return Optional.ofNullable(text)
                .map(Texts::shown)
                .filter(shown -> !shown.isBlank())
                .map(shown -> shown.substring(
                        0,
                        shown.offsetByCodePoints(0, Math.min(LONGEST_NAME, shown.codePointCount(0, shown.length())))));
    }
}
