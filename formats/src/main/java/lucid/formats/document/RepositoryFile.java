package lucid.formats.document;

import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;

/**
 * A file that the index of a repository names.
 *
 * @param location path below the repository's root
 * @param algorithm of the checksum, as {@link MessageDigest} names it
 */
public record RepositoryFile(String location, String algorithm, String checksum) {

    /** The last part of its path. */
    public String name() {
        return location.substring(location.lastIndexOf('/') + 1);
    }

    /** True if these are the bytes that the index means. */
    public boolean isThis(byte[] content) {
        try {
            return HexFormat.of()
                    .formatHex(MessageDigest.getInstance(algorithm).digest(content))
                    .equalsIgnoreCase(checksum);
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }
}
