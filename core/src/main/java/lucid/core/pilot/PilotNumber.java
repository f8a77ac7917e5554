package lucid.core.pilot;

/** The number of a pilot, from 1; later ones are higher. */
public record PilotNumber(long value) implements Comparable<PilotNumber> {
    @Override
    public int compareTo(PilotNumber other) {
        return Long.compare(value, other.value);
    }

    @Override
    public String toString() {
        return Long.toString(value);
    }
}
