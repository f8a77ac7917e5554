package lucid.formats.populations;

import java.time.Duration;
import java.time.LocalDate;
import java.time.LocalTime;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Collectors;
import lucid.core.fleet.Holiday;
import lucid.core.fleet.HolidayCalendar;
import lucid.core.fleet.HostCondition;
import lucid.core.fleet.HostConditions;
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
import lucid.core.update.Kind;
import lucid.core.update.PackageReference;
import lucid.core.update.Product;
import lucid.core.update.Rating;
import lucid.formats.document.Content;
import lucid.formats.document.Format;
import lucid.formats.document.JsonPlace;
import lucid.formats.document.JsonReader;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.Schemas;
import tools.jackson.databind.JsonNode;

/** Reads the ladder of populations; its schema is {@code populations-1}. */
public final class PopulationsReader implements JsonReader {

    private static final Schemas SCHEMA = Schemas.named("populations-1");
    private static final int LONGEST_DELAY_DAYS = 3_650;
    private static final int LONGEST_CHECK_IN_HOURS = 8_760;
    private static final int LONGEST_ALLOWANCE_DAYS = 90;
    private static final int FULL_BATTERY = 100;

    @Override
    public String reads() {
        return "populations";
    }

    @Override
    public boolean recognises(JsonNode root) {
        return root.path("format").asString("").startsWith("populations-");
    }

    @Override
    public ReadDocument read(JsonNode node, ReadingHints hints) {
        SCHEMA.require(node);
        JsonPlace root = JsonPlace.root(node);
        List<Population> populations = new ArrayList<>();
        for (JsonPlace item : root.get("populations").items()) {
            try {
                populations.add(population(item));
            } catch (IllegalArgumentException e) {
                throw item.refused(e.getMessage());
            }
        }
        try {
            Ladder ladder = new Ladder(populations, rule(root.get("fleetRule")))
                    .withHolidays(root.get("holidays").items().stream()
                            .map(PopulationsReader::holidays)
                            .toList());
            requireKnownPopulations(ladder, root);
            return new ReadDocument(Format.POPULATIONS, new Content.OfPopulations(ladder), List.of());
        } catch (IllegalArgumentException e) {
            throw root.get("populations").refused(e.getMessage());
        }
    }

    /** Whoever is waited for is on the ladder. */
    private static void requireKnownPopulations(Ladder ladder, JsonPlace root) {
        List<JsonPlace> items = root.get("populations").items();
        for (int place = 0; place < items.size(); place++) {
            requireKnownPopulations(
                    ladder,
                    ladder.populations().get(place).rule(),
                    items.get(place).get("rule"));
        }
        requireKnownPopulations(ladder, ladder.fleetRule(), root.get("fleetRule"));
        root.get("holidays").items().stream()
                .flatMap(calendar -> calendar.get("populations").items().stream())
                .filter(place -> ladder.entry(new PopulationId(place.line())).isEmpty())
                .forEach(place -> {
                    throw place.refused("there is no population " + place.line());
                });
    }

    private static HolidayCalendar holidays(JsonPlace item) {
        return new HolidayCalendar(
                item.get("name").line(),
                item.get("populations").items().stream()
                        .map(JsonPlace::line)
                        .map(PopulationId::new)
                        .collect(Collectors.toSet()),
                item.get("days").items().stream()
                        .map(PopulationsReader::holiday)
                        .toList());
    }

    private static Holiday holiday(JsonPlace item) {
        LocalDate first = item.get("day").as(LocalDate::parse);
        LocalDate last = item.get("until").exists() ? item.get("until").as(LocalDate::parse) : first;
        try {
            return new Holiday(first, last, item.get("name").line());
        } catch (IllegalArgumentException e) {
            throw item.get("until").refused(e.getMessage());
        }
    }

    private static void requireKnownPopulations(Ladder ladder, StandingRule rule, JsonPlace at) {
        List<JsonPlace> lines = at.get("lines").items();
        for (int line = 0; line < lines.size(); line++) {
            JsonPlace place = lines.get(line).get("afterTriesOf");
            rule.lines()
                    .get(line)
                    .offer()
                    .after()
                    .filter(after -> ladder.find(after.population()).isEmpty())
                    .ifPresent(after -> {
                        throw place.refused("there is no population " + after.population());
                    });
        }
    }

    private static Population population(JsonPlace item) {
        return new Population(
                new PopulationId(id(item.get("id"))),
                item.get("name").line(),
                condition(item.get(item.get("condition").exists() ? "condition" : "predicate")),
                hosts(item.get("includes")),
                hosts(item.get("excludes")),
                item.get("tier").integer(1, 4),
                item.get("owner").exists() ? item.get("owner").line() : "",
                hosts(item.get("protected")),
                item.get("supply").exists() ? Optional.of(item.get("supply").line()) : Optional.empty(),
                timing(item),
                item.get("staysAt").items().stream()
                        .map(PopulationsReader::target)
                        .toList(),
                rule(item.get("rule")));
    }

