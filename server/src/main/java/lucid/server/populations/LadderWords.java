package lucid.server.populations;

import java.util.ArrayList;
import java.util.Collection;
import java.util.List;
import java.util.Objects;
import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import lucid.core.fleet.Holiday;
import lucid.core.fleet.HolidayCalendar;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Population;
import lucid.core.fleet.StandingRule;
import lucid.core.fleet.Timing;

/** What becomes another when the ladder is changed, in the words of the record: before and after. */
final class LadderWords {

    private static final int MOST_DAYS = 5;

    private LadderWords() {}

    /** One for each population that was there and is another now; then the fleet's rule, and the holidays. */
    static List<String> differences(Ladder before, Ladder next) {
        List<String> words = new ArrayList<>();
        next.populations().forEach(after -> before.find(after.id())
                .filter(earlier -> !earlier.equals(after))
                .ifPresent(earlier -> words.add(after.name() + ": "
                        + String.join(", ", of(earlier, after).toList()))));
        List<String> ofFleet = rule(before.fleetRule(), next.fleetRule()).toList();
        if (!ofFleet.isEmpty()) {
            words.add("the fleet: " + String.join(", ", ofFleet));
        }
        words.addAll(holidays(before, next));
        return words;
    }

    /** One for each calendar of holidays that comes, goes or is another; many days are not all named. */
    static List<String> holidays(Ladder before, Ladder next) {
        List<String> words = new ArrayList<>();
        before.holidays().stream()
                .filter(calendar -> find(next, calendar.name()).isEmpty())
                .forEach(calendar -> words.add("no longer the holidays of " + calendar.name()));
        for (HolidayCalendar after : next.holidays()) {
            Optional<HolidayCalendar> earlier = find(before, after.name());
            if (earlier.isEmpty()) {
                words.add("the holidays of " + after.name() + ", " + whose(after) + ": " + named(after.days()));
            } else if (!earlier.get().equals(after)) {
                words.add("the holidays of " + after.name() + ": "
                        + of(earlier.get(), after).collect(Collectors.joining(", ")));
            }
        }
        return words;
    }

    private static Stream<String> of(HolidayCalendar before, HolidayCalendar after) {
        return Stream.of(
                        from("whose they are", whose(before), whose(after)),
                        days("added", after.days(), before.days()),
                        days("left out", before.days(), after.days()))
                .flatMap(part -> part);
    }

    private static Optional<HolidayCalendar> find(Ladder ladder, String name) {
        return ladder.holidays().stream()
                .filter(calendar -> calendar.name().equals(name))
                .findFirst();
    }

    private static String whose(HolidayCalendar calendar) {
        return calendar.populations().isEmpty() ? "for all" : "for " + list(calendar.populations());
    }

    private static Stream<String> days(String what, List<Holiday> in, List<Holiday> notIn) {
        List<Holiday> days = in.stream().filter(day -> !notIn.contains(day)).toList();
        return days.isEmpty() ? Stream.empty() : Stream.of(what + " " + named(days));
    }

    /** "Quay Day 2026-12-18, Midwinter 2026-12-25 to 2026-12-26 and 12 more". */
    private static String named(List<Holiday> days) {
        String first = days.stream().limit(MOST_DAYS).map(LadderWords::day).collect(Collectors.joining(", "));
        return days.isEmpty()
                ? "none"
                : first + (days.size() > MOST_DAYS ? " and " + (days.size() - MOST_DAYS) + " more" : "");
    }

    private static String day(Holiday holiday) {
        return holiday.name() + " " + holiday.first()
                + (holiday.last().equals(holiday.first()) ? "" : " to " + holiday.last());
    }

    private static Stream<String> of(Population before, Population after) {
        return Stream.of(
                        from("name", before.name(), after.name()),
                        from("condition", before.condition(), after.condition()),
                        from("tier", before.tier(), after.tier()),
                        from("owner", before.owner(), after.owner()),
                        from("hosts by name", list(before.includes()), list(after.includes())),
                        from("hosts left out by name", list(before.excludes()), list(after.excludes())),
                        from("protected hosts", list(before.protectedHosts()), list(after.protectedHosts())),
                        from(
                                "supply",
                                before.supply().orElse(""),
                                after.supply().orElse("")),
                        from(
                                "stays at",
                                list(before.staysAt().stream()
                                        .map(at -> at.product().purl() + " " + at.release())
                                        .toList()),
                                list(after.staysAt().stream()
                                        .map(at -> at.product().purl() + " " + at.release())
                                        .toList())),
                        timing(before.timing(), after.timing()),
                        rule(before.rule(), after.rule()))
                .flatMap(part -> part);
    }

