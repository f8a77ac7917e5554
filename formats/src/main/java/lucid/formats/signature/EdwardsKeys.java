package lucid.formats.signature;

import java.io.IOException;
import java.io.UncheckedIOException;
import java.security.KeyPair;
import java.security.KeyPairGenerator;
import java.security.NoSuchAlgorithmException;
import java.util.Base64;
import org.bouncycastle.crypto.params.Ed25519PrivateKeyParameters;
import org.bouncycastle.crypto.params.Ed25519PublicKeyParameters;
import org.bouncycastle.crypto.util.PrivateKeyFactory;
import org.bouncycastle.crypto.util.PublicKeyFactory;
import org.bouncycastle.math.ec.rfc8032.Ed25519;

/**
 * A pair of keys that signs by Ed25519 (RFC 8032, section 5.1).
 *
 * <p>The signatures of the Java platform are the same, but cost more than ten times as much, and every commit and every
 * host's orders have one.
 */
public final class EdwardsKeys {

    private final String secretEncoded;
    private final String openEncoded;
    private final Ed25519PrivateKeyParameters secret;
    private final Ed25519PublicKeyParameters open;

    private EdwardsKeys(String secretEncoded, String openEncoded) {
        this.secretEncoded = secretEncoded;
        this.openEncoded = openEncoded;
        try {
            secret = (Ed25519PrivateKeyParameters)
                    PrivateKeyFactory.createKey(Base64.getDecoder().decode(secretEncoded));
            open = (Ed25519PublicKeyParameters)
                    PublicKeyFactory.createKey(Base64.getDecoder().decode(openEncoded));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** A new pair. */
    public static EdwardsKeys make() {
        try {
            KeyPair made = KeyPairGenerator.getInstance("Ed25519").generateKeyPair();
            Base64.Encoder base64 = Base64.getEncoder();
            return new EdwardsKeys(
                    base64.encodeToString(made.getPrivate().getEncoded()),
                    base64.encodeToString(made.getPublic().getEncoded()));
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }

    /**
     * A pair that was kept.
     *
     * @param secretEncoded what {@link #secretEncoded()} gave
     * @param openEncoded what {@link #openEncoded()} gave
     * @throws RuntimeException if they are no such keys
     */
    public static EdwardsKeys read(String secretEncoded, String openEncoded) {
        return new EdwardsKeys(secretEncoded, openEncoded);
    }

    /** The secret part as PKCS #8 (RFC 5958), in base64. */
    public String secretEncoded() {
        return secretEncoded;
    }

    /** The public part as its SubjectPublicKeyInfo (RFC 8410, section 4), in base64. */
    public String openEncoded() {
        return openEncoded;
    }

    /** The 32 bytes of the public part. */
    public byte[] open() {
        return open.getEncoded();
    }

    /** The 64 bytes of the signature of some content. */
    public byte[] sign(byte[] content) {
        byte[] signature = new byte[Ed25519.SIGNATURE_SIZE];
        secret.sign(Ed25519.Algorithm.Ed25519, null, content, 0, content.length, signature, 0);
        return signature;
    }

    /** True if that is what these keys sign the content with. */
    public boolean verify(byte[] content, byte[] signature) {
        return signature.length == Ed25519.SIGNATURE_SIZE
                && open.verify(Ed25519.Algorithm.Ed25519, null, content, 0, content.length, signature, 0);
    }
}
