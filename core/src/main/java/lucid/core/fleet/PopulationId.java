package lucid.core.fleet;

import java.util.Objects;

/** The identifier of an entry of the ladder: of a population, or {@link Ladder#NO_POPULATION}. */
public record PopulationId(String value) implements Comparable<PopulationId> {

    public PopulationId {
        Objects.requireNonNull(value);
    }

    @Override
    public int compareTo(PopulationId other) {
        return value.compareTo(other.value);
    }

    @Override
    public String toString() {
        return value;
    }
}
