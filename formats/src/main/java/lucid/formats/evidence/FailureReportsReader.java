package lucid.formats.evidence;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import lucid.core.evidence.FailureReport;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.HostConditions;
import lucid.core.fleet.HostName;
import lucid.core.update.UpdateId;
import lucid.formats.document.Content;
import lucid.formats.document.Format;
import lucid.formats.document.JsonPlace;
import lucid.formats.document.JsonReader;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.Schemas;
import tools.jackson.databind.JsonNode;

/** Reads our own failure reports; their schema is {@code failure-reports-1}. */
public final class FailureReportsReader implements JsonReader {

    private static final Schemas SCHEMA = Schemas.named("failure-reports-1");

    @Override
    public String reads() {
        return "failure reports";
    }

    @Override
    public boolean recognises(JsonNode root) {
        return root.path("format").asString("").startsWith("failure-reports-");
    }

    @Override
    public ReadDocument read(JsonNode node, ReadingHints hints) {
        String source = JsonPlace.root(node).get("source").line();
        List<Problem> problems = new ArrayList<>();
        Map<String, UpdateId> withdrawn = new LinkedHashMap<>();
        List<Optional<FailureReport>> read = SCHEMA.each(
                node,
                "reports",
                item -> {
                    if (item.get("withdrawn").node().asBoolean(false)) {
                        withdrawn.put(id(source, item), item.get("update").update());
                        return Optional.empty();
                    }
                    return Optional.of(report(source, item, hints));
                },
                problems);
        return new ReadDocument(
                Format.FAILURE_REPORTS,
                new Content.OfReports(read.stream().flatMap(Optional::stream).toList(), withdrawn),
                problems);
    }

    private static String id(String source, JsonPlace item) {
        return source + "/" + item.get("id").line();
    }

    private static FailureReport report(String source, JsonPlace item, ReadingHints hints) {
        List<HostName> hosts = item.get("hosts").items().stream()
                .map(JsonPlace::line)
                .map(HostName::new)
                .distinct()
                .toList();
        int others = item.get("others").exists() ? item.get("others").node().intValue() : 0;
        if (hosts.isEmpty() && others == 0) {
            throw item.refused("a report names hosts, or tells how many others");
        }
        return new FailureReport(
                id(source, item),
                item.get("update").update(),
                item.get("code").optionalText(),
                item.get("class")
                        .optionalText()
                        .map(c -> FailureClass.valueOf(c.toUpperCase(Locale.ROOT)))
                        .orElse(FailureClass.DEGRADED),
                item.get("text").optionalText().orElse(""),
                hosts,
                others,
                item.get("where").exists()
                        ? Optional.of(item.get("where").as(HostConditions::parse))
                        : Optional.empty(),
                source,
                item.get("at").told(hints.received()));
    }
}