    private static Stream<String> timing(Timing before, Timing after) {
        return Stream.of(
                        from("time zone", before.zone(), after.zone()),
                        from(
                                "check-in interval in hours",
                                before.rhythm()
                                        .map(rhythm -> "" + rhythm.toHours())
                                        .orElse(""),
                                after.rhythm()
                                        .map(rhythm -> "" + rhythm.toHours())
                                        .orElse("")),
                        from("busy hours", list(before.busy()), list(after.busy())),
                        from("windows", list(before.windows()), list(after.windows())),
                        from(
                                "due hour",
                                before.dueHour().map(Object::toString).orElse(""),
                                after.dueHour().map(Object::toString).orElse("")),
                        from(
                                "days for hosts that were away",
                                before.allowance().toDays(),
                                after.allowance().toDays()),
                        from("start", word(before.start()), word(after.start())),
                        from("early restart", before.earlyRestart(), after.earlyRestart()),
                        from(
                                "least battery in per cent",
                                before.restraint().leastBattery(),
                                after.restraint().leastBattery()),
                        from(
                                "over a paid line",
                                before.restraint().overPaidLine(),
                                after.restraint().overPaidLine()))
                .flatMap(part -> part);
    }

    private static Stream<String> rule(StandingRule before, StandingRule after) {
        List<String> earlier = before.lines().stream().map(LadderWords::line).toList();
        List<String> later = after.lines().stream().map(LadderWords::line).toList();
        List<String> gone =
                earlier.stream().filter(line -> !later.contains(line)).toList();
        List<String> come =
                later.stream().filter(line -> !earlier.contains(line)).toList();
        boolean reordered = gone.isEmpty() && come.isEmpty() && !earlier.equals(later);
        return Stream.of(
                        gone.isEmpty()
                                ? Stream.<String>empty()
                                : Stream.of("no longer '" + String.join("', '", gone) + "'"),
                        come.isEmpty() ? Stream.<String>empty() : Stream.of("now '" + String.join("', '", come) + "'"),
                        reordered ? Stream.of("rule lines in another order") : Stream.<String>empty(),
                        from("everything else", offer(before.otherwise()), offer(after.otherwise())))
                .flatMap(part -> part);
    }

    private static String line(StandingRule.Line line) {
        return Stream.of(
                                line.ratings().stream()
                                        .sorted()
                                        .map(LadderWords::word)
                                        .collect(Collectors.joining("/")),
                                line.kinds().stream()
                                        .sorted()
                                        .map(LadderWords::word)
                                        .collect(Collectors.joining("/")),
                                line.hosts().map(hosts -> "where " + hosts).orElse(""))
                        .filter(part -> !part.isEmpty())
                        .collect(Collectors.joining(" "))
                + " " + offer(line.offer());
    }

    private static String offer(StandingRule.Offer offer) {
        return offer.delay()
                .map(delay -> "after " + delay.toDays() + " days"
                        + offer.after()
                                .map(after -> " from the tries of " + after.population() + ", at most "
                                        + after.latest().toDays() + " days")
                                .orElse("")
                        + offer.deadline()
                                .map(deadline -> ", due " + deadline.toDays() + " days later")
                                .orElse(""))
                .orElse("never");
    }

    private static String word(Enum<?> value) {
        return value.name().toLowerCase().replace('_', ' ');
    }

    private static String list(Collection<?> values) {
        return values.stream().map(Object::toString).sorted().collect(Collectors.joining(", "));
    }

    private static Stream<String> from(String what, Object before, Object after) {
        return Objects.equals(before, after)
                ? Stream.empty()
                : Stream.of(what + " from " + named(before) + " to " + named(after));
    }

    private static String named(Object value) {
        return Optional.of(value.toString()).filter(text -> !text.isEmpty()).orElse("none");
    }
}
