package lucid.formats.signature;

import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.ArrayList;
import java.util.HexFormat;
import java.util.Iterator;
import java.util.List;
import java.util.Locale;
import org.bouncycastle.openpgp.PGPException;
import org.bouncycastle.openpgp.PGPPublicKey;
import org.bouncycastle.openpgp.PGPPublicKeyRing;
import org.bouncycastle.openpgp.PGPPublicKeyRingCollection;
import org.bouncycastle.openpgp.PGPSignature;
import org.bouncycastle.openpgp.PGPSignatureList;
import org.bouncycastle.openpgp.PGPUtil;
import org.bouncycastle.openpgp.bc.BcPGPObjectFactory;
import org.bouncycastle.openpgp.operator.bc.BcKeyFingerprintCalculator;
import org.bouncycastle.openpgp.operator.bc.BcPGPContentVerifierBuilderProvider;

/** Keys by which documents may be signed. */
public final class TrustedKeys {

    private final List<PGPPublicKeyRing> rings;

    private TrustedKeys(List<PGPPublicKeyRing> rings) {
        this.rings = rings;
    }

    /**
     * A key as somebody is asked to trust it.
     *
     * @param fingerprint of the primary key, in upper case hexadecimal digits
     * @param owner its user identities
     */
    public record Described(String fingerprint, String owner) {}

    /**
     * Reads keys in ASCII armor.
     *
     * @throws IllegalArgumentException if one of them is no public key
     */
    public static TrustedKeys of(List<String> armored) {
        List<PGPPublicKeyRing> rings = new ArrayList<>();
        armored.forEach(key -> rings.addAll(read(key)));
        return new TrustedKeys(rings);
    }

    private static List<PGPPublicKeyRing> read(String armored) {
        try (InputStream in =
                PGPUtil.getDecoderStream(new ByteArrayInputStream(armored.getBytes(StandardCharsets.UTF_8)))) {
            List<PGPPublicKeyRing> rings = new ArrayList<>();
            new PGPPublicKeyRingCollection(in, new BcKeyFingerprintCalculator())
                    .getKeyRings()
                    .forEachRemaining(rings::add);
            if (rings.isEmpty()) {
                throw new IllegalArgumentException("this holds no OpenPGP public key");
            }
            return rings;
        } catch (IOException | PGPException | RuntimeException e) {
            throw new IllegalArgumentException("this is no OpenPGP public key: " + e.getMessage(), e);
        }
    }

    /** The keys, each with its primary fingerprint. */
    public List<Described> described() {
        return rings.stream()
                .map(ring -> {
                    List<String> owners = new ArrayList<>();
                    Iterator<String> ids = ring.getPublicKey().getUserIDs();
                    ids.forEachRemaining(owners::add);
                    return new Described(fingerprint(ring), String.join(", ", owners));
                })
                .toList();
    }

    private static String fingerprint(PGPPublicKeyRing ring) {
        return HexFormat.of().formatHex(ring.getPublicKey().getFingerprint()).toUpperCase(Locale.ROOT);
    }

    /**
     * Checks a detached signature.
     *
     * @param at instant at which the key must be valid
     * @return fingerprint of the key that signed it
     * @throws SignatureException with the reason, if no trusted key signed this very document
     */
    public String verify(byte[] document, byte[] signature, Instant at) throws SignatureException {
        PGPSignatureList signatures = signatures(signature);
        String reason = "the file beside it holds no signature";
        for (PGPSignature one : signatures) {
            reason = "it is signed by key " + Long.toHexString(one.getKeyID()).toUpperCase(Locale.ROOT)
                    + ", which is not trusted here";
            for (PGPPublicKeyRing ring : rings) {
                PGPPublicKey key = ring.getPublicKey(one.getKeyID());
                if (key != null) {
                    if (isExpired(ring.getPublicKey(), at)
                            || isExpired(key, at)
                            || key.hasRevocation()
                            || ring.getPublicKey().hasRevocation()) {
                        throw new SignatureException(
                                "the key that signed it, " + fingerprint(ring) + ", has expired or was revoked");
                    }
                    if (fits(one, key, document)) {
                        return fingerprint(ring);
                    }
                    throw new SignatureException(
                            "the signature does not fit the document: it was changed after it was signed, or the signature belongs to another one");
                }
            }
        }
        throw new SignatureException(reason);
    }

    private static PGPSignatureList signatures(byte[] signature) throws SignatureException {
        try (InputStream in = PGPUtil.getDecoderStream(new ByteArrayInputStream(signature))) {
            if (new BcPGPObjectFactory(in).nextObject() instanceof PGPSignatureList list) {
                return list;
            }
            throw new SignatureException("the file beside it holds no signature");
        } catch (IOException | RuntimeException e) {
            throw new SignatureException("the signature beside it cannot be read: " + e.getMessage());
        }
    }

    private static boolean isExpired(PGPPublicKey key, Instant at) {
        return key.getValidSeconds() > 0
                && key.getCreationTime()
                        .toInstant()
                        .plusSeconds(key.getValidSeconds())
                        .isBefore(at);
    }

    private static boolean fits(PGPSignature signature, PGPPublicKey key, byte[] document) throws SignatureException {
        try {
            signature.init(new BcPGPContentVerifierBuilderProvider(), key);
            signature.update(document);
            return signature.verify();
        } catch (PGPException | RuntimeException e) {
            throw new SignatureException("the signature cannot be checked: " + e.getMessage());
        }
    }
}
