package lucid.server.orders;

import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.KeyFactory;
import java.security.KeyPair;
import java.security.KeyPairGenerator;
import java.security.MessageDigest;
import java.security.interfaces.EdECPublicKey;
import java.security.spec.PKCS8EncodedKeySpec;
import java.security.spec.X509EncodedKeySpec;
import java.util.Base64;
import java.util.List;
import lucid.formats.signature.JsonWebSignature;
import lucid.server.audit.AuditEntry;
import lucid.server.audit.ByItself;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.storage.Settings;
import org.springframework.stereotype.Component;

/**
 * The key by which hosts know that orders are ours: made when it is first needed, and kept with the data, so that a
 * restored backup goes on signing with it.
 */
@Component
class SigningKey {

    private static final String SETTING = "orders-key";

    private final SnapshotStore store;
    private final Settings settings;
    private KeyPair pair;

    SigningKey(SnapshotStore store, Settings settings) {
        this.store = store;
        this.settings = settings;
    }

    /**
     * The public part.
     *
     * @param id thumbprint of the key (RFC 7638; RFC 8037, appendix A.3): what stands in the header of what it signed
     * @param pem for programs that read files of keys (RFC 7468, section 13)
     * @param x for programs that read JSON Web Keys (RFC 8037, section 2)
     */
    record PublicKey(String id, String pem, String x) {}

    String sign(byte[] content, String type) {
        return JsonWebSignature.compact(content, type, publicKey().id(), pair().getPrivate());
    }

    PublicKey publicKey() {
        java.security.PublicKey key = pair().getPublic();
        String x = JsonWebSignature.x((EdECPublicKey) key);
        return new PublicKey(
                thumbprint(x),
                "-----BEGIN PUBLIC KEY-----\n" + Base64.getEncoder().encodeToString(key.getEncoded())
                        + "\n-----END PUBLIC KEY-----\n",
                x);
    }

    private static String thumbprint(String x) {
        try {
            byte[] digest = MessageDigest.getInstance("SHA-256")
                    .digest(("{\"crv\":\"Ed25519\",\"kty\":\"OKP\",\"x\":\"" + x + "\"}")
                            .getBytes(StandardCharsets.UTF_8));
            return Base64.getUrlEncoder().withoutPadding().encodeToString(digest);
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException(e);
        }
    }

    private synchronized KeyPair pair() {
        if (pair == null) {
            pair = settings.find(SETTING).map(SigningKey::read).orElseGet(this::make);
        }
        return pair;
    }

    private KeyPair make() {
        try {
            KeyPair made = KeyPairGenerator.getInstance("Ed25519").generateKeyPair();
            store.write(snapshot -> {
                settings.keep(SETTING, write(made));
                store.record(
                        AuditEntry.Kind.ACCESS, "", ByItself.AUTHOR, "The key that signs orders to hosts was made.");
                return new SnapshotStore.Change<>(snapshot, true);
            });
            return made;
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException(e);
        }
    }

    /** Both parts, as their standard encodings in base64, a blank between them. */
    private static String write(KeyPair pair) {
        Base64.Encoder base64 = Base64.getEncoder();
        return base64.encodeToString(pair.getPrivate().getEncoded()) + " "
                + base64.encodeToString(pair.getPublic().getEncoded());
    }

    private static KeyPair read(String stored) {
        List<byte[]> parts = List.of(stored.split(" ")).stream()
                .map(Base64.getDecoder()::decode)
                .toList();
        try {
            KeyFactory keys = KeyFactory.getInstance("Ed25519");
            return new KeyPair(
                    keys.generatePublic(new X509EncodedKeySpec(parts.get(1))),
                    keys.generatePrivate(new PKCS8EncodedKeySpec(parts.get(0))));
        } catch (GeneralSecurityException e) {
            throw new IllegalStateException(e);
        }
    }
}
