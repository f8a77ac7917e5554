package lucid.formats.holidays;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.tuple;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import lucid.core.fleet.Holiday;
import lucid.formats.Documents;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.RefusedDocumentException;
import org.junit.jupiter.api.Test;

class HolidaysReaderTest {

    private static final LocalDate TODAY = LocalDate.parse("2026-12-01");
    private static final LocalDate AHEAD = LocalDate.parse("2029-12-31");

    private static HolidaysReader.Read read(String text) {
        return HolidaysReader.read(text.getBytes(StandardCharsets.UTF_8), TODAY, AHEAD);
    }

    private static HolidaysReader.Read events(String... events) {
        return read(
                "BEGIN:VCALENDAR\r\nVERSION:2.0\r\nPRODID:-//Skerry Line//Shore//EN\r\nX-WR-CALNAME:Shore offices\r\n"
                        + String.join("", List.of(events))
                        + "END:VCALENDAR\r\n");
    }

    private static String event(String name, String... lines) {
        return "BEGIN:VEVENT\r\nUID:" + name.hashCode() + "@skerry.example\r\nDTSTAMP:20260101T000000Z\r\nSUMMARY:"
                + name + "\r\n" + String.join("\r\n", lines) + "\r\nEND:VEVENT\r\n";
    }

    private static Holiday day(String first, String last, String name) {
        return new Holiday(LocalDate.parse(first), LocalDate.parse(last), name);
    }

    @Test
    void aDayEndsBeforeTheNext() {
        HolidaysReader.Read read = events(
                event("Midwinter\\, both days", "DTSTART;VALUE=DATE:20261225", "DTEND;VALUE=DATE:20261227"),
                event("New Year", "DTSTART;VALUE=DATE:20270101"),
                event("Boat week", "DTSTART;VALUE=DATE:20270705", "DURATION:P1W"));
        assertThat(read.name()).contains("Shore offices");
        assertThat(read.days())
                .containsExactly(
                        day("2026-12-25", "2026-12-26", "Midwinter, both days"),
                        day("2027-01-01", "2027-01-01", "New Year"),
                        day("2027-07-05", "2027-07-11", "Boat week"));
        assertThat(read.leftOut()).isEmpty();
    }

    @Test
    void whatComesBackIsTakenAsFarAhead() {
        HolidaysReader.Read read = events(
                event("Quay Day", "DTSTART;VALUE=DATE:19991118", "RRULE:FREQ=YEARLY", "EXDATE;VALUE=DATE:20281118"),
                event(
                        "Spring Monday",
                        "DTSTART;VALUE=DATE:20260504",
                        "RRULE:FREQ=YEARLY;BYMONTH=5;BYDAY=1MO;COUNT=3",
                        "RDATE;VALUE=DATE:20270510"));
        assertThat(read.days())
                .extracting(Holiday::first)
                .containsExactly(
                        LocalDate.parse("2027-05-03"),
                        LocalDate.parse("2027-05-10"),
                        LocalDate.parse("2027-11-18"),
                        LocalDate.parse("2028-05-01"),
                        LocalDate.parse("2029-11-18"));
    }

    @Test
    void oneThatWasMovedCountsWhereItWasMovedTo() {
        HolidaysReader.Read read = events(
                event("Quay Day", "DTSTART;VALUE=DATE:20251218", "RRULE:FREQ=YEARLY;COUNT=3"),
                event("Quay Day", "RECURRENCE-ID;VALUE=DATE:20261218", "DTSTART;VALUE=DATE:20261221"));
        assertThat(read.days())
                .extracting(Holiday::first)
                .containsExactly(LocalDate.parse("2026-12-21"), LocalDate.parse("2027-12-18"));
    }

    @Test
    void whatCannotBeTakenIsNamedAndTheRestIsKept() {
        HolidaysReader.Read read = events(
                event("Party", "DTSTART:20261218T180000", "DTEND:20261218T230000"),
                event("No such day", "DTSTART;VALUE=DATE:20270230"),
                event("Half a day", "DTSTART;VALUE=DATE:2026122"),
                event("Called off", "DTSTART;VALUE=DATE:20261224", "STATUS:CANCELLED"),
                event("Backwards", "DTSTART;VALUE=DATE:20261224", "DTEND;VALUE=DATE:20261220"),
                event("Winter", "DTSTART;VALUE=DATE:20261201", "DTEND;VALUE=DATE:20270301"),
                event("Each second", "DTSTART;VALUE=DATE:20261201", "RRULE:FREQ=SECONDLY"),
                event("Long ago", "DTSTART;VALUE=DATE:20200101"),
                event("New Year", "DTSTART;VALUE=DATE:20270101"));
        assertThat(read.days()).containsExactly(day("2027-01-01", "2027-01-01", "New Year"));
        assertThat(read.past()).isEqualTo(1);
        assertThat(read.leftOut())
                .extracting(Problem::place, Problem::reason)
                .contains(
                        tuple("event 1 (Party)", "is at a time of the day; holidays are whole days"),
                        tuple("event 2 (No such day)", "its beginning is a day that does not exist"),
                        tuple("event 3 (Half a day)", "its beginning is missing or could not be read"),
                        tuple("event 4 (Called off)", "is cancelled"),
                        tuple("event 5 (Backwards)", "ends before it begins"),
                        tuple("event 6 (Winter)", "lasts 90 days on end, more than 35"),
                        tuple("event 7 (Each second)", "comes back otherwise than by day, week, month or year"))
                .anySatisfy(problem -> assertThat(problem).asString().contains("line 22", "DTSTART"));
    }

    @Test
    void aDayThatNeverComesEndsTheSearch() {
        assertThat(events(event(
                                "Thirtieth of February",
                                "DTSTART;VALUE=DATE:20260201",
                                "RRULE:FREQ=YEARLY;BYMONTH=2;BYMONTHDAY=30"))
                        .days())
                .isEmpty();
    }

    @Test
    void whatIsNoCalendarIsRefused() {
        assertThatThrownBy(() -> read("Name;Day\nMidwinter;25.12.")).hasMessageContaining("no iCalendar file");
        assertThatThrownBy(() -> read("")).hasMessageContaining("no iCalendar file");
        assertThatThrownBy(() -> HolidaysReader.read(new byte[5 * 1024 * 1024], TODAY, AHEAD))
                .hasMessageContaining("longer than 4 MB");
        assertThatThrownBy(() -> events(
                        event("A", "DTSTART;VALUE=DATE:20261201", "RRULE:FREQ=DAILY"),
                        event("B", "DTSTART;VALUE=DATE:20261201", "RRULE:FREQ=DAILY")))
                .hasMessageContaining("more than 2000 holidays");
    }

    @Test
    void namesAreShownAsTheyCanBe() {
        assertThat(events(event("\u202Eevil", "DTSTART;VALUE=DATE:20261225"), event(" ", "DTSTART;VALUE=DATE:20261226"))
                        .days())
                .extracting(Holiday::name)
                .containsExactly("\uFFFDevil", "Holiday");
    }

    @Test
    void asADocumentItSaysWhereItBelongs() {
        byte[] file = "BEGIN:VCALENDAR\r\nEND:VCALENDAR\r\n".getBytes(StandardCharsets.UTF_8);
        assertThatThrownBy(() -> Documents.read(file, ReadingHints.none(Instant.EPOCH)))
                .isInstanceOf(RefusedDocumentException.class)
                .hasMessageContaining("on Populations");
    }
}
