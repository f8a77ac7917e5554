package lucid.server.orders;

import java.nio.charset.StandardCharsets;
import java.security.GeneralSecurityException;
import java.security.MessageDigest;
import java.util.Base64;
import lucid.formats.signature.EdwardsKeys;
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
    private EdwardsKeys keys;

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
        return JsonWebSignature.compact(content, type, publicKey().id(), keys());
    }

    PublicKey publicKey() {
        String x = JsonWebSignature.x(keys());
        return new PublicKey(
                thumbprint(x),
                "-----BEGIN PUBLIC KEY-----\n" + keys().openEncoded() + "\n-----END PUBLIC KEY-----\n",
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

    private synchronized EdwardsKeys keys() {
        if (keys == null) {
            keys = settings.find(SETTING).map(SigningKey::read).orElseGet(this::make);
        }
        return keys;
    }

    private EdwardsKeys make() {
        EdwardsKeys made = EdwardsKeys.make();
        store.write(snapshot -> {
            settings.keep(SETTING, made.secretEncoded() + " " + made.openEncoded());
            store.record(AuditEntry.Kind.ACCESS, "", ByItself.AUTHOR, "The key that signs orders to hosts was made.");
            return new SnapshotStore.Change<>(snapshot, true);
        });
        return made;
    }

    private static EdwardsKeys read(String stored) {
        String[] parts = stored.split(" ");
        return EdwardsKeys.read(parts[0], parts[1]);
    }
}
