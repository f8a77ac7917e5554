package lucid.simulator;

import java.time.Duration;
import java.time.Instant;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.SplittableRandom;
import java.util.concurrent.ConcurrentHashMap;
import lucid.simulator.living.LivingHost;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/**
 * One host of the made-up fleet: what it is, and what it would report on a day.
 *
 * @param baseVersions versions at the beginning of the history, by product
 * @param knownDays days before the end of the history on which it was set up and reported first
 * @param silentDays days for which it has not reported, at the end of the history
 * @param everyDays reports on every so many days
 */
record SimulatedHost(
        String name,
        String role,
        String platform,
        String supply,
        Map<String, Object> traits,
        Map<String, String> baseVersions,
        int knownDays,
        int silentDays,
        int everyDays) {

    static final String MIRROR = "mirror";
    private static final Duration MIRRORED_AFTER = Duration.ofHours(18);

    private static final JsonMapper JSON = new JsonMapper();

    /** Hosts tell the same lines day after day. */
    private static final Map<List<String>, String> PRODUCT_LINES = new ConcurrentHashMap<>();

    /** @param daysAgo days before the end of the history; negative after it */
    boolean reportsOn(int daysAgo) {
        return daysAgo <= knownDays
                && (silentDays == 0 || daysAgo >= silentDays)
                && Math.floorMod(daysAgo, everyDays) == 0;
    }

    private static final int NEVER = Integer.MIN_VALUE;

    /** The day, before the end of the history, on which this host installs a release; negative after it. */
    int installsOn(Release release) {
        return Math.max(byItself(release), sampled(release));
    }

    /** A host that was drawn into a pilot installs within three days; a few do not get round to it. */
    private int sampled(Release release) {
        Integer drawn = release.sampled().get(name);
        if (drawn == null) {
            return NEVER;
        }
        SplittableRandom random = random(release.id() + "/pilot");
        return random.nextInt(100) < 6 ? NEVER : drawn - 1 - random.nextInt(3);
    }

    private int byItself(Release release) {
        int[] adoption = release.adoption().get(role);
        if (adoption == null) {
            return NEVER;
        }
        SplittableRandom random = random(release.id());
        if (random.nextInt(100) >= adoption[0]) {
            return NEVER;
        }
        // Half of the hosts on the last day of the span, the others spread before it.
        int after = Math.max(adoption[1] - random.nextInt(Math.max(1, adoption[1])) / 2, 0);
        int day = release.daysAgo() - after;
        return release.daysAgo() < 0 ? day : Math.max(day, 0);
    }

    /** The day, before the end of the history, on which it tries to install a release that fails on it. */
    private int failsOn(Release release) {
        boolean hit = isHitBy(release);
        if (hit && sampled(release) != NEVER) {
            return sampled(release);
        }
        boolean tries =
                hit && !release.byPilotAlone() && random(release.id() + "/try").nextInt(100) < 70;
        return tries
                ? Math.max(release.daysAgo() - 1 - random(release.id() + "/day").nextInt(4), 0)
                : NEVER;
    }

    private boolean stages(Release release) {
        int share = release.staged().getOrDefault(role, 0);
        return share > 0 && random(release.id() + "/stage").nextInt(100) < share;
    }

    private boolean installs(Release release, int daysAgo) {
        return !isHitBy(release) && installsOn(release) >= daysAgo;
    }

    private boolean isFor(Release release) {
        return release.fixes().stream().anyMatch(fix -> baseVersions.containsKey(fix.product()));
    }

    private boolean isHitBy(Release release) {
        return release.failure().filter(failure -> failure.hits(traits)).isPresent();
    }

    /** What it installed since its last report, it tells with the next; what it was set up with, it does not. */
    private boolean tellsInstall(Release release, int daysAgo) {
        if (!isFor(release)) {
            return false;
        }
        int day = installsOn(release);
        return installs(release, daysAgo) && day < daysAgo + everyDays && day < knownDays;
    }

    /** A host that an update takes down tells that it installs it, and then nothing any more. */
    private boolean neverReportsAfter(Release release, int daysAgo) {
        return silentDays == daysAgo
                && silentDays > 0
                && release.failure()
                        .filter(failure -> failure.failureClass().equals("down") && failure.hits(traits))
                        .isPresent();
    }

    /**
     * Days before the end of the history on which it last started: every one to three weeks, and after most of the
     * installs that ask for a restart.
     */
    private int startedOn(Iterable<Release> releases, int daysAgo) {
        int rhythm = 7 + random("rhythm").nextInt(14);
        int started = daysAgo + Math.floorMod(random("phase").nextInt(rhythm) - daysAgo, rhythm);
        for (Release release : releases) {
            if (release.restartsHost()
                    && installs(release, daysAgo)
                    && random(release.id() + "/restart").nextInt(100) < 85) {
                started = Math.min(started, installsOn(release));
            }
        }
        return started;
    }

    /** What it has installed on a day, by package URL. */
    Map<String, String> versionsOn(Iterable<Release> releases, int daysAgo) {
        Map<String, String> versions = new LinkedHashMap<>(baseVersions);
        for (Release release : releases) {
            if (isFor(release) && installs(release, daysAgo)) {
                release.fixes().stream()
                        .filter(f -> versions.containsKey(f.product()) && onTrack(f, versions.get(f.product())))
                        .forEach(f -> versions.put(f.product(), f.fixed()));
            }
        }
        return versions;
    }

    /** Its inventory on a day, in JSON lines. */
    String inventory(Iterable<Release> releases, int daysAgo, Instant now) {
        List<LivingHost.Happened> happened = new ArrayList<>();
        for (Release release : releases) {
            if (stages(release) && release.daysAgo() - 1 == daysAgo) {
                happened.add(happened(release, "downloaded", now.minus(Duration.ofHours(9))));
            }
            if (tellsInstall(release, daysAgo)) {
                happened.add(happened(
                        release,
                        "installed",
                        now.minus(Duration.ofDays(installsOn(release) - daysAgo))
                                .minus(Duration.ofHours(8))));
            }
            if (neverReportsAfter(release, daysAgo)) {
                happened.add(happened(release, "installed", now));
            } else if (failsOn(release) == daysAgo) {
                release.failure()
                        .ifPresent(failure -> happened.add(new LivingHost.Happened(
                                release.id(),
                                release.revision(),
                                "failed",
                                now.minus(Duration.ofHours(8)),
                                Optional.of(failure.fault()))));
            }
        }
        return lines(
                new LivingHost.Report(
                        reportedAt(now),
                        startedAt(releases, daysAgo, now),
                        versionsOn(releases, daysAgo),
                        Set.of(),
                        happened),
                releases,
                now.plus(Duration.ofDays(daysAgo)));
    }

    /** Reports come up to seven hours before the hour of the day. */
    Instant reportedAt(Instant now) {
        return now.minus(Duration.ofMinutes(random("check-in").nextInt(420)));
    }

    /** Starts come some hours before the reports. */
    Instant startedAt(Iterable<Release> releases, int daysAgo, Instant now) {
        return now.minus(Duration.ofDays(startedOn(releases, daysAgo) - daysAgo))
                .minus(Duration.ofHours(9 + random("start").nextInt(3)))
                .truncatedTo(ChronoUnit.HOURS);
    }

    private static LivingHost.Happened happened(Release release, String what, Instant at) {
        return new LivingHost.Happened(release.id(), release.revision(), what, at, Optional.empty());
    }

    /** @param candidate true if its package manager would install it */
    private record Available(String product, String version, boolean candidate) {}

    /**
     * What lies above its versions in the lists of its source, by product: the newest, which its package manager would
     * install, and the newest upgrade, which it would not by itself. The mirror has a release some hours after its
     * vendor.
     */
    private List<Available> available(LivingHost.Report report, Iterable<Release> releases, Instant end) {
        Duration late = supply.equals(MIRROR) ? MIRRORED_AFTER : Duration.ZERO;
        Map<String, Map<Boolean, Release>> newest = new LinkedHashMap<>();
        for (Release release : releases) {
            boolean there =
                    !end.minus(Duration.ofDays(release.daysAgo())).plus(late).isAfter(report.at());
            for (Release.FixOf fix : release.fixes()) {
                String installed = report.versions().get(fix.product());
                // What it has was there, whatever else comes late.
                if (installed != null && (there || fix.fixed().equals(installed)) && onTrack(fix, installed)) {
                    newest.computeIfAbsent(fix.product(), product -> new HashMap<>())
                            .merge(release.isUpgrade(), release, (a, b) -> b.daysAgo() < a.daysAgo() ? b : a);
                }
            }
        }
        List<Available> available = new ArrayList<>();
        newest.forEach((product, kinds) -> kinds.forEach((isUpgrade, release) -> {
            String installed = report.versions().get(product);
            String version = release.fixed(product);
            if (!version.equals(installed)) {
                available.add(new Available(
                        product, version, !isUpgrade && !report.withheld().contains(release.id())));
            }
        }));
        return available;
    }

    /**
     * What it tells, in JSON lines.
     *
     * @param releases none: it tells nothing of its sources
     * @param end of the history
     */
    String lines(LivingHost.Report report, Iterable<Release> releases, Instant end) {
        ObjectNode head = JSON.createObjectNode()
                .put("t", "host")
                .put("host", name)
                .put("platform", platform)
                .put("at", report.at().toString())
                .put("lastStart", report.lastStart().toString())
                .put("supply", supply);
        boolean tellsLists = releases.iterator().hasNext();
        if (tellsLists) {
            head.put("listsAt", report.at().toString());
        }
        head.set("traits", JSON.valueToTree(traits));
        StringBuilder lines = new StringBuilder(head.toString()).append('\n');
        report.versions().forEach((product, version) -> lines.append(productLine(product, version, supply)));
        List<Available> available = available(report, releases, end);
        available.forEach(one -> lines.append(JSON.createObjectNode()
                        .put("t", "available")
                        .put("purl", one.product())
                        .put("version", one.version())
                        .put("candidate", one.candidate()))
                .append('\n'));
        report.happened().forEach(one -> {
            ObjectNode outcome = JSON.createObjectNode()
                    .put("t", "outcome")
                    .put("update", one.update())
                    .put("revision", one.revision())
                    .put("what", one.what())
                    .put("at", one.at().toString());
            one.fault().ifPresent(fault -> outcome.put("code", fault.code()).put("class", fault.failureClass()));
            lines.append(outcome).append('\n');
        });
        return lines.append("{\"t\":\"end\",\"lines\":")
                .append(report.versions().size()
                        + available.size()
                        + report.happened().size()
                        + 1)
                .append("}\n")
                .toString();
    }

    private static String productLine(String product, String version, String origin) {
        return PRODUCT_LINES.computeIfAbsent(
                List.of(product, version, origin),
                told -> JSON.createObjectNode()
                                .put("t", "product")
                                .put("purl", product)
                                .put("version", version)
                                .put("origin", origin)
                        + "\n");
    }

    /** True if the fix is on the track that the installed version is on: they begin with the same number. */
    private static boolean onTrack(Release.FixOf fix, String installed) {
        return fix.introduced().isEmpty()
                || fix.introduced().get().split("\\.")[0].equals(installed.split("\\.")[0]);
    }

    /** Chance that belongs to this host and one purpose, the same in every run. */
    SplittableRandom random(String purpose) {
        return new SplittableRandom((name + "/" + purpose).hashCode() * 0x9E3779B97F4A7C15L);
    }
}
