package lucid.core.fleet;

/** A text that is no condition, with the place where reading it failed. */
public final class ConditionSyntaxException extends IllegalArgumentException {

    private final int position;

    ConditionSyntaxException(int position, String message) {
        super(message + ", at character " + (position + 1));
        this.position = position;
    }

    /** Index of the offending character in the text, from 0; its length where something is missing at the end. */
    public int position() {
        return position;
    }
}