    private static TargetRelease target(JsonPlace item) {
        Product product = item.get("product")
                .<PackageReference>as(PackageReference::parse)
                .build()
                .product();
        Optional<LocalDate> supportEnds = item.get("supportEnds").exists()
                ? Optional.of(item.get("supportEnds").<LocalDate>as(LocalDate::parse))
                : Optional.empty();
        return item.get("release").as(release -> new TargetRelease(product, release, supportEnds));
    }

    private static Timing timing(JsonPlace item) {
        JsonPlace start = item.get("start");
        return new Timing(
                item.get("timeZone").exists() ? item.get("timeZone").<ZoneId>as(ZoneId::of) : ZoneOffset.UTC,
                item.get("checkInHours").exists()
                        ? Optional.of(Duration.ofHours(item.get("checkInHours").integer(1, LONGEST_CHECK_IN_HOURS)))
                        : Optional.empty(),
                hours(item.get("busyHours")),
                hours(item.get("windows")),
                item.get("dueHour").exists()
                        ? Optional.of(item.get("dueHour").<LocalTime>as(LocalTime::parse))
                        : Optional.empty(),
                Duration.ofDays(
                        item.get("allowanceDays").exists()
                                ? item.get("allowanceDays").integer(0, LONGEST_ALLOWANCE_DAYS)
                                : 0),
                start.exists()
                        ? StartMode.valueOf(
                                start.line().toUpperCase(Locale.ROOT).replace(' ', '_'))
                        : StartMode.BY_ITSELF,
                !item.get("earlyRestart").exists()
                        || item.get("earlyRestart").node().asBoolean(),
                new Restraint(
                        item.get("leastBattery").exists()
                                ? item.get("leastBattery").integer(0, FULL_BATTERY)
                                : Restraint.USUAL.leastBattery(),
                        item.get("overPaidLine").exists()
                                && item.get("overPaidLine").node().asBoolean()));
    }

    private static List<WeekSpan> hours(JsonPlace list) {
        return list.items().stream()
                .map(place -> place.<WeekSpan>as(WeekSpan::parse))
                .toList();
    }

    private static String id(JsonPlace place) {
        String id = place.identifier();
        if (id.equalsIgnoreCase(Ladder.NO_POPULATION.value())) {
            throw place.refused("'" + id + "' stands for the hosts that are in no population; choose another");
        }
        return id;
    }

    /** May be longer than what is one line elsewhere. */
    private static HostCondition condition(JsonPlace place) {
        try {
            return HostConditions.parse(place.text());
        } catch (IllegalArgumentException e) {
            throw place.refused(e.getMessage());
        }
    }

    private static Set<HostName> hosts(JsonPlace list) {
        return list.items().stream().map(JsonPlace::line).map(HostName::new).collect(Collectors.toUnmodifiableSet());
    }

    private static StandingRule rule(JsonPlace rule) {
        List<StandingRule.Line> lines = rule.get("lines").items().stream()
                .map(line -> new StandingRule.Line(
                        words(line.get("kinds"), Kind::valueOf),
                        words(line.get("ratings"), Rating::valueOf),
                        line.get("where").exists() ? Optional.of(condition(line.get("where"))) : Optional.empty(),
                        after(line, offer(line.get("offerAfterDays"), line.get("dueAfterDays")))))
                .toList();
        return new StandingRule(lines, offer(rule.get("otherwise"), rule.get("otherwiseDueAfterDays")));
    }

    /** Where it waits for the tries of another population. */
    private static StandingRule.Offer after(JsonPlace line, StandingRule.Offer offer) {
        JsonPlace population = line.get("afterTriesOf");
        if (!population.exists()) {
            return offer;
        }
        try {
            return offer.afterTriesOf(
                    new PopulationId(population.line()),
                    line.get("latestAfterDays").integer(0, LONGEST_DELAY_DAYS));
        } catch (IllegalArgumentException e) {
            throw population.refused(e.getMessage());
        }
    }

    private static <T> Set<T> words(JsonPlace list, Function<String, T> value) {
        return list.items().stream()
                .map(word -> value.apply(word.line().toUpperCase(Locale.ROOT)))
                .collect(Collectors.toUnmodifiableSet());
    }

    private static StandingRule.Offer offer(JsonPlace offer, JsonPlace due) {
        StandingRule.Offer read = offer.node().isNumber()
                ? StandingRule.Offer.afterDays(offer.integer(0, LONGEST_DELAY_DAYS))
                : StandingRule.Offer.NEVER;
        if (!due.exists()) {
            return read;
        }
        try {
            return read.dueAfterDays(due.integer(0, LONGEST_DELAY_DAYS));
        } catch (IllegalArgumentException e) {
            throw due.refused(e.getMessage());
        }
    }
}
