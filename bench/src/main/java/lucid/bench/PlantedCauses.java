package lucid.bench;

import java.time.Instant;
import java.util.ArrayList;
import java.util.DoubleSummaryStatistics;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SplittableRandom;
import java.util.stream.Stream;
import lucid.core.causes.Cause;
import lucid.core.causes.SuspectedCauses;
import lucid.core.causes.SuspectedCauses.TriedHost;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostCondition;
import lucid.core.fleet.HostName;
import lucid.core.fleet.HostReport;
import lucid.core.fleet.Trait;

/**
 * How well planted causes are found: seeded fleets of 120 to 520 tried hosts with a cause (a value, a pair, the high
 * side of a number, a trait that is not set), each of whose traits has decoys that go along with it, among 30 more
 * traits with a tenth of the values missing; outside 2 % fail. Then fleets with two causes, with a passing outage, and
 * without a cause, looked at on thirty days one after the other.
 */
public final class PlantedCauses {

    private static final int FLEETS = 100;
    private static final int ENOUGH_FAILURES = 12;
    /** Told apart, since with fewer the true cause often does not stand after adjustment. */
    private static final int PLENTY_OF_FAILURES = 18;

    private static final int LOOKS = 30;
    private static final Instant NOW = LargeFleet.NOW;
    private static final double OUTSIDE = 0.02;
    private static final int HIGH_SIDE_CUT = 1700;

    private PlantedCauses() {}

    private enum Plant {
        SINGLE,
        PAIR,
        HIGH_SIDE,
        NOT_SET
    }

    public static void main(String[] arguments) {
        for (double rate : new double[] {0.75, 0.30}) {
            for (int along : new int[] {60, 90, 97, 100}) {
                planted(along, rate);
            }
        }
        twoCauses();
        outages();
        dailyLooks();
    }

    private static void planted(int along, double rate) {
        int enough = 0;
        int first = 0;
        int named = 0;
        int nothing = 0;
        int listed = 0;
        int length = 0;
        int others = 0;
        int plenty = 0;
        int namedOfPlenty = 0;
        for (int seed = 0; seed < FLEETS; seed++) {
            Plant plant = Plant.values()[seed % Plant.values().length];
            List<TriedHost> fleet = fleet(seed, List.of(plant), along, rate);
            long failures = failedInside(plant, fleet);
            if (failures < ENOUGH_FAILURES) {
                continue;
            }
            List<Cause> causes = SuspectedCauses.find(fleet);
            enough++;
            boolean best = !causes.isEmpty() && isPlanted(plant, causes.get(0).shared(), fleet);
            boolean any =
                    causes.stream().flatMap(PlantedCauses::said).anyMatch(shared -> isPlanted(plant, shared, fleet))
                            || plant == Plant.HIGH_SIDE && cutsAround(causes, HIGH_SIDE_CUT);
            nothing += causes.isEmpty() ? 1 : 0;
            first += best ? 1 : 0;
            named += any ? 1 : 0;
            plenty += failures >= PLENTY_OF_FAILURES ? 1 : 0;
            namedOfPlenty += failures >= PLENTY_OF_FAILURES && any ? 1 : 0;
            listed += causes.size();
            length +=
                    causes.stream().mapToInt(cause -> 1 + cause.alike().size()).sum();
            others += Math.max(0, causes.size() - 1);
        }
        System.out.printf(
                "decoys go along at %3d %%, inside %.0f %% fail: of %d the true cause is named or listed in %d (%.1f %%),"
                        + " with %d failures or more in %d of %d; nothing told yet in %d, only something else in %d; the best alone in %d;"
                        + " %.1f conditions listed a cause, %d further causes%n",
                along,
                rate * 100,
                enough,
                named,
                100.0 * named / enough,
                PLENTY_OF_FAILURES,
                namedOfPlenty,
                plenty,
                nothing,
                enough - named - nothing,
                first,
                (double) length / Math.max(1, listed),
                others);
    }

    private static Stream<Cause.Shared> said(Cause cause) {
        return Stream.concat(Stream.of(cause.shared()), cause.alike().stream().map(Cause.Alike::shared));
    }

