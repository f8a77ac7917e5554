package lucid.simulator;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.SplittableRandom;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/**
 * The updates that nobody will remember: a batch of unremarkable fixes, and content that comes every day. The same in
 * every run.
 */
final class Routine {

    /** Days on which content came, up to today. */
    private static final int CONTENT_DAYS = 20;
    /** The newest content is of this number; each day's is one more than that of the day before. */
    private static final int NEWEST_CONTENT = 412;

    private static final JsonMapper JSON = new JsonMapper();

    /** @param product of the operating system's own package type, or a plain one */
    private record Part(String vendor, String prefix, String platform, String product, String name) {}

    private static final List<String> TARN = List.of(
            "archiver",
            "calendar-data",
            "clock-sync",
            "disk-tools",
            "font-set",
            "help-pages",
            "log-rotate",
            "mail-client",
            "net-tools",
            "text-editor",
            "time-zones",
            "volume-manager");
    private static final List<String> FATHOM = List.of(
            "archiver",
            "bell-sounds",
            "boot-menu",
            "clock-sync",
            "code-pages",
            "disk-tools",
            "firmware-lists",
            "help-pages",
            "image-viewer",
            "keyboard-maps",
            "log-rotate",
            "net-tools",
            "screen-lock",
            "time-zones");
    private static final List<String> LANTERN = List.of(
            "Address book",
            "Calculator",
            "Clipboard history",
            "Colour profiles",
            "Document viewer",
            "Drawing pad",
            "Emoji set",
            "File search",
            "Font set",
            "Input methods",
            "Media player",
            "Night mode",
            "Notes",
            "Screen recorder",
            "Task list");

    private Routine() {}

    /** Lines as those of {@code releases.json}. */
    static List<ObjectNode> lines() {
        List<ObjectNode> lines = new ArrayList<>(content());
        SplittableRandom random = new SplittableRandom(13);
        int number = 0;
        for (Part part : parts()) {
            lines.add(fix(part, number++, random));
        }
        return lines;
    }

    /** What hosts of a platform have of it at the beginning, by package URL. */
    static Map<String, String> baseVersions(String platform) {
        Map<String, String> versions = new LinkedHashMap<>();
        parts().stream()
                .filter(part -> part.platform().equals(platform))
                .forEach(part -> versions.put(part.product(), version(part, 0)));
        if (platform.equals("Lantern Desktop 6")) {
            versions.put("pkg:generic/lantern-guard-definitions", String.valueOf(NEWEST_CONTENT - CONTENT_DAYS));
        }
        return versions;
    }

    private static List<Part> parts() {
        List<Part> parts = new ArrayList<>();
        TARN.forEach(name -> parts.add(new Part(
                "Tarn",
                "TRN-22",
                "Tarn Linux 4",
                "pkg:rpm/tarn/" + name + "?arch=x86_64",
                "Tarn " + name.replace('-', ' '))));
        FATHOM.forEach(name -> parts.add(new Part(
                "Fathom",
                "FTM-07",
                "Fathom OS 31",
                "pkg:deb/fathom/" + name + "?arch=amd64",
                "Fathom " + name.replace('-', ' '))));
        LANTERN.forEach(name -> parts.add(new Part(
                "Lantern",
                "LNT-20",
                "Lantern Desktop 6",
                "pkg:generic/" + name.toLowerCase(Locale.ROOT).replace(' ', '-'),
                "Lantern " + name.toLowerCase(Locale.ROOT))));
        return parts;
    }

    private static String version(Part part, int patch) {
        int minor = Math.floorMod(part.product().hashCode(), 9);
        return switch (part.vendor()) {
            case "Tarn" -> "0:1." + minor + "." + patch + "-1.t4";
            case "Fathom" -> "1." + minor + "." + patch + "-1";
            default -> "1." + minor + "." + patch;
        };
    }

    private static ObjectNode fix(Part part, int number, SplittableRandom random) {
        int turn = random.nextInt(10);
        String kind = turn < 6 ? "bugfix" : turn < 8 ? "enhancement" : "security";
        String words =
                switch (kind) {
                    case "bugfix" -> "Corrects a fault that few people met.";
                    case "enhancement" -> "Small improvements.";
                    default -> "A vulnerability that needs a file of the same user.";
                };
        ObjectNode line = JSON.createObjectNode()
                .put("id", part.prefix() + (50 + number))
                .put("title", part.name() + " " + version(part, 1).replaceAll("^0:|-1.*", ""))
                .put("vendor", part.vendor())
                .put("kind", kind)
                .put("daysAgo", 1 + random.nextInt(12))
                .put("summary", words)
                .put("size", 200_000 + random.nextInt(4_000_000))
                .put("restart", "none");
        if (kind.equals("security")) {
            line.put("rating", "Low")
                    .put("base", 3.3)
                    .put("vector", "CVSS:3.1/AV:L/AC:L/PR:L/UI:N/S:U/C:L/I:N/A:N")
                    .put("vulnerabilities", 1);
        }
        line.putArray("platforms").add(part.platform());
        line.putArray("fixes").addObject().put("product", part.product()).put("fixed", version(part, 1));
        line.putObject("adoption").putArray("bench").add(100).add(1);
        return line;
    }

    private static List<ObjectNode> content() {
        List<ObjectNode> lines = new ArrayList<>();
        for (int daysAgo = CONTENT_DAYS - 1; daysAgo >= 0; daysAgo--) {
            int number = NEWEST_CONTENT - daysAgo;
            ObjectNode line = JSON.createObjectNode()
                    .put("id", "LNT-C-0" + number)
                    .put("title", "Lantern guard definitions " + number)
                    .put("vendor", "Lantern")
                    .put("kind", "content")
                    .put("daysAgo", daysAgo)
                    .put("summary", "Daily definitions.")
                    .put("size", 4_000_000)
                    .put("restart", "none");
            line.putArray("platforms").add("Lantern Desktop 6");
            if (daysAgo < CONTENT_DAYS - 1) {
                line.putArray("supersedes").add("LNT-C-0" + (number - 1));
            }
            line.putArray("fixes")
                    .addObject()
                    .put("product", "pkg:generic/lantern-guard-definitions")
                    .put("fixed", String.valueOf(number));
            ObjectNode adoption = line.putObject("adoption");
            adoption.putArray("bench").add(100).add(0);
            adoption.putArray("desktop").add(daysAgo == 0 ? 40 : 97).add(daysAgo == 0 ? 0 : 1);
            adoption.putArray("kiosk").add(daysAgo == 0 ? 0 : 96).add(1);
            adoption.putArray("tablet").add(daysAgo == 0 ? 0 : 90).add(1);
            lines.add(line);
        }
        return lines;
    }
}
