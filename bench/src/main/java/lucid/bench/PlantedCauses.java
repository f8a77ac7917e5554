package lucid.bench;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.SplittableRandom;
import lucid.core.causes.Cause;
import lucid.core.causes.SuspectedCauses;
import lucid.core.causes.SuspectedCauses.TriedHost;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostCondition;
import lucid.core.fleet.HostName;
import lucid.core.fleet.HostReport;
import lucid.core.fleet.Trait;

/**
 * How well planted causes are found: 200 seeded fleets with one cause each (a value, a pair, the high side of a number,
 * a trait that is not set; inside fail 75 %, outside 2 %) among 30 correlated decoy traits with a tenth of the values
 * missing, and 200 fleets without a cause.
 */
public final class PlantedCauses {

    private static final int FLEETS = 200;
    private static final int ENOUGH_FAILURES = 12;
    private static final Instant NOW = LargeFleet.NOW;

    private PlantedCauses() {}

    private enum Plant {
        SINGLE,
        PAIR,
        HIGH_SIDE,
        NOT_SET
    }

    public static void main(String[] arguments) {
        Map<Plant, int[]> found = new HashMap<>();
        int enough = 0;
        int first = 0;
        int unrelated = 0;
        int listed = 0;
        for (int seed = 0; seed < FLEETS; seed++) {
            Plant plant = Plant.values()[seed % Plant.values().length];
            List<TriedHost> fleet = fleet(seed, Optional.of(plant));
            long failedInside = fleet.stream()
                    .filter(one ->
                            inside(plant, one.host().traits()) && one.code().isPresent())
                    .count();
            List<Cause> causes = SuspectedCauses.find(fleet);
            boolean right = !causes.isEmpty() && isPlanted(plant, causes.get(0).hosts(), fleet);
            listed += causes.size();
            unrelated += (int) causes.stream()
                    .filter(cause -> cause.hosts().toString().contains("decoy"))
                    .count();
            if (failedInside >= ENOUGH_FAILURES) {
                enough++;
                first += right ? 1 : 0;
                int[] of = found.computeIfAbsent(plant, p -> new int[2]);
                of[0] += right ? 1 : 0;
                of[1]++;
            }
        }
        int falsely = 0;
        for (int seed = 0; seed < FLEETS; seed++) {
            falsely +=
                    SuspectedCauses.find(fleet(10_000 + seed, Optional.empty())).isEmpty() ? 0 : 1;
        }
        System.out.printf(
                "planted causes with %d or more failures: %d of %d found first (%.1f %%)%n",
                ENOUGH_FAILURES, first, enough, 100.0 * first / enough);
        found.forEach((plant, of) -> System.out.printf("  %s: %d of %d%n", plant, of[0], of[1]));
        System.out.printf("causes that name a decoy: %d of %d listed%n", unrelated, listed);
        System.out.printf(
                "fleets without a cause in which one is found: %d of %d (%.1f %%)%n",
                falsely, FLEETS, 100.0 * falsely / FLEETS);
    }

    private static List<TriedHost> fleet(long seed, Optional<Plant> plant) {
        SplittableRandom random = new SplittableRandom(seed);
        List<TriedHost> fleet = new ArrayList<>();
        int hosts = 120 + random.nextInt(400);
        for (int i = 0; i < hosts; i++) {
            Map<String, Trait> traits = traits(random);
            boolean fails =
                    random.nextDouble() < (plant.filter(p -> inside(p, traits)).isPresent() ? .75 : .02);
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
            fleet.add(new TriedHost(
                    host, Optional.empty(), fails ? Optional.of("E" + random.nextInt(2)) : Optional.empty()));
        }
        return fleet;
    }

    /** Four traits that can be the cause, and thirty that go along with them more or less. */
    private static Map<String, Trait> traits(SplittableRandom random) {
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
        for (int d = 0; d < 30; d++) {
            if (random.nextInt(10) == 0) {
                continue;
            }
            boolean along = random.nextInt(10) < 3 + d % 4;
            traits.put(
                    "decoy-" + d,
                    switch (d % 3) {
                        case 0 -> new Trait.Text("d" + (along ? model : random.nextInt(5)));
                        case 1 -> new Trait.Number(along ? free + random.nextInt(600) : random.nextInt(2600));
                        default -> new Trait.Text("d" + (along ? reader : random.nextInt(4)));
                    });
        }
        return traits;
    }

    private static boolean inside(Plant plant, Map<String, Trait> traits) {
        boolean model = traits.get("model").toString().equals("M1");
        return switch (plant) {
            case SINGLE -> model;
            case PAIR ->
                traits.get("reader").toString().equals("R2")
                        && Integer.parseInt(traits.get("free").toString()) < 800;
            case HIGH_SIDE -> Integer.parseInt(traits.get("free").toString()) > 1700;
            case NOT_SET -> !traits.containsKey("agent");
        };
    }

    /** True if what was found is about the planted traits alone and covers nearly the planted hosts. */
    private static boolean isPlanted(Plant plant, HostCondition found, List<TriedHost> fleet) {
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
