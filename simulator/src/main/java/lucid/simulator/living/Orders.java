package lucid.simulator.living;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalTime;
import java.time.ZoneId;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.function.Function;
import java.util.stream.Collectors;
import tools.jackson.databind.JsonNode;

/**
 * What a host is told as it checks in.
 *
 * @param start how an offered update begins
 * @param earlyRestart whether a restart comes as soon as it may; else only when it is due
 * @param leastBattery per cent of charge under which nothing is installed on battery
 * @param overPaidLine false: nothing is downloaded over a line that is paid by what goes over it
 */
public record Orders(
        WeekHours hours,
        Start start,
        boolean earlyRestart,
        int leastBattery,
        boolean overPaidLine,
        List<Frozen> frozen,
        List<Order> orders) {

    /** How an offered update begins. */
    public enum Start {
        BY_ITSELF,
        BY_PERSON,
        AT_SHUTDOWN,
        BY_OPERATOR
    }

    /** What holds for an update. */
    public enum What {
        OFFERED,
        BY_OPERATOR,
        WITHHELD,
        REMOVE
    }

    /** Nothing is installed or restarted from one instant to before another. */
    public record Frozen(Instant from, Instant until) {}

    /**
     * @param slot from when on its operator agreed to install it by hand
     * @param products the version to be installed, by package URL without qualifiers
     */
    public record Order(
            String update,
            String revision,
            What what,
            Optional<Instant> due,
            Optional<Instant> slot,
            Duration allowance,
            boolean outsideWindows,
            boolean restartsHost,
            Map<String, String> products) {}

    /** Identifiers of the updates that are withheld. */
    public Set<String> withheld() {
        return orders.stream()
                .filter(order -> order.what() == What.WITHHELD)
                .map(Order::update)
                .collect(Collectors.toSet());
    }

    /** Reads what the server answers to a host that asks. */
    public static Orders read(JsonNode told) {
        JsonNode hours = told.get("hours");
        return new Orders(
                new WeekHours(
                        ZoneId.of(hours.get("zone").asString()),
                        spans(hours.get("busy")),
                        spans(hours.get("windows")),
                        optional(hours, "dueHour", LocalTime::parse)),
                Start.valueOf(hours.get("start").asString()),
                hours.get("earlyRestart").asBoolean(),
                hours.get("leastBattery").asInt(),
                hours.get("overPaidLine").asBoolean(),
                all(told.get("frozen"), one -> new Frozen(instant(one, "from"), instant(one, "until"))),
                all(told.get("orders"), Orders::order));
    }

    private static Order order(JsonNode line) {
        Map<String, String> products = new TreeMap<>();
        line.get("packages")
                .forEach(product -> products.put(
                        product.get("purl").asString(), product.get("version").asString()));
        return new Order(
                line.get("update").asString(),
                line.get("revision").asString(),
                What.valueOf(line.get("effect").asString()),
                optional(line, "due", Instant::parse),
                line.hasNonNull("slot") ? Optional.of(instant(line.get("slot"), "from")) : Optional.empty(),
                Duration.ofHours(line.get("allowanceHours").asLong()),
                line.get("outsideWindows").asBoolean(),
                line.get("restart").asString().equals("HOST"),
                products);
    }

    private static List<WeekHours.Span> spans(JsonNode texts) {
        return all(texts, text -> WeekHours.Span.parse(text.asString()));
    }

    private static Instant instant(JsonNode line, String name) {
        return Instant.parse(line.get(name).asString());
    }

    private static <T> Optional<T> optional(JsonNode line, String name, Function<String, T> read) {
        return line.hasNonNull(name) ? Optional.of(read.apply(line.get(name).asString())) : Optional.empty();
    }

    private static <T> List<T> all(JsonNode list, Function<JsonNode, T> read) {
        List<T> all = new ArrayList<>();
        list.forEach(one -> all.add(read.apply(one)));
        return all;
    }
}
