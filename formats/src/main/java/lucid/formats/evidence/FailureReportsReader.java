package lucid.formats.evidence;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import lucid.core.evidence.FailureReport;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.Predicates;
import lucid.formats.Content;
import lucid.formats.Format;
import lucid.formats.JsonPlace;
import lucid.formats.JsonReader;
import lucid.formats.ReadDocument;
import lucid.formats.ReadingHints;
import lucid.formats.Schemas;
import tools.jackson.databind.JsonNode;

/** Reads our own failure reports; their schema is {@code failure-reports-1}. */
public final class FailureReportsReader implements JsonReader {

    private static final Schemas SCHEMA = Schemas.named("failure-reports-1");

    @Override
    public boolean recognises(JsonNode root) {
        return root.path("format").asString("").startsWith("failure-reports-");
    }

    @Override
    public ReadDocument read(JsonNode node, ReadingHints hints) {
        SCHEMA.require(node);
        JsonPlace root = JsonPlace.root(node);
        String source = root.get("source").line();
        List<FailureReport> reports = new ArrayList<>();
        for (JsonPlace item : root.get("reports").items()) {
            List<String> hosts = item.get("hosts").items().stream().map(JsonPlace::line).distinct().toList();
            int others = item.get("others").exists() ? item.get("others").node().intValue() : 0;
            if (hosts.isEmpty() && others == 0) {
                throw item.refused("a report names hosts, or tells how many others");
            }
            reports.add(new FailureReport(
                    source + "/" + item.get("id").line(),
                    item.get("update").line(),
                    item.get("code").optionalText(),
                    item.get("class").optionalText().map(c -> FailureClass.valueOf(c.toUpperCase(Locale.ROOT))).orElse(FailureClass.DEGRADED),
                    item.get("text").optionalText().orElse(""),
                    hosts, others,
                    item.get("where").exists() ? Optional.of(item.get("where").as(Predicates::parse)) : Optional.empty(),
                    source,
                    item.get("at").exists() ? item.get("at").instant() : hints.received()));
        }
        return new ReadDocument(Format.FAILURE_REPORTS, new Content.OfReports(reports), List.of());
    }
}
