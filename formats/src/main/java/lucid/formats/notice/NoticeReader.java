package lucid.formats.notice;

import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import lucid.core.update.AffectedRange;
import lucid.core.update.Fix;
import lucid.core.update.Kind;
import lucid.core.update.PackageReference;
import lucid.core.update.Product;
import lucid.core.update.ProductBuild;
import lucid.core.update.Removable;
import lucid.core.update.Requirement;
import lucid.core.update.RestartNeed;
import lucid.core.update.UpdateId;
import lucid.core.update.UpdateNotice;
import lucid.formats.document.Content;
import lucid.formats.document.Format;
import lucid.formats.document.JsonPlace;
import lucid.formats.document.JsonReader;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.Schemas;
import tools.jackson.databind.JsonNode;

/** Reads our own update notice; its schema is {@code update-notice-1}. */
public final class NoticeReader implements JsonReader {

    private static final Schemas SCHEMA = Schemas.named("update-notice-1");

    @Override
    public String reads() {
        return "an update notice";
    }

    @Override
    public boolean recognises(JsonNode root) {
        return root.path("format").asString("").startsWith("update-notice-");
    }

    @Override
    public ReadDocument read(JsonNode node, ReadingHints hints) {
        SCHEMA.require(node);
        JsonPlace root = JsonPlace.root(node);
        UpdateNotice notice = new UpdateNotice(
                new UpdateId(root.get("id").identifier()),
                root.get("title").line(),
                root.get("vendor").optionalText().orElse(""),
                root.get("summary").optionalText().orElse(""),
                root.get("revision").line(),
                root.get("published").instant(),
                Kind.valueOf(root.get("kind").line().toUpperCase(Locale.ROOT)),
                root.get("sizeBytes").exists()
                        ? Optional.of(node.path("sizeBytes").longValue())
                        : Optional.empty(),
                root.get("restart").optionalText().map(r -> RestartNeed.valueOf(r.toUpperCase(Locale.ROOT))),
                new Removable(
                        root.get("removableUntil").exists()
                                ? Optional.of(root.get("removableUntil").as(NoticeReader::lastDay))
                                : Optional.empty(),
                        root.get("removableDays").exists()
                                ? Optional.of(node.path("removableDays").intValue())
                                : Optional.empty()),
                root.get("supersedes").items().stream().map(JsonPlace::update).toList(),
                root.get("brings").items().stream().map(JsonPlace::update).toList(),
                root.get("platforms").items().stream().map(JsonPlace::line).toList(),
                root.get("requires").items().stream()
                        .map(NoticeReader::requirement)
                        .toList(),
                fixes(root.get("fixes")));
        return new ReadDocument(Format.UPDATE_NOTICE, new Content.OfNotice(notice), List.of());
    }

    private static LocalDate lastDay(String text) {
        return text.equals("never") ? Removable.NEVER : LocalDate.parse(text);
    }

    private static Requirement requirement(JsonPlace item) {
        JsonPlace least = item.get("atLeast");
        JsonPlace oneOf = item.get("oneOf");
        if (item.get("product").exists() && !item.get("trait").exists() && !oneOf.exists()) {
            Product product = product(item.get("product"), "atLeast").product();
            return new Requirement.OfProduct(
                    product, least.exists() ? Optional.of(least.as(product.ordering()::require)) : Optional.empty());
        }
        if (item.get("product").exists() || !item.get("trait").exists() || oneOf.exists() == least.exists()) {
            throw item.refused(
                    "say a 'product', at the version 'atLeast' or any; or a 'trait' that is 'oneOf' some texts, or a"
                            + " number 'atLeast'");
        }
        String trait = item.get("trait").line();
        return oneOf.exists()
                ? new Requirement.OneOf(
                        trait, oneOf.items().stream().map(JsonPlace::line).toList())
                : new Requirement.AtLeast(trait, least.number());
    }

    private static ProductBuild product(JsonPlace place, String versionsBelongInto) {
        PackageReference reference = place.as(PackageReference::parse);
        if (reference.version().isPresent()) {
            throw place.refused("a product has no version; it belongs into '" + versionsBelongInto + "'");
        }
        return reference.build();
    }

    private static List<Fix> fixes(JsonPlace list) {
        List<Fix> fixes = new ArrayList<>();
        for (JsonPlace item : list.items()) {
            ProductBuild build = product(item.get("product"), "affected");
            try {
                fixes.add(new Fix(
                        build,
                        item.get("affected").items().stream()
                                .map(NoticeReader::range)
                                .toList()));
            } catch (IllegalArgumentException e) {
                throw item.get("affected").refused(e.getMessage());
            }
        }
        return fixes;
    }

    private static AffectedRange range(JsonPlace range) {
        Optional<String> lastAffected = range.get("lastAffected").optionalText();
        return new AffectedRange(
                range.get("introduced").optionalText(),
                lastAffected.or(() -> range.get("fixed").optionalText()),
                lastAffected.isPresent());
    }
}
