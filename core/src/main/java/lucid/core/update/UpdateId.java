package lucid.core.update;

import java.util.Objects;

/** The identifier of a released update, as its vendor gave it. */
public record UpdateId(String value) implements Comparable<UpdateId> {

    public UpdateId {
        Objects.requireNonNull(value);
    }

    @Override
    public int compareTo(UpdateId other) {
        return value.compareTo(other.value);
    }

    @Override
    public String toString() {
        return value;
    }
}
