package lucid.core.fleet;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.assertj.core.api.Assertions.tuple;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import lucid.core.TestFleet;
import lucid.core.fleet.WorkingDays.FewThere;
import lucid.core.fleet.WorkingDays.When;
import lucid.core.forecast.Slack;
import org.junit.jupiter.api.Test;

class WorkingDaysTest {

    private static final Population KIOSKS = TestFleet.population("kiosks", "model = K1", 5);
    private static final Population YARD = TestFleet.population("yard", "role = yard", 5);
    /** A Thursday, and the Monday and Tuesday after it. */
    private static final HolidayCalendar SHORE = new HolidayCalendar(
            "Shore",
            Set.of(KIOSKS.id()),
            List.of(
                    new Holiday(LocalDate.parse("2026-12-21"), LocalDate.parse("2026-12-22"), "Midwinter"),
                    new Holiday(LocalDate.parse("2026-12-17"), LocalDate.parse("2026-12-17"), "Quay Day")));

    private static final Ladder LADDER = new Ladder(
                    List.of(KIOSKS, YARD), new StandingRule(List.of(), StandingRule.Offer.NEVER))
            .withHolidays(List.of(SHORE));

    private static final WorkingDays DAYS = WorkingDays.of(KIOSKS, LADDER);

    private static Instant at(String day) {
        return Instant.parse(day + "T12:00:00Z");
    }

    private static Optional<FewThere> few(When when, String holiday) {
        return Optional.of(new FewThere(when, Optional.ofNullable(holiday)));
    }

    @Test
    void fewAreThereOnAHolidayAndTheDayBefore() {
        assertThat(DAYS.fewThere(at("2026-12-15"))).isEmpty();
        assertThat(DAYS.fewThere(at("2026-12-16"))).isEqualTo(few(When.BEFORE_HOLIDAY, "Quay Day"));
        assertThat(DAYS.fewThere(at("2026-12-17"))).isEqualTo(few(When.ON_HOLIDAY, "Quay Day"));
        assertThat(DAYS.fewThere(at("2026-12-18"))).isEqualTo(few(When.BEFORE_WEEKEND, null));
        assertThat(DAYS.fewThere(at("2026-12-19"))).isEqualTo(few(When.ON_WEEKEND, null));
        assertThat(DAYS.fewThere(at("2026-12-20"))).isEqualTo(few(When.ON_WEEKEND, null));
        assertThat(DAYS.fewThere(at("2026-12-22"))).isEqualTo(few(When.ON_HOLIDAY, "Midwinter"));
        assertThat(DAYS.fewThere(at("2026-12-23"))).isEmpty();
    }

    @Test
    void holidaysOfOthersDoNotCount() {
        assertThat(WorkingDays.of(YARD, LADDER).fewThere(at("2026-12-17"))).isEmpty();
        Ladder forAll = LADDER.withHolidays(List.of(new HolidayCalendar("All", Set.of(), SHORE.days())));
        assertThat(WorkingDays.of(YARD, forAll).fewThere(at("2026-12-17"))).isEqualTo(few(When.ON_HOLIDAY, "Quay Day"));
    }

    @Test
    void onlyWorkingDaysCount() {
        assertThat(DAYS.between(at("2026-12-15"), at("2026-12-16"))).isEqualTo(Duration.ofHours(24));
        // Half of Wednesday, no Thursday, half of Friday.
        assertThat(DAYS.between(at("2026-12-16"), at("2026-12-18"))).isEqualTo(Duration.ofHours(24));
        assertThat(DAYS.between(at("2026-12-18"), at("2026-12-23"))).isEqualTo(Duration.ofHours(24));
        assertThat(DAYS.between(at("2026-12-19"), at("2026-12-22"))).isZero();
        assertThat(DAYS.between(at("2026-12-22"), at("2026-12-19"))).isZero();
    }

    @Test
    void slackIsCountedInWorkingDays() {
        assertThat(Slack.of(at("2026-12-14"), at("2026-12-15"), DAYS)).isEqualTo(Slack.ENOUGH);
        assertThat(Slack.of(at("2026-12-14"), at("2026-12-14").plusSeconds(3600), DAYS))
                .isEqualTo(Slack.UNDER_A_WORKING_DAY);
        // Over a weekend and two holidays nobody decides anything.
        assertThat(Slack.of(at("2026-12-18").plusSeconds(3600), at("2026-12-22"), DAYS))
                .isEqualTo(Slack.UNDER_A_WORKING_DAY);
        assertThat(Slack.of(at("2026-12-15"), at("2026-12-14"), DAYS)).isEqualTo(Slack.NONE);
    }

    @Test
    void whoSeesSomePopulationsSeesTheirHolidaysAndNoOtherName() {
        Ladder both = LADDER.withHolidays(List.of(
                new HolidayCalendar("Both", Set.of(KIOSKS.id(), YARD.id()), SHORE.days()),
                new HolidayCalendar("Theirs", Set.of(YARD.id()), SHORE.days()),
                new HolidayCalendar("All", Set.of(), SHORE.days())));
        assertThat(both.only(Set.of(KIOSKS.id())).holidays())
                .extracting(HolidayCalendar::name, HolidayCalendar::populations)
                .containsExactly(tuple("Both", Set.of(KIOSKS.id())), tuple("All", Set.of()));
    }

    @Test
    void aLadderRefusesWhatMakesNoSense() {
        assertThatThrownBy(() -> new Holiday(LocalDate.parse("2026-12-17"), LocalDate.parse("2026-12-16"), "Quay Day"))
                .hasMessageContaining("before it begins");
        assertThatThrownBy(() -> LADDER.withHolidays(List.of(SHORE, SHORE))).hasMessageContaining("Shore");
        assertThat(LADDER.saysTheSameAs(LADDER.withHolidays(List.of()))).isFalse();
    }
}
