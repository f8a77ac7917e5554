package lucid.simulator;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.OutputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.security.SecureRandom;
import java.time.Instant;
import java.util.Date;
import java.util.HexFormat;
import org.bouncycastle.bcpg.ArmoredOutputStream;
import org.bouncycastle.bcpg.HashAlgorithmTags;
import org.bouncycastle.bcpg.PublicKeyAlgorithmTags;
import org.bouncycastle.bcpg.PublicKeyPacket;
import org.bouncycastle.crypto.generators.Ed25519KeyPairGenerator;
import org.bouncycastle.crypto.params.Ed25519KeyGenerationParameters;
import org.bouncycastle.openpgp.PGPException;
import org.bouncycastle.openpgp.PGPKeyPair;
import org.bouncycastle.openpgp.PGPKeyRingGenerator;
import org.bouncycastle.openpgp.PGPPublicKeyRing;
import org.bouncycastle.openpgp.PGPSignature;
import org.bouncycastle.openpgp.PGPSignatureGenerator;
import org.bouncycastle.openpgp.operator.bc.BcPGPContentSignerBuilder;
import org.bouncycastle.openpgp.operator.bc.BcPGPDigestCalculatorProvider;
import org.bouncycastle.openpgp.operator.bc.BcPGPKeyPair;

/** A made-up vendor's OpenPGP key, made anew each time, and detached signatures by it. */
final class Signer {

    private final PGPKeyPair key;
    private final PGPPublicKeyRing ring;

    /** @param made instant at which the key is said to be made */
    Signer(String owner, Instant made) {
        try {
            Ed25519KeyPairGenerator generator = new Ed25519KeyPairGenerator();
            generator.init(new Ed25519KeyGenerationParameters(new SecureRandom()));
            key = new BcPGPKeyPair(
                    PublicKeyPacket.VERSION_4,
                    PublicKeyAlgorithmTags.EDDSA_LEGACY,
                    generator.generateKeyPair(),
                    Date.from(made));
            ring = new PGPKeyRingGenerator(
                            PGPSignature.POSITIVE_CERTIFICATION,
                            key,
                            owner,
                            new BcPGPDigestCalculatorProvider().get(HashAlgorithmTags.SHA1),
                            null,
                            null,
                            new BcPGPContentSignerBuilder(
                                    PublicKeyAlgorithmTags.EDDSA_LEGACY, HashAlgorithmTags.SHA512),
                            null)
                    .generatePublicKeyRing();
        } catch (PGPException e) {
            throw new IllegalStateException(e);
        }
    }

    /** The public key in ASCII armor. */
    String publicKey() {
        return armored(ring::encode);
    }

    /** In upper case hexadecimal digits. */
    String fingerprint() {
        return HexFormat.of().withUpperCase().formatHex(ring.getPublicKey().getFingerprint());
    }

    /** A detached signature in ASCII armor. */
    String sign(byte[] document) {
        try {
            PGPSignatureGenerator generator = new PGPSignatureGenerator(
                    new BcPGPContentSignerBuilder(PublicKeyAlgorithmTags.EDDSA_LEGACY, HashAlgorithmTags.SHA512),
                    key.getPublicKey());
            generator.init(PGPSignature.BINARY_DOCUMENT, key.getPrivateKey());
            generator.update(document);
            PGPSignature signature = generator.generate();
            return armored(signature::encode);
        } catch (PGPException e) {
            throw new IllegalStateException(e);
        }
    }

    private interface Packet {
        void encode(OutputStream out) throws IOException;
    }

    private static String armored(Packet packet) {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream();
        try (ArmoredOutputStream out =
                ArmoredOutputStream.builder().clearHeaders().build(bytes)) {
            packet.encode(out);
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
        return bytes.toString(StandardCharsets.US_ASCII);
    }
}
