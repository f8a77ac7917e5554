package lucid.server.access;

import com.nulabinc.zxcvbn.Zxcvbn;
import java.nio.charset.StandardCharsets;
import java.util.List;
import lucid.server.web.ProblemException;
import org.springframework.security.crypto.factory.PasswordEncoderFactories;
import org.springframework.security.crypto.password.PasswordEncoder;

/**
 * Which passwords are taken, and how they are kept: as slow hashes only. What many people use, repeats itself, follows
 * the keyboard or is made of the person's own names is refused, by lists that ship with the library (Wheeler, "zxcvbn:
 * Low-Budget Password Strength Estimation", USENIX Security 2016).
 */
final class Passwords {

    private static final int SHORTEST = 10;
    /** In bytes: the hash takes no more. */
    private static final int LONGEST = 72;
    /** Of 0 to 4; 2 stands for more than a million guesses, with tries slowed down. */
    private static final int WEAKEST = 2;

    private final PasswordEncoder encoder = PasswordEncoderFactories.createDelegatingPasswordEncoder();
    private final Zxcvbn strength = new Zxcvbn();

    /**
     * The hash of a password.
     *
     * @param names of its person
     * @throws ProblemException 422 naming the field {@code password}, if it is too short, too long or too easy to guess
     */
    String hash(String password, List<String> names) {
        if (password.length() < SHORTEST || password.getBytes(StandardCharsets.UTF_8).length > LONGEST) {
            throw ProblemException.badField(
                    "password",
                    "a password has at least " + SHORTEST + " characters and at most " + LONGEST + " bytes of UTF-8");
        }
        if (strength.measure(password, names).getScore() < WEAKEST) {
            throw ProblemException.badField(
                    "password",
                    "this password is among those that are guessed first: common, repeated, or made of the name; choose several words that do not belong together");
        }
        return encoder.encode(password);
    }

    /** A hash without any demand on the password: of a demo, or of nothing. */
    String hashUnchecked(String password) {
        return encoder.encode(password);
    }

    boolean matches(String password, String hash) {
        return encoder.matches(password, hash);
    }
}
