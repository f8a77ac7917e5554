package lucid.simulator;

import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.SplittableRandom;

/** The 640 hosts of Skerry Line, the same in every run. */
final class Fleet {

    private static final String TARN = "Tarn Linux 4";
    private static final String FATHOM = "Fathom OS 31";
    private static final String LANTERN = "Lantern Desktop 6";
    private static final String NEXT_LANTERN = "Lantern Desktop 7";
    private static final String GULL = "Gull Panel 3";

    private static final int NEXT_LANTERN_DAYS = 21;

    /** The ship that reports once a week, and pays for what goes over its line. */
    private static final String NARROW_LINK = "Corrie";

    private static final String[] SHIPS = {
        "Auk", "Bonxie", "Corrie", "Dunlin", "Eider", "Fulmar", "Guillemot", "Heron", "Jarl", "Kittiwake", "Linnet"
    };
    private static final String[] LANDINGS = {
        "fell", "quay", "north-ness", "south-ness", "mill-bay", "old-harbour", "skarf", "holm", "far-point"
    };

    private final SplittableRandom random = new SplittableRandom(2026);
    private final List<SimulatedHost> hosts = new ArrayList<>();

    static List<SimulatedHost> make() {
        Fleet fleet = new Fleet();
        fleet.bench();
        fleet.bridgeConsoles();
        fleet.gateControllers();
        fleet.bookingDatabases();
        fleet.yardServers();
        fleet.ticketKiosks();
        fleet.crewTablets();
        fleet.officeDesktops();
        fleet.inNoPopulation();
        return List.copyOf(fleet.hosts);
    }

    private void bench() {
        String[] platforms = {TARN, TARN, TARN, FATHOM, FATHOM, FATHOM, LANTERN, LANTERN, LANTERN, LANTERN, GULL, GULL};
        String[] models = {"S1", "S2", "S1", "S2", "B1", "B2", "K1", "K2", "T2", "D3", "G1", "G2"};
        for (int i = 0; i < platforms.length; i++) {
            Map<String, Object> traits = traits("model", models[i], "site", "bench", "facing", "internal");
            if (models[i].startsWith("K")) {
                traits.put("reader", "R" + (1 + i % 2));
                traits.put("spool_free_mb", 900 + 100 * i);
            }
            add(String.format("bench-%02d", i + 1), "bench", platforms[i], traits, 0, 1);
        }
    }

    private void bridgeConsoles() {
        for (int i = 0; i < 44; i++) {
            String ship = SHIPS[i % SHIPS.length];
            int everyDays = ship.equals(NARROW_LINK) ? 7 : 1;
            add(
                    "bri-" + ship.toLowerCase() + "-" + (1 + i / SHIPS.length),
                    "bridge",
                    FATHOM,
                    traits("model", i % 3 == 0 ? "B1" : "B2", "site", "MV " + ship, "facing", "isolated"),
                    0,
                    everyDays);
        }
    }

    private void gateControllers() {
        for (int i = 0; i < 58; i++) {
            String landing = LANDINGS[i % LANDINGS.length];
            String name = String.format("gate-%s-%02d", landing, 1 + i / LANDINGS.length);
            Map<String, Object> traits =
                    traits("model", i % 5 == 0 ? "G1" : "G2", "site", landing, "facing", "internal");
            if (name.equals("gate-north-ness-04")) {
                // Out on the mole, where no cable goes.
                traits.put("paid_line", true);
            } else if (name.equals("gate-far-point-01")) {
                traits.put("root_free_mb", 11);
            }
            add(name, "gate", GULL, traits, i == 20 || i == 40 || i == 50 ? 4 : 0, 1);
        }
    }

    private void bookingDatabases() {
        for (int i = 0; i < 9; i++) {
            add(
                    String.format("bdb-%02d", i + 1),
                    "booking-database",
                    TARN,
                    traits("model", "S2", "site", i < 6 ? "fell" : "quay", "facing", "internal"),
                    0,
                    1);
        }
    }

    private void yardServers() {
        for (int i = 0; i < 63; i++) {
            String facing = i % 3 == 0 ? "public" : i % 7 == 1 ? "partner" : "internal";
            add(
                    String.format("yard-%02d", i + 1),
                    "yard",
                    i < 38 ? TARN : FATHOM,
                    traits("model", i % 2 == 0 ? "S1" : "S2", "site", LANDINGS[i % 3], "facing", facing),
                    i == 44 ? 6 : 0,
                    1);
        }
    }

    private void ticketKiosks() {
        for (int i = 0; i < 171; i++) {
            String reader = random.nextInt(100) < 30 ? "R2" : "R1";
            int spool = random.nextInt(100) < 40 ? 90 + random.nextInt(205) : 320 + random.nextInt(3600);
            add(
                    String.format("ksk-%03d", i + 1),
                    "kiosk",
                    LANTERN,
                    traits(
                            "model",
                            i % 4 == 0 ? "K2" : "K1",
                            "site",
                            LANDINGS[i % LANDINGS.length],
                            "facing",
                            "internal",
                            "reader",
                            reader,
                            "spool_free_mb",
                            spool),
                    i == 40 || i == 117 ? 9 : 0,
                    1);
        }
    }

