package lucid.server.web;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;

/** Digests of the Secure Hash Standard (FIPS 180-4) in hexadecimal digits. */
public final class Digests {

    private Digests() {}

    public static String sha256(byte[] content) {
        return digest("SHA-256", content);
    }

    public static String sha512(byte[] content) {
        return digest("SHA-512", content);
    }

    private static String digest(String algorithm, byte[] content) {
        try {
            return HexFormat.of().formatHex(MessageDigest.getInstance(algorithm).digest(content));
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }

    public static String sha256(String text) {
        return sha256(text.getBytes(StandardCharsets.UTF_8));
    }
}
