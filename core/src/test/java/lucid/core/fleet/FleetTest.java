package lucid.core.fleet;

import static org.assertj.core.api.Assertions.assertThat;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import lucid.core.TestFleet;
import org.junit.jupiter.api.Test;

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
