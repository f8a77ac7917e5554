package lucid.simulator;

import java.io.IOException;
import java.io.InputStream;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import lucid.simulator.living.Nature;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * One line of {@code releases.json}: an update as its vendor releases it, and how far hosts have installed it.
 *
 * @param revision "1", or a later one of a release that stands in a line of its own
 * @param staged by role: share of its hosts, in percent, that will have downloaded it the day after its publication
 * @param adoption by role: share of its hosts, in percent, that will have installed it, and days after publication by
 *     which they have
 * @param sampled hosts that try it first, each with the day, before the end of the history, on which it was drawn
 */
record Release(
        JsonNode line,
        String id,
        String revision,
        int daysAgo,
        List<FixOf> fixes,
        Map<String, int[]> adoption,
        Map<String, Integer> staged,
        Optional<Failure> failure,
        Map<String, Integer> sampled) {

    private static final JsonMapper JSON = new JsonMapper();
    /** Made-up CVE identifiers begin with this digit. */
    private static final int FIRST_CVE = 9_000_000;

    /**
     * What makes it fail, hidden from who judges it.
     *
     * @param is traits that a host must have to be hit
     * @param below traits that must be less than a number
     */
    record Failure(String code, String failureClass, Map<String, String> is, Map<String, Integer> below) {

        boolean hits(Map<String, Object> traits) {
            return is.entrySet().stream().allMatch(e -> e.getValue().equals(traits.get(e.getKey())))
                    && below.entrySet().stream()
                            .allMatch(e -> traits.get(e.getKey()) instanceof Integer number && number < e.getValue());
        }

        Nature.Fault fault() {
            return new Nature.Fault(code, failureClass);
        }

        private static Failure of(JsonNode line) {
            Map<String, String> is = new TreeMap<>();
            line.path("is")
                    .properties()
                    .forEach(e -> is.put(e.getKey(), e.getValue().asString()));
            Map<String, Integer> below = new TreeMap<>();
            line.path("below")
                    .properties()
                    .forEach(e -> below.put(e.getKey(), e.getValue().asInt()));
            return new Failure(line.get("code").asString(), line.get("class").asString(), is, below);
        }
    }

    record FixOf(String product, Optional<String> introduced, String fixed) {}

    boolean isUpgrade() {
        return line.path("kind").asString().equals("upgrade");
    }

    /** The version of a product with which it comes. */
    String fixed(String product) {
        return fixes.stream()
                .filter(fix -> fix.product().equals(product))
                .findFirst()
                .orElseThrow()
                .fixed();
    }

    /** Every release of the history, the oldest first on each day. */
    static List<Release> all() throws IOException {
        List<Release> releases = new ArrayList<>();
        try (InputStream in = Release.class.getResourceAsStream("/releases.json")) {
            JSON.readTree(in).forEach(line -> releases.add(of(line)));
        }
        Routine.lines().forEach(line -> releases.add(of(line)));
        return releases;
    }

    /** Releases of which only a provider's signed advisories tell. */
    static List<Release> ofProvider() throws IOException {
        List<Release> releases = new ArrayList<>();
        try (InputStream in = Release.class.getResourceAsStream("/provider-releases.json")) {
            JSON.readTree(in).forEach(line -> releases.add(of(line)));
        }
        return releases;
    }

    private static Release of(JsonNode line) {
        List<FixOf> fixes = new ArrayList<>();
        line.get("fixes")
                .forEach(f -> fixes.add(new FixOf(
                        f.get("product").asString(),
                        Optional.ofNullable(f.get("introduced")).map(JsonNode::asString),
                        f.get("fixed").asString())));
        Map<String, int[]> adoption = new TreeMap<>();
        line.get("adoption")
                .properties()
                .forEach(e -> adoption.put(e.getKey(), new int[] {
                    e.getValue().get(0).asInt(), e.getValue().get(1).asInt()
                }));
        Map<String, Integer> staged = new TreeMap<>();
        line.path("staged")
                .properties()
                .forEach(e -> staged.put(e.getKey(), e.getValue().asInt()));
        return new Release(
                line,
                line.get("id").asString(),
                line.path("revision").asString("1"),
                line.get("daysAgo").asInt(),
                fixes,
                adoption,
                staged,
                Optional.ofNullable(line.get("fails")).map(Failure::of),
                Map.of());
    }

    /** The same with hosts that try it first. */
    Release tried(Map<String, Integer> hosts) {
        return new Release(line, id, revision, daysAgo, fixes, adoption, staged, failure, hosts);
    }

    /** True if nobody tries it who was not drawn into a pilot. */
    boolean byPilotAlone() {
        return line.path("byPilotAlone").asBoolean(false);
    }

    boolean restartsHost() {
        return text("restart").equals("host");
    }

    boolean hasAdvisory() {
        return line.has("base");
    }

    private Instant published(Instant now) {
        return now.minus(Duration.ofHours(5));
    }

    /** Our update notice; the fixes of an update with an advisory stand in that. */
    String notice(Instant now) {
        ObjectNode notice = JSON.createObjectNode();
        notice.put("format", "update-notice-1")
                .put("id", id)
                .put("title", text("title"))
                .put("vendor", text("vendor"))
                .put("summary", text("summary"))
                .put("revision", revision)
                .put("published", published(now).toString())
                .put("kind", text("kind"))
                .put("sizeBytes", line.get("size").asLong())
                .put("restart", text("restart"));
        if (line.has("removableDaysAfterInstall")) {
            notice.put("removableDays", line.get("removableDaysAfterInstall").asInt());
        }
        if (line.has("removableDays")) {
            notice.put(
                    "removableUntil",
                    LocalDate.ofInstant(now, ZoneOffset.UTC)
                            .plusDays(line.get("removableDays").asInt())
                            .toString());
        }
        for (String list : List.of("supersedes", "brings", "platforms")) {
            if (line.has(list)) {
                notice.set(list, line.get(list).deepCopy());
            }
        }
        if (!hasAdvisory()) {
            ArrayNode list = notice.putArray("fixes");
            fixes.stream().map(FixOf::product).distinct().forEach(product -> {
                ArrayNode affected = list.addObject().put("product", product).putArray("affected");
                fixes.stream().filter(f -> f.product().equals(product)).forEach(f -> {
                    ObjectNode range = affected.addObject().put("fixed", f.fixed());
                    f.introduced().ifPresent(introduced -> range.put("introduced", introduced));
                });
            });
        }
        return notice.toString();
    }

    /** A CSAF 2.0 advisory. */
    String advisory(Instant now) {
        ObjectNode root = JSON.createObjectNode();
        ObjectNode document = root.putObject("document");
        document.put("category", "csaf_security_advisory")
                .put("csaf_version", "2.0")
                .put("title", text("title"));
        document.putObject("publisher")
                .put("category", "vendor")
                .put("name", text("vendor"))
                .put("namespace", "https://" + text("vendor").toLowerCase() + ".example");
        document.putArray("notes").addObject().put("category", "summary").put("text", text("summary"));
        document.putObject("aggregate_severity")
                .put("text", line.has("vendorRating") ? text("vendorRating") : text("rating"));
        document.putArray("references")
                .addObject()
                .put("category", "self")
                .put("summary", "Advisory")
                .put("url", "https://" + text("vendor").toLowerCase() + ".example/advisories/" + id);
        ObjectNode tracking = document.putObject("tracking");
        tracking.put("id", id)
                .put("status", "final")
                .put("version", revision)
                .put("initial_release_date", published(now).toString())
                .put("current_release_date", published(now).toString());
        ArrayNode history = tracking.putArray("revision_history");
        for (int number = 1; number <= Integer.parseInt(revision); number++) {
            history.addObject()
                    .put("date", published(now).toString())
                    .put("number", String.valueOf(number))
                    .put("summary", "Revision " + number + ".");
        }
        ArrayNode branches = root.putObject("product_tree").putArray("branches");
        ArrayNode fixed = JSON.createArrayNode();
        ArrayNode affected = JSON.createArrayNode();
        int number = 0;
        for (FixOf fix : fixes) {
            String productId = "P" + ++number;
            if (fix.introduced().isPresent()) {
                branches.addObject()
                        .put("category", "product_version_range")
                        .put("name", "vers:generic/>=" + fix.introduced().get() + "|<" + fix.fixed())
                        .putObject("product")
                        .put("product_id", productId)
                        .put("name", text("title"))
                        .putObject("product_identification_helper")
                        .put("purl", fix.product());
                affected.add(productId);
            } else {
                String[] parts = fix.product().split("\\?");
                branches.addObject()
                        .put("category", "product_version")
                        .put("name", fix.fixed())
                        .putObject("product")
                        .put("product_id", productId)
                        .put("name", text("title"))
                        .putObject("product_identification_helper")
                        .put(
                                "purl",
                                parts[0] + "@" + fix.fixed().replace(":", "%3A").replace("+", "%2B")
                                        + (parts.length > 1 ? "?" + parts[1] : ""));
                fixed.add(productId);
            }
        }
        ArrayNode vulnerabilities = root.putArray("vulnerabilities");
        for (String cve : cves()) {
            ObjectNode vulnerability = vulnerabilities.addObject().put("cve", cve);
            ObjectNode status = vulnerability.putObject("product_status");
            if (!fixed.isEmpty()) {
                status.set("fixed", fixed.deepCopy());
            }
            if (!affected.isEmpty()) {
                status.set("known_affected", affected.deepCopy());
            }
            ObjectNode score = vulnerability.putArray("scores").addObject();
            score.putArray("products").add("P1");
            score.putObject("cvss_v3")
                    .put("version", "3.1")
                    .put("baseScore", line.get("base").asDouble())
                    .put("vectorString", text("vector"));
        }
        return root.toString();
    }

    /**
     * Identifiers made from the release's own, or from that of the release which closes the same vulnerability
     * elsewhere.
     */
    List<String> cves() {
        String of = line.has("vulnerabilityOf") ? text("vulnerabilityOf") : id;
        int count = line.has("vulnerabilities") ? line.get("vulnerabilities").asInt() : 1;
        List<String> cves = new ArrayList<>();
        for (int i = 0; i < count; i++) {
            cves.add("CVE-2026-" + (FIRST_CVE + Math.floorMod(of.hashCode(), 90_000) * 10 + i));
        }
        return cves;
    }

    private String text(String name) {
        return line.get(name).asString();
    }
}
