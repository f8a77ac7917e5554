package lucid.simulator;

import java.time.Duration;
import java.time.Instant;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.SplittableRandom;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/**
 * One host of the made-up fleet: what it is, and what it would report on a day.
 *
 * @param baseVersions versions at the beginning of the history, by product
 * @param silentDays days for which it has not reported, at the end of the history
 * @param everyDays reports on every so many days
 */
record SimulatedHost(String name, String role, String platform, String supply, Map<String, Object> traits, Map<String, String> baseVersions, int silentDays, int everyDays) {

    private static final JsonMapper JSON = new JsonMapper();

    /** @param daysAgo days before the end of the history; negative after it */
    boolean reportsOn(int daysAgo) {
        return (silentDays == 0 || daysAgo >= silentDays) && Math.floorMod(daysAgo, everyDays) == 0;
    }

    /** The day, before the end of the history, on which this host installs a release; never, if negative. */
    int installsOn(Release release) {
        int[] adoption = release.adoption().get(role);
        if (adoption == null) {
            return -1;
        }
        SplittableRandom random = random(release.id());
        if (random.nextInt(100) >= adoption[0]) {
            return -1;
        }
        // Half of the hosts on the last day of the span, the others spread before it.
        int after = Math.max(adoption[1] - random.nextInt(Math.max(1, adoption[1])) / 2, 0);
        return Math.max(release.daysAgo() - after, 0);
    }

    /** Its inventory on a day, in JSON lines. */
    String inventory(Iterable<Release> releases, int daysAgo, Instant now) {
        Map<String, String> versions = new LinkedHashMap<>(baseVersions);
        for (Release release : releases) {
            int day = installsOn(release);
            if (day >= 0 && day >= daysAgo) {
                release.fixes().stream().filter(f -> versions.containsKey(f.product()) && onTrack(f, versions.get(f.product()))).forEach(f -> versions.put(f.product(), f.fixed()));
            }
        }
        ObjectNode head = JSON.createObjectNode().put("t", "host").put("host", name).put("platform", platform)
                .put("at", now.minus(Duration.ofMinutes(random("check-in").nextInt(420))).toString()).put("lastStart", now.minus(Duration.ofDays(1 + random("start").nextInt(20))).truncatedTo(java.time.temporal.ChronoUnit.HOURS).toString())
                .put("supply", supply);
        head.set("traits", JSON.valueToTree(traits));
        StringBuilder lines = new StringBuilder(head.toString()).append('\n');
        versions.forEach((product, version) -> lines.append(JSON.createObjectNode().put("t", "product").put("purl", product).put("version", version)).append('\n'));
        return lines.append("{\"t\":\"end\",\"lines\":").append(versions.size() + 1).append("}\n").toString();
    }

    /** True if the fix is on the track that the installed version is on: they begin with the same number. */
    private static boolean onTrack(Release.FixOf fix, String installed) {
        return fix.introduced().isEmpty() || fix.introduced().get().split("\\.")[0].equals(installed.split("\\.")[0]);
    }

    /** Chance that belongs to this host and one purpose, the same in every run. */
    SplittableRandom random(String purpose) {
        return new SplittableRandom((name + "/" + purpose).hashCode() * 0x9E3779B97F4A7C15L);
    }
}
