package lucid.server.command;

/** Something about how the program was called, in one sentence for the person who called it. */
public final class UsageException extends RuntimeException {
    public UsageException(String message) {
        super(message);
    }
}
