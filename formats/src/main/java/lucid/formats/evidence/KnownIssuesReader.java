package lucid.formats.evidence;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import lucid.core.evidence.KnownIssue;
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

/** Reads our own list of known issues; its schema is {@code known-issues-1}. */
public final class KnownIssuesReader implements JsonReader {

    private static final Schemas SCHEMA = Schemas.named("known-issues-1");

    @Override
    public boolean recognises(JsonNode root) {
        return root.path("format").asString("").startsWith("known-issues-");
    }

    @Override
    public ReadDocument read(JsonNode node, ReadingHints hints) {
        SCHEMA.require(node);
        JsonPlace root = JsonPlace.root(node);
        String source = root.get("source").line();
        List<KnownIssue> issues = new ArrayList<>();
        for (JsonPlace item : root.get("issues").items()) {
            Instant told = item.get("at").exists() ? item.get("at").instant() : hints.received();
            issues.add(new KnownIssue(
                    item.get("id").line(),
                    item.get("updates").items().stream().map(JsonPlace::line).toList(),
                    item.get("fixedBy").items().stream().map(JsonPlace::line).toList(),
                    item.get("text").text(),
                    KnownIssue.State.valueOf(item.get("state").line().toUpperCase(Locale.ROOT).replace(' ', '_')),
                    item.get("class").optionalText().map(c -> FailureClass.valueOf(c.toUpperCase(Locale.ROOT))),
                    item.get("hosts").exists() ? Optional.of(item.get("hosts").as(Predicates::parse)) : Optional.empty(),
                    source, told, told));
        }
        return new ReadDocument(Format.KNOWN_ISSUES, new Content.OfIssues(issues), List.of());
    }
}
