package lucid.server.storage;

/** Something that was stored is not there any more, or not as it was written: the file it lies in is damaged. */
public class DamagedDataException extends RuntimeException {

    private static final long serialVersionUID = 1;

    public DamagedDataException(String message) {
        super(message);
    }
}
