package lucid.formats.populations;

import java.util.Collection;
import java.util.List;
import java.util.Locale;
import java.util.Set;
import lucid.core.fleet.Holiday;
import lucid.core.fleet.HolidayCalendar;
import lucid.core.fleet.HostName;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.fleet.Restraint;
import lucid.core.fleet.StandingRule;
import lucid.core.fleet.StartMode;
import lucid.core.fleet.TargetRelease;
import lucid.core.fleet.Timing;
import lucid.core.fleet.WeekSpan;
import tools.jackson.databind.SerializationFeature;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/** Writes a ladder as {@link PopulationsReader} reads it. */
public final class PopulationsWriter {

    private static final JsonMapper JSON =
            JsonMapper.builder().enable(SerializationFeature.INDENT_OUTPUT).build();

    private PopulationsWriter() {}

    public static String write(Ladder ladder) {
        ObjectNode root = JSON.createObjectNode().put("format", "populations-1");
        root.set("fleetRule", rule(ladder.fleetRule()));
        ArrayNode list = root.putArray("populations");
        ladder.populations().forEach(p -> write(p, list.addObject()));
        if (!ladder.holidays().isEmpty()) {
            ArrayNode calendars = root.putArray("holidays");
            ladder.holidays().forEach(calendar -> write(calendar, calendars.addObject()));
        }
        return JSON.writeValueAsString(root);
    }

    private static void write(HolidayCalendar calendar, ObjectNode object) {
        object.put("name", calendar.name());
        if (!calendar.populations().isEmpty()) {
            ArrayNode populations = object.putArray("populations");
            calendar.populations().stream().map(PopulationId::value).sorted().forEach(populations::add);
        }
        ArrayNode days = object.putArray("days");
        for (Holiday holiday : calendar.days()) {
            ObjectNode day = days.addObject().put("day", holiday.first().toString());
            if (!holiday.last().equals(holiday.first())) {
                day.put("until", holiday.last().toString());
            }
            day.put("name", holiday.name());
        }
    }

    private static void write(Population p, ObjectNode object) {
        object.put("id", p.id().value())
                .put("name", p.name())
                .put("condition", p.condition().toString());
        hosts("includes", p.includes(), object);
        hosts("excludes", p.excludes(), object);
        object.put("tier", p.tier());
        if (!p.owner().isBlank()) {
            object.put("owner", p.owner());
        }
        hosts("protected", p.protectedHosts(), object);
        if (!p.zone().getId().equals("Z")) {
            object.put("timeZone", p.zone().getId());
        }
        p.supply().ifPresent(supply -> object.put("supply", supply));
        write(p.timing(), object);
        if (!p.staysAt().isEmpty()) {
            ArrayNode list = object.putArray("staysAt");
            p.staysAt().forEach(target -> write(target, list.addObject()));
        }
        object.set("rule", rule(p.rule()));
    }

    private static void write(TargetRelease target, ObjectNode object) {
        object.put("product", target.product().purl()).put("release", target.release());
        target.supportEnds().ifPresent(day -> object.put("supportEnds", day.toString()));
    }

    /** What is as it is for everybody is left out. */
    private static void write(Timing timing, ObjectNode object) {
        timing.rhythm().ifPresent(rhythm -> object.put("checkInHours", rhythm.toHours()));
        hours("busyHours", timing.busy(), object);
        hours("windows", timing.windows(), object);
        timing.dueHour().ifPresent(hour -> object.put("dueHour", hour.toString()));
        if (!timing.allowance().isZero()) {
            object.put("allowanceDays", timing.allowance().toDays());
        }
        if (timing.start() != StartMode.BY_ITSELF) {
            object.put("start", timing.start().name().toLowerCase(Locale.ROOT).replace('_', ' '));
        }
        if (!timing.earlyRestart()) {
            object.put("earlyRestart", false);
        }
        if (timing.restraint().leastBattery() != Restraint.USUAL.leastBattery()) {
            object.put("leastBattery", timing.restraint().leastBattery());
        }
        if (timing.restraint().overPaidLine()) {
            object.put("overPaidLine", true);
        }
    }

    private static void hours(String name, List<WeekSpan> spans, ObjectNode object) {
        if (!spans.isEmpty()) {
            ArrayNode list = object.putArray(name);
            spans.forEach(span -> list.add(span.toString()));
        }
    }

    private static void hosts(String name, Set<HostName> hosts, ObjectNode object) {
        if (!hosts.isEmpty()) {
            ArrayNode list = object.putArray(name);
            hosts.stream().sorted().forEach(host -> list.add(host.value()));
        }
    }

    private static ObjectNode rule(StandingRule rule) {
        ObjectNode object = JSON.createObjectNode();
        if (!rule.lines().isEmpty()) {
            ArrayNode lines = object.putArray("lines");
            for (StandingRule.Line line : rule.lines()) {
                ObjectNode one = lines.addObject();
                words("kinds", line.kinds(), one);
                words("ratings", line.ratings(), one);
                offer("offerAfterDays", line.offer(), one);
                due("dueAfterDays", line.offer(), one);
                line.hosts().ifPresent(where -> one.put("where", where.toString()));
                line.offer().after().ifPresent(after -> one.put(
                                "afterTriesOf", after.population().value())
                        .put("latestAfterDays", after.latest().toDays()));
            }
        }
        offer("otherwise", rule.otherwise(), object);
        due("otherwiseDueAfterDays", rule.otherwise(), object);
        return object;
    }

    private static void words(String name, Collection<? extends Enum<?>> values, ObjectNode object) {
        if (!values.isEmpty()) {
            ArrayNode list = object.putArray(name);
            values.stream()
                    .map(value -> value.name().toLowerCase(Locale.ROOT))
                    .sorted()
                    .forEach(list::add);
        }
    }

    private static void offer(String name, StandingRule.Offer offer, ObjectNode object) {
        if (offer.delay().isPresent()) {
            object.put(name, offer.delay().get().toDays());
        } else {
            object.put(name, "never");
        }
    }

    private static void due(String name, StandingRule.Offer offer, ObjectNode object) {
        offer.deadline().ifPresent(deadline -> object.put(name, deadline.toDays()));
    }
}
