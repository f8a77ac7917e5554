package lucid.core;

import java.util.Arrays;
import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import lucid.core.fleet.HostName;
import lucid.core.fleet.PopulationId;
import lucid.core.ruling.DecisionNumber;
import lucid.core.update.UpdateId;

/** Identifiers for tests, in few words. */
public final class TestIds {

    private TestIds() {}

    public static UpdateId updateId(String value) {
        return new UpdateId(value);
    }

    public static List<UpdateId> updateIds(String... values) {
        return Arrays.stream(values).map(UpdateId::new).toList();
    }

    public static HostName hostName(String value) {
        return new HostName(value);
    }

    public static PopulationId populationId(String value) {
        return new PopulationId(value);
    }

    public static Set<PopulationId> populationIds(String... values) {
        return Arrays.stream(values).map(PopulationId::new).collect(Collectors.toUnmodifiableSet());
    }

    public static DecisionNumber.OfVerdict verdictNumber(long value) {
        return new DecisionNumber.OfVerdict(value);
    }

    public static DecisionNumber.OfException exceptionNumber(long value) {
        return new DecisionNumber.OfException(value);
    }

    public static DecisionNumber.OfAcknowledgement acknowledgementNumber(long value) {
        return new DecisionNumber.OfAcknowledgement(value);
    }
}
