package lucid.formats.evidence;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import lucid.core.evidence.KnownIssue;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.HostConditions;
import lucid.formats.document.Content;
import lucid.formats.document.Format;
import lucid.formats.document.JsonPlace;
import lucid.formats.document.JsonReader;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.Schemas;
import tools.jackson.databind.JsonNode;

/** Reads our own list of known issues; its schema is {@code known-issues-1}. */
public final class KnownIssuesReader implements JsonReader {

    private static final Schemas SCHEMA = Schemas.named("known-issues-1");

    @Override
    public String reads() {
        return "known issues";
    }

    @Override
    public boolean recognises(JsonNode root) {
        return root.path("format").asString("").startsWith("known-issues-");
    }

    @Override
    public ReadDocument read(JsonNode node, ReadingHints hints) {
        String source = JsonPlace.root(node).get("source").line();
        List<Problem> problems = new ArrayList<>();
        List<String> withdrawn = new ArrayList<>();
        List<Optional<KnownIssue>> read = SCHEMA.each(
                node,
                "issues",
                item -> {
                    if (item.get("withdrawn").node().asBoolean(false)) {
                        withdrawn.add(item.get("id").line());
                        return Optional.empty();
                    }
                    return Optional.of(issue(source, item, hints));
                },
                problems);
        return new ReadDocument(
                Format.KNOWN_ISSUES,
                new Content.OfIssues(read.stream().flatMap(Optional::stream).toList(), withdrawn),
                problems);
    }

    private static KnownIssue issue(String source, JsonPlace item, ReadingHints hints) {
        Instant told = item.get("at").told(hints.received());
        return new KnownIssue(
                item.get("id").line(),
                item.get("updates").items().stream().map(JsonPlace::update).toList(),
                item.get("fixedBy").items().stream().map(JsonPlace::update).toList(),
                item.get("text").text(),
                KnownIssue.State.valueOf(
                        item.get("state").line().toUpperCase(Locale.ROOT).replace(' ', '_')),
                item.get("class").optionalText().map(c -> FailureClass.valueOf(c.toUpperCase(Locale.ROOT))),
                item.get("hosts").exists()
                        ? Optional.of(item.get("hosts").as(HostConditions::parse))
                        : Optional.empty(),
                source,
                told,
                told);
    }
}