    /** True if a cause lists cuts of the number on both sides of the true one: it is said to lie between them. */
    private static boolean cutsAround(List<Cause> causes, int cut) {
        return causes.stream().anyMatch(cause -> {
            DoubleSummaryStatistics cuts = said(cause)
                    .map(Cause.Shared::toString)
                    .filter(text -> text.matches("free > [0-9.]+"))
                    .mapToDouble(text -> Double.parseDouble(text.substring("free > ".length())))
                    .summaryStatistics();
            return cuts.getMin() <= cut && cut <= cuts.getMax();
        });
    }

    private static void twoCauses() {
        int enough = 0;
        int both = 0;
        for (int seed = 0; seed < FLEETS; seed++) {
            List<Plant> plants = List.of(Plant.SINGLE, Plant.NOT_SET);
            List<TriedHost> fleet = fleet(50_000 + seed, plants, 60, 0.75);
            if (plants.stream().allMatch(plant -> failedInside(plant, fleet) >= ENOUGH_FAILURES)) {
                enough++;
                List<Cause> causes = SuspectedCauses.find(fleet);
                both += plants.stream().allMatch(plant -> causes.stream()
                                .flatMap(PlantedCauses::said)
                                .anyMatch(shared -> isPlanted(plant, shared, fleet)))
                        ? 1
                        : 0;
            }
        }
        System.out.printf(
                "two causes at once: both named or listed in %d of %d (%.1f %%)%n",
                both, enough, 100.0 * both / enough);
    }

    private static void outages() {
        int time = 0;
        int lasting = 0;
        int fleets = 60;
        for (int seed = 0; seed < fleets; seed++) {
            SplittableRandom random = new SplittableRandom(70_000 + seed);
            List<TriedHost> fleet = fleet(70_000 + seed, List.of(), 60, 0);
            int from = random.nextInt(fleet.size() * 3 / 4);
            int to = from + fleet.size() / 8;
            List<TriedHost> during = new ArrayList<>();
            for (int i = 0; i < fleet.size(); i++) {
                TriedHost one = fleet.get(i);
                boolean out = i >= from && i < to && random.nextDouble() < 0.75;
                during.add(out ? new TriedHost(one.host(), one.at(), Optional.empty(), Optional.of("E0")) : one);
            }
            List<Cause> causes = SuspectedCauses.find(during);
            time += causes.stream().anyMatch(cause -> !cause.shared().span().isAlways()) ? 1 : 0;
            lasting += causes.stream().anyMatch(cause -> cause.shared().span().isAlways()) ? 1 : 0;
        }
        System.out.printf(
                "passing outages: named as one in %d of %d, something that lasts named in %d%n", time, fleets, lasting);
    }

    private static void dailyLooks() {
        int falsely = 0;
        int looks = 0;
        int wrongLooks = 0;
        for (int seed = 0; seed < FLEETS; seed++) {
            List<TriedHost> fleet = fleet(10_000 + seed, List.of(), 60, 0);
            boolean ever = false;
            for (int look = 1; look <= LOOKS; look++) {
                boolean found = !SuspectedCauses.find(fleet.subList(0, fleet.size() * look / LOOKS))
                        .isEmpty();
                looks++;
                wrongLooks += found ? 1 : 0;
                ever |= found;
            }
            falsely += ever ? 1 : 0;
        }
        System.out.printf(
                "fleets without a cause, looked at on %d days: one ever named in %d of %d, on %d of %d looks (%.2f %%)%n",
                LOOKS, falsely, FLEETS, wrongLooks, looks, 100.0 * wrongLooks / looks);
    }

    private static long failedInside(Plant plant, List<TriedHost> fleet) {
        return fleet.stream()
                .filter(one -> inside(plant, one.host().traits()) && one.code().isPresent())
                .count();
    }

