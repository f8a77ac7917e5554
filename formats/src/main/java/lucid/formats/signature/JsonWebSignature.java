package lucid.formats.signature;

import java.nio.charset.StandardCharsets;
import java.util.Base64;

/** Signs content so that whoever has the public key can tell that nothing of it was changed. */
public final class JsonWebSignature {

    private static final Base64.Encoder BASE64 = Base64.getUrlEncoder().withoutPadding();

    private JsonWebSignature() {}

    /**
     * The compact serialization of a JSON Web Signature (RFC 7515, section 7.1) by Ed25519 (RFC 8037, section 3.1).
     *
     * @param type what the content is, for the header parameter {@code typ}
     * @param keyId of the key, for the header parameter {@code kid}; as the type without quotes and backslashes
     * @param keys that sign it
     */
    public static String compact(byte[] content, String type, String keyId, EdwardsKeys keys) {
        String header = "{\"alg\":\"EdDSA\",\"typ\":\"" + type + "\",\"kid\":\"" + keyId + "\"}";
        String signed =
                BASE64.encodeToString(header.getBytes(StandardCharsets.UTF_8)) + "." + BASE64.encodeToString(content);
        return signed + "." + BASE64.encodeToString(keys.sign(signed.getBytes(StandardCharsets.US_ASCII)));
    }

    /** The content of such a signature, unchecked. */
    public static byte[] content(String compact) {
        return Base64.getUrlDecoder().decode(compact.split("\\.", -1)[1]);
    }

    /** The parameter {@code x} of a public key as a JSON Web Key (RFC 8037, section 2): its 32 bytes, base64url. */
    public static String x(EdwardsKeys keys) {
        return BASE64.encodeToString(keys.open());
    }
}
