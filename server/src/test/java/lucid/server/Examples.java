package lucid.server;

import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;

/** Small documents for tests. */
public final class Examples {

    public static final String POPULATIONS = """
            {"format": "populations-1", "fleetRule": {"otherwise": 30}, "populations": [
              {"id": "kiosks", "name": "Ticket kiosks", "condition": "role = kiosk", "tier": 2, "rule": {"otherwise": 5}},
              {"id": "desktops", "name": "Office desktops", "condition": "role = desktop", "tier": 3, "timeZone": "Asia/Tokyo", "rule": {"otherwise": "never"}}]}
            """;

    private Examples() {}

    /** An update of a product called desk. */
    public static String notice(String id, String revision, String fixed) {
        return """
                {"format": "update-notice-1", "id": "%s", "title": "Desk %s", "revision": "%s", "published": "%s", "kind": "bugfix",
                 "fixes": [{"product": "pkg:generic/desk", "affected": [{"fixed": "%s"}]}]}
                """.formatted(id, fixed, revision, Instant.now(), fixed);
    }

    public static String advisory(String id, String fixed) {
        return """
                {"document": {"csaf_version": "2.0", "category": "csaf_base", "title": "A vulnerability of Desk", "publisher": {"name": "Lantern", "category": "vendor", "namespace": "https://lantern.example"},
                  "tracking": {"id": "%s", "version": "1", "status": "final", "revision_history": [{"number": "1", "date": "%s", "summary": "First."}], "initial_release_date": "%s", "current_release_date": "%s"}},
                 "product_tree": {"full_product_names": [{"product_id": "P", "name": "Desk", "product_identification_helper": {"purl": "pkg:generic/desk@%s"}}]},
                 "vulnerabilities": [{"cve": "CVE-2026-9000001", "product_status": {"fixed": ["P"]}, "scores": [{"products": ["P"], "cvss_v3": {"baseScore": 8.1}}]}]}
                """.formatted(id, Instant.now(), Instant.now(), Instant.now(), fixed);
    }

    /** A host with version {@code version} of desk, reported at {@code at}. */
    public static String host(String name, String role, String version, Instant at) {
        return """
                {"t":"host","host":"%s","platform":"Lantern Desktop 6","at":"%s","traits":{"role":"%s","spool_free_mb":120}}
                {"t":"product","purl":"pkg:generic/desk","version":"%s"}
                {"t":"end","lines":2}
                """.formatted(name, at, role, version);
    }

    /** Hosts by name, each with its role and version, reported now. */
    public static String hosts(Map<String, String> roleAndVersion) {
        return roleAndVersion.entrySet().stream()
                .map(e -> host(
                        e.getKey(), e.getValue().split(" ")[0], e.getValue().split(" ")[1], Instant.now()))
                .collect(Collectors.joining());
    }

    /** A verdict on the first revision of an update for one population, without words. */
    public static Map<String, Object> verdict(
            String update, String type, String population, LocalDate until, String reason) {
        return Map.of(
                "update",
                update,
                "revision",
                "1",
                "type",
                type,
                "populations",
                List.of(population),
                "until",
                until.toString(),
                "reasons",
                List.of(reason),
                "words",
                "");
    }
}
