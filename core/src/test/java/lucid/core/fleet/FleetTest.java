package lucid.core.fleet;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.stream.Stream;
import lucid.core.TestFleet;
import org.junit.jupiter.api.Test;
import org.roaringbitmap.RoaringBitmap;

class FleetTest {

    private static final List<String> READERS = List.of("R1", "R2", "R3");

    private static Host withReader(int number, String reader) {
        return TestFleet.host(number, reader == null ? Map.of() : Map.of("reader", TestFleet.text(reader)));
    }

    @Test
    void hostsByTraitFollowEveryReport() {
        Random random = new Random(1);
        Fleet fleet = Fleet.EMPTY;
        Map<Integer, String> told = new HashMap<>();
        for (int round = 0; round < 200; round++) {
            Fleet earlier = fleet;
            Map<Integer, String> earlierReported = new HashMap<>(told);
            List<Host> reported = new ArrayList<>();
            for (int i = 0; i <= random.nextInt(3); i++) {
                int number = random.nextInt(20);
                String reader = random.nextInt(4) == 0 ? null : READERS.get(random.nextInt(READERS.size()));
                reported.add(withReader(number, reader));
                told.put(number, reader);
            }
            fleet = fleet.with(reported);
            assertReaders(fleet, told);
            assertReaders(earlier, earlierReported);
        }
    }

    /** Small sets are divided host by host, large ones population by population: both against asking each host. */
    @Test
    void setsAreDividedByTheEntryThatOwnsEachHost() {
        Ladder ladder = new Ladder(
                List.of(
                        TestFleet.population("first", "reader = R1", 0),
                        TestFleet.population("nobody", "reader = R9", 0),
                        TestFleet.population("second", "reader in (R1, R2)", 0)),
                new StandingRule(List.of(), StandingRule.Offer.NEVER));
        Random random = new Random(2);
        List<Host> hosts = new ArrayList<>();
        for (int number = 0; number < 6_000; number++) {
            hosts.add(withReader(number, READERS.get(random.nextInt(READERS.size()))));
        }
        Fleet fleet = Fleet.EMPTY
                .with(ladder)
                .with(hosts.subList(0, 5_000))
                .retiring(RoaringBitmap.bitmapOf(7, 8, 9))
                .with(hosts.subList(5_000, 6_000))
                .with(List.of(withReader(10, "R3"), withReader(11, "R1")));
        for (int size : new int[] {0, 1, 40, 4_000, 5_900}) {
            RoaringBitmap set = new RoaringBitmap();
            random.ints(0, 6_000).distinct().limit(size).forEach(set::add);
            Map<PopulationId, RoaringBitmap> expected = new LinkedHashMap<>();
            Stream.of("first", "second", Ladder.NO_POPULATION.value())
                    .map(PopulationId::new)
                    .forEach(entry -> {
                        RoaringBitmap owned = new RoaringBitmap();
                        set.stream()
                                .filter(number -> !fleet.isRetired(number))
                                .filter(number -> ladder.owner(fleet.host(number))
                                        .map(Population::id)
                                        .orElse(Ladder.NO_POPULATION)
                                        .equals(entry))
                                .forEach(owned::add);
                        if (!owned.isEmpty()) {
                            expected.put(entry, owned);
                        }
                    });
            assertThat(fleet.byEntry(set)).as("%d hosts", size).isEqualTo(expected);
            assertThat(List.copyOf(fleet.byEntry(set).keySet())).isEqualTo(List.copyOf(expected.keySet()));
        }
    }

    private static void assertReaders(Fleet fleet, Map<Integer, String> told) {
        for (String reader : READERS) {
            int[] expected = told.keySet().stream()
                    .filter(number -> reader.equals(told.get(number)))
                    .mapToInt(Integer::intValue)
                    .sorted()
                    .toArray();
            assertThat(fleet.withTrait("reader", reader).toArray())
                    .as("hosts with reader %s", reader)
                    .containsExactly(expected);
        }
    }
}
