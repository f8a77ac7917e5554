package lucid.formats;

import java.util.ArrayList;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;
import lucid.core.update.Advisory;
import lucid.core.update.AffectedRange;
import lucid.core.update.Fix;
import lucid.core.update.ReadFrom;
import lucid.core.update.RestartNeed;
import lucid.core.update.Restarts;
import lucid.core.update.UnreadProduct;
import lucid.core.update.VendorStatement;
import lucid.core.update.Vulnerability;
import lucid.formats.document.Content;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;

/** What was understood of a document, as a person would say it: one sentence a line. */
public final class Explanation {

    private static final int MOST_PLACES = 3;

    private Explanation() {}

    public static List<String> of(ReadDocument document) {
        List<String> lines = new ArrayList<>();
        lines.add(document.format().title() + ": " + document.subject() + ".");
        if (document.content() instanceof Content.OfAdvisories advisories) {
            advisories.advisories().forEach(advisory -> lines.addAll(of(advisory)));
        } else if (document.content() instanceof Content.OfNotice notice) {
            notice.notice().fixes().forEach(fix -> lines.add(of(fix)));
        }
        document.problems().forEach(problem -> lines.add(of(problem)));
        return lines;
    }

    private static List<String> of(Advisory advisory) {
        List<String> lines = new ArrayList<>();
        lines.add(advisory.id() + ", revision " + advisory.revision()
                + (advisory.vendor().isEmpty() ? "" : ", of " + advisory.vendor()) + ": " + advisory.title() + ".");
        advisory.retraction()
                .ifPresent(retraction -> lines.add(
                        "It is " + retraction.type().name().toLowerCase(Locale.ROOT) + ": " + retraction.reason()));
        lines.add(advisory.vendorRating()
                .map(word -> "Its vendor's word for the severity is " + word + ".")
                .orElse("Its vendor does not rate it."));
        advisory.vulnerabilities().forEach(vulnerability -> lines.add(of(vulnerability)));
        advisory.fixes().forEach(fix -> lines.add(of(fix) + from(advisory, fix)));
        advisory.sharing().ifPresent(level -> lines.add("It may be shared at the level TLP:" + level.word() + "."));
        if (advisory.fixes().isEmpty()) {
            lines.add("No product was read: which hosts lack it cannot be told by it.");
        }
        Map<String, List<UnreadProduct>> unread =
                new TreeMap<>(advisory.unread().stream().collect(Collectors.groupingBy(UnreadProduct::family)));
        unread.forEach((name, products) ->
                lines.add("Not read: " + name + ", because " + products.get(0).reason() + "."));
        advisory.statements().forEach(statement -> lines.add(of(statement)));
        Restarts restarts = advisory.restarts();
        lines.add(
                restarts.strongest() == RestartNeed.UNKNOWN
                        ? "It does not say whether anything must be restarted."
                        : "It says what must be restarted: " + words(restarts.strongest()) + ".");
        if (!restarts.ofProducts().isEmpty()) {
            advisory.fixes()
                    .forEach(fix -> lines.add("What must be restarted for " + fix.build() + ": "
                            + words(restarts.of(fix.build())) + "."));
        }
        return lines;
    }

    private static String words(RestartNeed need) {
        return need == RestartNeed.UNKNOWN ? "not said" : need.name().toLowerCase(Locale.ROOT);
    }

    private static String of(Vulnerability vulnerability) {
        return "It closes " + vulnerability.id()
                + vulnerability
                        .baseScore()
                        .map(score -> ", base score " + score)
                        .orElse(", without a score")
                + (vulnerability.exploitation().isEmpty() ? "." : ". Of exploitation: " + vulnerability.exploitation());
    }

    private static String from(Advisory advisory, Fix fix) {
        List<ReadFrom> from = advisory.readFrom().stream()
                .filter(one -> one.build().equals(fix.build()))
                .toList();
        return from.isEmpty()
                ? ""
                : " That stands at "
                        + from.stream().limit(MOST_PLACES).map(ReadFrom::place).collect(Collectors.joining(", "))
                        + (from.size() > MOST_PLACES ? " and " + (from.size() - MOST_PLACES) + " more places" : "")
                        + ".";
    }

    private static String of(Fix fix) {
        return "Of " + fix.build() + " lack the fix: "
                + fix.tracks().stream().map(Explanation::of).collect(Collectors.joining("; ")) + ".";
    }

    private static String of(AffectedRange range) {
        String from = range.introduced()
                .map(version -> (range.afterIntroduced() ? "after " : "from ") + version + " ")
                .orElse("");
        if (range.end().isEmpty()) {
            return from + "all versions that follow, and nothing to install is known";
        }
        return range.endIncluded()
                ? from + "up to " + range.end().get() + ", and nothing to install is known"
                : from + "below " + range.end().get();
    }

    private static String of(VendorStatement statement) {
        return statement.build().map(Object::toString).orElse(statement.product())
                + statement.version().map(version -> " " + version).orElse("") + " is "
                + switch (statement.type()) {
                    case NOT_AFFECTED -> "not affected by ";
                    case UNDER_INVESTIGATION -> "still looked into for ";
                    case RECOMMENDED -> "recommended for ";
                }
                + statement.vulnerability()
                + (statement.words().isEmpty() ? "." : ": " + statement.words() + ".");
    }

    private static String of(Problem problem) {
        return "Noticed" + (problem.place().isEmpty() ? "" : " at " + problem.place()) + ": " + problem.reason() + ".";
    }
}
