package lucid.formats.populations;

import java.util.Collection;
import java.util.Locale;
import java.util.Set;
import lucid.core.fleet.HostName;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Population;
import lucid.core.fleet.StandingRule;
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
        return JSON.writeValueAsString(root);
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
        p.rhythm().ifPresent(rhythm -> object.put("checkInHours", rhythm.toHours()));
        object.set("rule", rule(p.rule()));
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
            }
        }
        offer("otherwise", rule.otherwise(), object);
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
}
