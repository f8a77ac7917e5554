package lucid.simulator;

import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.SplittableRandom;
import java.util.stream.Collectors;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * What the world outside Skerry Line publishes of vulnerabilities and updates: exploit probabilities, a catalogue of
 * exploited vulnerabilities, known issues, failures elsewhere.
 */
final class Outside {

    private static final JsonMapper JSON = new JsonMapper();
    private static final int OTHER_WEAKNESSES = 3000;
    /** What the catalogue gives everybody to act, in days. */
    private static final int DAYS_TO_ACT = 21;

    private static final String EXPLOITED = "TRN-2231";

    private final List<Release> releases;

    Outside(List<Release> releases) {
        this.releases = releases;
    }

    /**
     * A document with the name under which it is sent.
     *
     * @param remarks how many are to be made on it
     */
    record Published(String name, String content, int remarks) {

        Published(String name, String content) {
            this(name, content, 0);
        }
    }

    /** The advisory of a vendor who names its products in words of its own, without a package URL. */
    private static String strangersAdvisory(Instant now) {
        try (InputStream in = Outside.class.getResourceAsStream("/stranger-advisory.json")) {
            return new String(in.readAllBytes(), StandardCharsets.UTF_8).replace("$PUBLISHED", now.toString());
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** What comes out on a day, counted back from the end of the history. */
    List<Published> on(int daysAgo, Instant now) {
        List<Published> published = new ArrayList<>();
        if (daysAgo % 7 == 0 || daysAgo < 6) {
            published.add(new Published("exploit-probabilities.csv", scores(daysAgo, now)));
        }
        if (daysAgo == 60 || daysAgo == 0) {
            published.add(new Published("exploited-vulnerabilities.json", exploited(daysAgo, now)));
        }
        switch (daysAgo) {
            case 24 ->
                published.add(issue(
                        "Skerry Line",
                        "KI-31",
                        "LNT-3042",
                        "The card reader is lost until the next start of the kiosk.",
                        "open",
                        "degraded",
                        "reader = R2 and model = K2"));
            case 20 ->
                published.add(issue(
                        "Skerry Line",
                        "KI-32",
                        "FTM-0866",
                        "Queued mail is lost when the disk runs full.",
                        "open",
                        "degraded",
                        "model = S2"));
            case 10 ->
                published.add(reports(
                        "Harbour exchange",
                        Map.of(
                                "id",
                                "HX-1190",
                                "update",
                                "LNT-1107",
                                "code",
                                "0x1107-28",
                                "class",
                                "refused",
                                "text",
                                "Stops at 28 % on ticket machines with the newer card reader.",
                                "others",
                                34,
                                "where",
                                "reader = R2")));
            case 6 ->
                published.add(reports(
                        "Northern piers forum",
                        Map.of(
                                "id",
                                "88213",
                                "update",
                                "LNT-1107",
                                "code",
                                "0x1107-28",
                                "class",
                                "refused",
                                "text",
                                "Cannot be installed on some of our machines; a second try does not help.",
                                "others",
                                12)));
            case 1 -> published.add(new Published("hly-2026-014.json", strangersAdvisory(now), 1));
            case 2 ->
                published.add(issue(
                        "Skerry Line",
                        "KI-32",
                        "FTM-0866",
                        "Queued mail is lost when the disk runs full. Revision 2 keeps it.",
                        "fixed",
                        "degraded",
                        "model = S2"));
            case 0 ->
                published.add(issue(
                        "Lantern",
                        "LNT-KI-107",
                        "LNT-1107",
                        "On some machines the update stops with 0x1107-28 and is rolled back. We are looking into it.",
                        "open",
                        "refused",
                        ""));
            default -> {}
        }
        return published;
    }

    /**
     * What can be fetched on the last day and after it.
     *
     * @param lastDay when the history ended
     */
    List<Published> fetched(Instant lastDay, Instant now) {
        List<Published> published = new ArrayList<>(List.of(
                new Published("exploit-probabilities.csv", scores(0, now)),
                new Published("exploited-vulnerabilities.json", exploited(0, lastDay)),
                new Published("statements.openvex.json", statements())));
        published.addAll(on(0, lastDay).stream()
                .filter(one -> one.name().startsWith("known-issue"))
                .toList());
        return published;
    }

    /** The print service as it is built here does not have the vulnerability. */
    private String statements() {
        Release printing = releases.stream()
                .filter(release -> release.id().equals("FTM-0880"))
                .findFirst()
                .orElseThrow();
        ObjectNode root = JSON.createObjectNode()
                .put("@context", "https://openvex.dev/ns/v0.2.0")
                .put("@id", "https://fathom.example/vex/2026-31")
                .put("author", "Fathom")
                .put("timestamp", "2026-01-01T00:00:00Z")
                .put("version", 1);
        ArrayNode statements = root.putArray("statements");
        for (String cve : printing.cves()) {
            ObjectNode statement = statements
                    .addObject()
                    .put("status", "not_affected")
                    .put("justification", "vulnerable_code_not_in_execute_path");
            statement.putObject("vulnerability").put("name", cve);
            printing.fixes()
                    .forEach(fix -> statement.putArray("products").addObject().put("@id", fix.product()));
        }
        return root.toString();
    }

    private String scores(int daysAgo, Instant now) {
        LocalDate day = LocalDate.ofInstant(now, ZoneOffset.UTC);
        StringBuilder csv = new StringBuilder(
                "#model_version:v2026.03.01,score_date:" + day + "T00:00:00+0000\ncve,epss,percentile\n");
        releases.stream()
                .filter(release -> release.daysAgo() >= daysAgo && release.hasAdvisory())
                .flatMap(release -> release.cves().stream().map(cve -> Map.entry(cve, score(release, daysAgo))))
                .collect(Collectors.toMap(Map.Entry::getKey, Map.Entry::getValue, Math::max, LinkedHashMap::new))
                .forEach((cve, score) -> row(csv, cve, score));
        SplittableRandom random = new SplittableRandom(31);
        for (int i = 0; i < OTHER_WEAKNESSES; i++) {
            row(csv, "CVE-2026-95" + String.format("%05d", i), 0.0001 + Math.pow(random.nextDouble(), 8) * 0.9);
        }
        return csv.toString();
    }

    private static void row(StringBuilder csv, String cve, double score) {
        csv.append(String.format(Locale.ROOT, "%s,%.5f,%.5f%n", cve, score, Math.min(0.99999, Math.pow(score, 0.2))));
    }

    /** Most vulnerabilities are hardly ever exploited; a few rise while one looks on. */
    private static double score(Release release, int daysAgo) {
        return switch (release.id()) {
            case EXPLOITED, "FTM-0869" -> daysAgo >= 5 ? 0.081 : daysAgo >= 3 ? 0.164 : daysAgo >= 1 ? 0.427 : 0.713;
            case "LNT-1107" -> 0.031;
            case "LNT-2031" -> daysAgo >= 2 ? 0.004 : 0.012;
            case "CST-0091" -> 0.0061;
            default -> 0.0004 + Math.floorMod(release.id().hashCode(), 60) / 10_000.0;
        };
    }

    private String exploited(int daysAgo, Instant now) {
        LocalDate day = LocalDate.ofInstant(now, ZoneOffset.UTC);
        ObjectNode root = JSON.createObjectNode()
                .put("title", "Exploited vulnerabilities")
                .put("catalogVersion", day.toString())
                .put("dateReleased", now.toString());
        ArrayNode list = root.putArray("vulnerabilities");
        for (int i = 0; i < 40; i++) {
            entry(list, "CVE-2026-95" + String.format("%05d", i * 71), day.minusDays(80 + i), "Seen in the field");
        }
        if (daysAgo == 0) {
            Release libtls = releases.stream()
                    .filter(release -> release.id().equals(EXPLOITED))
                    .findFirst()
                    .orElseThrow();
            libtls.cves()
                    .forEach(cve -> entry(
                            list,
                            cve,
                            day.minusDays(1),
                            "Handshake of libtls: code of the attacker's choice runs before anybody signs in"));
        }
        return root.toString();
    }

    private static void entry(ArrayNode list, String cve, LocalDate added, String words) {
        list.addObject()
                .put("cveID", cve)
                .put("dateAdded", added.toString())
                .put("vulnerabilityName", words)
                .put("requiredAction", "Install the vendor's update, or take the product out of use.")
                .put("dueDate", added.plusDays(DAYS_TO_ACT).toString());
    }

    private static Published issue(
            String source, String id, String update, String words, String state, String failureClass, String hosts) {
        ObjectNode root =
                JSON.createObjectNode().put("format", "known-issues-1").put("source", source);
        ObjectNode issue = root.putArray("issues")
                .addObject()
                .put("id", id)
                .put("text", words)
                .put("state", state)
                .put("class", failureClass);
        issue.putArray("updates").add(update);
        if (!hosts.isEmpty()) {
            issue.put("hosts", hosts);
        }
        return new Published("known-issue-" + id.toLowerCase(Locale.ROOT) + ".json", root.toString());
    }

    private static Published reports(String source, Map<String, Object> report) {
        return new Published(
                "failure-reports.json",
                JSON.writeValueAsString(
                        Map.of("format", "failure-reports-1", "source", source, "reports", List.of(report))));
    }
}
