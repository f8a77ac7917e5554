package lucid.formats.signature;

import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.PrivateKey;
import java.security.Signature;
import java.security.interfaces.EdECPublicKey;
import java.util.Arrays;
import java.util.Base64;

/** Signs content so that whoever has the public key can tell that nothing of it was changed. */
public final class JsonWebSignature {

    private static final Base64.Encoder BASE64 = Base64.getUrlEncoder().withoutPadding();
    private static final int KEY_BYTES = 32;

    private JsonWebSignature() {}

    /**
     * The compact serialization of a JSON Web Signature (RFC 7515, section 7.1) by Ed25519 (RFC 8037, section 3.1).
     *
     * @param type what the content is, for the header parameter {@code typ}
     * @param keyId of the key, for the header parameter {@code kid}; as the type without quotes and backslashes
     * @param key an Ed25519 key
     */
    public static String compact(byte[] content, String type, String keyId, PrivateKey key) {
        String header = "{\"alg\":\"EdDSA\",\"typ\":\"" + type + "\",\"kid\":\"" + keyId + "\"}";
        String signed =
                BASE64.encodeToString(header.getBytes(StandardCharsets.UTF_8)) + "." + BASE64.encodeToString(content);
        try {
            Signature signature = Signature.getInstance("Ed25519");
            signature.initSign(key);
            signature.update(signed.getBytes(StandardCharsets.US_ASCII));
            return signed + "." + BASE64.encodeToString(signature.sign());
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException(e);
        }
    }

    /** The content of such a signature, unchecked. */
    public static byte[] content(String compact) {
        return Base64.getUrlDecoder().decode(compact.split("\\.", -1)[1]);
    }

    /** The parameter {@code x} of a public key as a JSON Web Key (RFC 8037, section 2): its 32 bytes, base64url. */
    public static String x(EdECPublicKey key) {
        byte[] encoded = key.getEncoded();
        return BASE64.encodeToString(Arrays.copyOfRange(encoded, encoded.length - KEY_BYTES, encoded.length));
    }
}
