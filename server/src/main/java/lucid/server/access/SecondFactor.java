package lucid.server.access;

import com.eatthepath.otp.TimeBasedOneTimePasswordGenerator;
import java.nio.charset.StandardCharsets;
import java.security.InvalidKeyException;
import java.security.MessageDigest;
import java.security.SecureRandom;
import java.time.Duration;
import java.time.Instant;
import java.util.OptionalLong;
import javax.crypto.spec.SecretKeySpec;
import lucid.server.web.Addresses;
import org.apache.commons.codec.binary.Base32;

/**
 * One-time codes by time as a second factor (RFC 6238): six digits, HMAC-SHA-1, steps of 30 seconds, as every
 * authenticator takes them. A code of the step before or after is taken too, for clocks that are off; each step only
 * once, so that a code that was overheard is of no use.
 */
final class SecondFactor {

    private static final Duration STEP = Duration.ofSeconds(30);
    private static final int STEPS_OFF = 1;
    /** Bytes of a key; RFC 4226, section 4, recommends 160 bits. */
    private static final int KEY_LENGTH = 20;

    private static final String NAME = "Lucid Verdict";
    private static final TimeBasedOneTimePasswordGenerator CODES = new TimeBasedOneTimePasswordGenerator(STEP, 6);

    private SecondFactor() {}

    /** A new key in Base32 (RFC 4648). */
    static String newKey(SecureRandom random) {
        byte[] key = new byte[KEY_LENGTH];
        random.nextBytes(key);
        return new Base32().encodeToString(key);
    }

    /** The address that an authenticator reads from a snapshot. */
    static String address(String login, String key) {
        String name = Addresses.encoded(NAME);
        return "otpauth://totp/" + name + ":" + Addresses.encoded(login) + "?secret=" + key + "&issuer=" + name;
    }

    /**
     * The time step to which a code belongs.
     *
     * @param after steps up to this one have been used
     * @return empty if it is no code of now, or one that was used before
     */
    static OptionalLong step(String key, String code, Instant now, long after) {
        String digits = code.replaceAll("\\s", "");
        for (int off = -STEPS_OFF; off <= STEPS_OFF; off++) {
            Instant at = now.plus(STEP.multipliedBy(off));
            long step = at.getEpochSecond() / STEP.toSeconds();
            if (step > after
                    && MessageDigest.isEqual(
                            code(key, at).getBytes(StandardCharsets.UTF_8), digits.getBytes(StandardCharsets.UTF_8))) {
                return OptionalLong.of(step);
            }
        }
        return OptionalLong.empty();
    }

    static String code(String key, Instant at) {
        try {
            return CODES.generateOneTimePasswordString(
                    new SecretKeySpec(new Base32().decode(key), CODES.getAlgorithm()), at);
        } catch (InvalidKeyException e) {
            throw new IllegalStateException(e);
        }
    }
}
