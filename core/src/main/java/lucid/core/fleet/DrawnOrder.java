package lucid.core.fleet;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.Arrays;

/**
 * An order of hosts that nobody chose and that everybody finds again: that of SHA-256(seed, name).
 *
 * @param seed the same gives the same order
 */
public record DrawnOrder(String seed) {

    /** By which a host is ordered. */
    public String digest(Host host) {
        try {
            byte[] digest = MessageDigest.getInstance("SHA-256")
                    .digest((seed + "\n" + host.name()).getBytes(StandardCharsets.UTF_8));
            return new String(Arrays.copyOf(digest, 8), StandardCharsets.ISO_8859_1);
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException("every Java has SHA-256", e);
        }
    }
}