    private void crewTablets() {
        for (int i = 0; i < 118; i++) {
            Map<String, Object> traits =
                    traits("model", "T" + (1 + i % 3), "site", "MV " + SHIPS[i % SHIPS.length], "facing", "partner");
            if (i % 4 == 0) {
                traits.put("fingerprint_signin", true);
            }
            traits.put("power", "battery");
            // Two are hardly ever charged.
            traits.put("battery_percent", i % 60 == 7 ? 20 : 50 + 10 * (i % 5));
            if (SHIPS[i % SHIPS.length].equals(NARROW_LINK)) {
                traits.put("paid_line", true);
            }
            // Nineteen are at sea and out of reach.
            add(String.format("tab-%03d", i + 1), "tablet", LANTERN, traits, i % 6 == 2 && i < 114 ? 16 + i % 5 : 0, 1);
        }
    }

    private void officeDesktops() {
        for (int i = 0; i < 157; i++) {
            Map<String, Object> traits = traits(
                    "model",
                    "D" + (1 + i % 4),
                    "site",
                    LANDINGS[i % 5],
                    "facing",
                    "internal",
                    "department",
                    new String[] {"bookings", "cargo", "finance", "crew", "yard"}[i % 5]);
            if (i % 3 == 0) {
                traits.put("fingerprint_signin", true);
            }
            // Some machines were bought three weeks ago and came with the next release.
            add(
                    String.format("off-%03d", i + 1),
                    "desktop",
                    i < 151 ? LANTERN : NEXT_LANTERN,
                    traits,
                    i % 50 == 7 ? 5 + i % 9 : 0,
                    1);
        }
    }

    private void inNoPopulation() {
        String[] platforms = {TARN, FATHOM, FATHOM, LANTERN, LANTERN, LANTERN, GULL, TARN};
        for (int i = 0; i < platforms.length; i++) {
            add(
                    String.format("loan-%02d", i + 1),
                    "loan",
                    platforms[i],
                    traits("model", "L1", "site", "store", "facing", "internal"),
                    0,
                    1);
        }
    }

    private void add(
            String name, String role, String platform, Map<String, Object> traits, int silentDays, int everyDays) {
        traits.put("role", role);
        traits.put("memory_gb", 4 << random.nextInt(4));
        // Eleven hosts take updates straight from the vendor.
        String supply = hosts.size() % 58 == 13 ? "vendor" : SimulatedHost.MIRROR;
        Map<String, String> versions = versions(role, platform);
        versions.putAll(Routine.baseVersions(platform));
        hosts.add(new SimulatedHost(
                name,
                role,
                platform,
                supply,
                traits,
                versions,
                platform.equals(NEXT_LANTERN) ? NEXT_LANTERN_DAYS : Integer.MAX_VALUE,
                silentDays,
                everyDays));
    }

    private Map<String, String> versions(String role, String platform) {
        Map<String, String> versions = new LinkedHashMap<>();
        switch (platform) {
            case TARN -> {
                versions.put("pkg:rpm/tarn/kernel?arch=x86_64", "0:4.18.7-1.t4");
                versions.put(
                        "pkg:rpm/tarn/libtls?arch=x86_64", random.nextInt(4) == 0 ? "0:3.2.7-2.t4" : "0:3.2.8-1.t4");
                versions.put("pkg:rpm/tarn/resolver?arch=x86_64", "0:2.8.0-3.t4");
                versions.put("pkg:rpm/tarn/shell?arch=x86_64", "0:5.1.2-1.t4");
                if (role.equals("booking-database") || role.equals("bench")) {
                    versions.put("pkg:generic/cistern-server", random.nextInt(3) == 0 ? "8.5" : "9.2");
                }
            }
            case FATHOM -> {
                versions.put("pkg:deb/fathom/kernel?arch=amd64", "31.4.9-1");
                versions.put("pkg:deb/fathom/libtls?arch=amd64", random.nextInt(5) == 0 ? "3.2.6-4" : "3.2.8-2");
                versions.put("pkg:deb/fathom/print-service?arch=amd64", "5.0-4");
                versions.put("pkg:deb/fathom/shell?arch=amd64", "5.1.1-2");
                versions.put("pkg:deb/fathom/mail-relay?arch=amd64", "4.1-3");
                if (role.equals("bridge") || role.equals("bench")) {
                    versions.put("pkg:deb/fathom/chart-viewer?arch=amd64", "1:3.0-2");
                } else if (random.nextInt(2) == 0) {
                    versions.put("pkg:deb/fathom/libtls-tools?arch=amd64", "3.2.8-2");
                }
            }
            case NEXT_LANTERN -> {
                versions.put("pkg:generic/lantern-desktop", "7.0");
                versions.put("pkg:generic/harbour-browser", "118.2");
            }
            case LANTERN -> {
                versions.put("pkg:generic/lantern-desktop", "6.0.1095");
                versions.put("pkg:generic/harbour-browser", "117." + random.nextInt(4));
                if (role.equals("kiosk")) {
                    versions.put("pkg:generic/ticket-printer-agent", "2." + random.nextInt(3));
                    versions.put("pkg:generic/card-reader-agent", "4.1");
                }
            }
            default -> {
                versions.put("pkg:generic/gull-panel", "3.8");
                versions.put("pkg:generic/gull-display-driver", "4.31");
                versions.put("pkg:generic/gull-radio-driver", "4.09");
            }
        }
        return versions;
    }

    private static Map<String, Object> traits(Object... namesAndValues) {
        Map<String, Object> traits = new LinkedHashMap<>();
        for (int i = 0; i < namesAndValues.length; i += 2) {
            traits.put((String) namesAndValues[i], namesAndValues[i + 1]);
        }
        return traits;
    }
}
