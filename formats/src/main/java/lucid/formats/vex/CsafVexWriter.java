package lucid.formats.vex;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import lucid.core.fleet.HostName;
import lucid.core.update.PackageReference;
import tools.jackson.databind.SerializationFeature;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Writes notes as a document of the profile VEX (Common Security Advisory Framework 2.0, section 4.5). A product is
 * something installed on a host: nothing is said of the same package elsewhere.
 */
public final class CsafVexWriter {

    private static final JsonMapper JSON =
            JsonMapper.builder().enable(SerializationFeature.INDENT_OUTPUT).build();

    /** Products get their numbers as they come. */
    private final Map<PackageReference, String> packages = new LinkedHashMap<>();

    private final Map<HostName, String> hosts = new LinkedHashMap<>();
    private final Map<String, Installed> installed = new LinkedHashMap<>();

    private record Installed(String name, String packageId, String hostId) {}

    private CsafVexWriter() {}

    /**
     * @param about identifier of the update
     * @param title of the update
     * @param publisher who says it
     * @param namespace a URI that names the publisher
     * @param notes one or more
     */
    public static String write(
            String about, String title, String publisher, String namespace, List<OwnNote> notes, Instant now) {
        return new CsafVexWriter().document(about, title, publisher, namespace, notes, now);
    }

    private String document(
            String about, String title, String publisher, String namespace, List<OwnNote> notes, Instant now) {
        List<OwnNote> inOrder = notes.stream()
                .sorted(Comparator.comparing(OwnNote::written).thenComparing(OwnNote::number))
                .toList();
        ObjectNode root = JSON.createObjectNode();
        head(root.putObject("document"), about, title, publisher, namespace, inOrder, now);
        // Filled in last: by then all products are known.
        ObjectNode tree = root.putObject("product_tree");
        ArrayNode vulnerabilities = root.putArray("vulnerabilities");
        Map<String, List<OwnNote>> byVulnerability = new LinkedHashMap<>();
        inOrder.forEach(note -> note.vulnerabilities().forEach(id -> byVulnerability
                .computeIfAbsent(id, other -> new ArrayList<>())
                .add(note)));
        byVulnerability.forEach((id, some) -> vulnerability(vulnerabilities.addObject(), id, some, publisher));
        tree(tree);
        return JSON.writeValueAsString(root);
    }

    private static void head(
            ObjectNode document,
            String about,
            String title,
            String publisher,
            String namespace,
            List<OwnNote> notes,
            Instant now) {
        document.put("category", "csaf_vex")
                .put("csaf_version", "2.0")
                .put("title", "Hosts that are not affected: " + title);
        document.putObject("publisher")
                .put("category", "user")
                .put("name", publisher)
                .put("namespace", namespace);
        ObjectNode tracking = document.putObject("tracking")
                .put("id", "lucid-verdict-vex-" + about)
                .put("status", "final")
                .put("version", String.valueOf(notes.size()))
                .put("initial_release_date", notes.get(0).written().toString())
                .put(
                        "current_release_date",
                        notes.get(notes.size() - 1).written().toString());
        tracking.putObject("generator")
                .put("date", now.toString())
                .putObject("engine")
                .put("name", "Lucid Verdict");
        ArrayNode revisions = tracking.putArray("revision_history");
        for (int place = 0; place < notes.size(); place++) {
            OwnNote note = notes.get(place);
            revisions
                    .addObject()
                    .put("date", note.written().toString())
                    .put("number", String.valueOf(place + 1))
                    .put("summary", "Note no. " + note.number() + " of " + note.author() + ".");
        }
    }

    private void vulnerability(ObjectNode vulnerability, String id, List<OwnNote> notes, String publisher) {
        if (id.startsWith("CVE-")) {
            vulnerability.put("cve", id);
        } else {
            vulnerability
                    .putArray("ids")
                    .addObject()
                    .put("system_name", publisher)
                    .put("text", id);
        }
        vulnerability
                .putArray("notes")
                .addObject()
                .put("category", "other")
                .put("title", "Of whom this is said")
                .put("text", "This speaks of the named hosts alone.");
        ArrayNode notAffected = vulnerability.putObject("product_status").putArray("known_not_affected");
        ArrayNode threats = vulnerability.putArray("threats");
        List<String> told = new ArrayList<>();
        for (OwnNote note : notes) {
            List<String> ids = products(note);
            ids.stream().filter(one -> !told.contains(one)).forEach(one -> {
                told.add(one);
                notAffected.add(one);
            });
            ObjectNode threat = threats.addObject()
                    .put("category", "impact")
                    .put("date", note.written().toString())
                    .put("details", note.impact());
            ArrayNode of = threat.putArray("product_ids");
            ids.forEach(of::add);
        }
    }

    private List<String> products(OwnNote note) {
        List<String> ids = new ArrayList<>();
        for (OwnNote.OnHost on : note.hosts()) {
            String host = hosts.computeIfAbsent(on.host(), name -> "H" + (hosts.size() + 1));
            for (PackageReference one : on.installed()) {
                String part = packages.computeIfAbsent(one, reference -> "P" + (packages.size() + 1));
                installed.putIfAbsent(part + host, new Installed(name(one) + " on " + on.host(), part, host));
                ids.add(part + host);
            }
        }
        return ids;
    }

    private static String name(PackageReference one) {
        return one.build().product().name()
                + one.version().map(version -> " " + version).orElse("");
    }

    private void tree(ObjectNode tree) {
        ArrayNode names = tree.putArray("full_product_names");
        hosts.forEach((host, id) -> names.addObject().put("product_id", id).put("name", "Host " + host));
        packages.forEach((one, id) -> names.addObject()
                .put("product_id", id)
                .put("name", name(one))
                .putObject("product_identification_helper")
                .put("purl", one.purl()));
        ArrayNode relationships = tree.putArray("relationships");
        installed.forEach((id, one) -> relationships
                .addObject()
                .put("category", "installed_on")
                .put("product_reference", one.packageId())
                .put("relates_to_product_reference", one.hostId())
                .putObject("full_product_name")
                .put("product_id", id)
                .put("name", one.name()));
    }
}
