package lucid.core.fleet;

import java.util.Objects;

/** The name by which people and reports know a host; bitmaps know it by its number. */
public record HostName(String value) implements Comparable<HostName> {

    public HostName {
        Objects.requireNonNull(value);
    }

    @Override
    public int compareTo(HostName other) {
        return value.compareTo(other.value);
    }

    @Override
    public String toString() {
        return value;
    }
}