    private static List<TriedHost> fleet(long seed, List<Plant> plants, int along, double rate) {
        SplittableRandom random = new SplittableRandom(seed);
        List<TriedHost> fleet = new ArrayList<>();
        int hosts = 120 + random.nextInt(400);
        for (int i = 0; i < hosts; i++) {
            Map<String, Trait> traits = traits(random, along);
            Optional<Plant> met =
                    plants.stream().filter(plant -> inside(plant, traits)).findFirst();
            boolean fails = random.nextDouble() < (met.isPresent() ? rate : OUTSIDE);
            Host host = Host.first(
                    i,
                    new HostReport(
                            new HostName("h" + i),
                            "Tarn Linux 4",
                            NOW,
                            traits,
                            List.of(),
                            Optional.empty(),
                            Optional.empty(),
                            List.of()));
            String code =
                    plants.size() > 1 && met.isPresent() ? "E" + plants.indexOf(met.get()) : "E" + random.nextInt(2);
            fleet.add(new TriedHost(
                    host, NOW.plusSeconds(600L * i), Optional.empty(), fails ? Optional.of(code) : Optional.empty()));
        }
        return fleet;
    }

    /**
     * Four traits that can be the cause, a decoy of each that goes along with it, and thirty that go along now and
     * then.
     */
    private static Map<String, Trait> traits(SplittableRandom random, int along) {
        Map<String, Trait> traits = new HashMap<>();
        int model = random.nextInt(5);
        int reader = random.nextInt(3);
        int free = random.nextInt(2000);
        boolean agent = random.nextInt(8) > 0;
        traits.put("model", new Trait.Text("M" + model));
        traits.put("reader", new Trait.Text("R" + reader));
        traits.put("free", new Trait.Number(free));
        if (agent) {
            traits.put("agent", new Trait.Text("A" + random.nextInt(3)));
        }
        traits.put("decoy-model", new Trait.Text("d" + (goes(random, along) ? model : random.nextInt(5))));
        traits.put("decoy-reader", new Trait.Text("d" + (goes(random, along) ? reader : random.nextInt(3))));
        traits.put("decoy-free", new Trait.Number(goes(random, along) ? free : random.nextInt(2000)));
        if (goes(random, along) ? agent : random.nextInt(8) > 0) {
            traits.put("decoy-agent", new Trait.Text("d" + random.nextInt(3)));
        }
        for (int d = 0; d < 30; d++) {
            if (random.nextInt(10) == 0) {
                continue;
            }
            boolean follows = random.nextInt(10) < 3 + d % 4;
            traits.put(
                    "other-" + d,
                    switch (d % 3) {
                        case 0 -> new Trait.Text("d" + (follows ? model : random.nextInt(5)));
                        case 1 -> new Trait.Number(follows ? free + random.nextInt(600) : random.nextInt(2600));
                        default -> new Trait.Text("d" + (follows ? reader : random.nextInt(4)));
                    });
        }
        return traits;
    }

    private static boolean goes(SplittableRandom random, int along) {
        return random.nextInt(100) < along;
    }

    private static boolean inside(Plant plant, Map<String, Trait> traits) {
        boolean model = traits.get("model").toString().equals("M1");
        return switch (plant) {
            case SINGLE -> model;
            case PAIR ->
                traits.get("reader").toString().equals("R2")
                        && Integer.parseInt(traits.get("free").toString()) < 800;
            case HIGH_SIDE -> Integer.parseInt(traits.get("free").toString()) > HIGH_SIDE_CUT;
            case NOT_SET -> !traits.containsKey("agent");
        };
    }

    /** True if what was found is about the planted traits alone and covers nearly the planted hosts. */
    private static boolean isPlanted(Plant plant, Cause.Shared shared, List<TriedHost> fleet) {
        if (shared.hosts().isEmpty() || !shared.span().isAlways()) {
            return false;
        }
        HostCondition found = shared.hosts().get();
        String text = found.toString();
        boolean traits =
                switch (plant) {
                    case SINGLE -> text.equals("model = M1");
                    case PAIR -> text.matches("(reader = R2 and free ≤ \\S+|free ≤ \\S+ and reader = R2)");
                    case HIGH_SIDE -> text.matches("free > \\S+");
                    case NOT_SET -> text.equals("agent is not set");
                };
        long both = fleet.stream()
                .filter(one -> inside(plant, one.host().traits()) && found.test(one.host()))
                .count();
        long either = fleet.stream()
                .filter(one -> inside(plant, one.host().traits()) || found.test(one.host()))
                .count();
        return traits && both >= 0.8 * either;
    }
}
