package lucid.formats.signature;

/** A document's signature does not make it trustworthy; the message says why. */
public final class SignatureException extends Exception {
    public SignatureException(String message) {
        super(message);
    }
}
