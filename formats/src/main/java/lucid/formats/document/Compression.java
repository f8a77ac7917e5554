package lucid.formats.document;

import com.github.luben.zstd.ZstdInputStream;
import java.io.ByteArrayInputStream;
import java.io.IOException;
import java.io.InputStream;
import java.util.Arrays;
import java.util.zip.GZIPInputStream;
import org.tukaani.xz.XZInputStream;

/**
 * Compressed documents, told by their first bytes: gzip (RFC 1952), xz and Zstandard (RFC 8878). However much one would
 * expand to, no more than the longest document is ever held.
 */
public final class Compression {

    /** Memory that an xz stream may ask for, in KiB; its largest preset asks for 65 MiB. */
    private static final int XZ_MEMORY = 100 * 1024;
    /** Largest window of a Zstandard stream, as a power of two: 128 MiB. */
    private static final int ZSTD_WINDOW = 27;

    private interface Expander {
        InputStream over(InputStream in) throws IOException;
    }

    private enum Method {
        GZIP("gzip", GZIPInputStream::new, 0x1f, 0x8b),
        XZ("xz", in -> new XZInputStream(in, XZ_MEMORY), 0xfd, '7', 'z', 'X', 'Z', 0),
        ZSTANDARD("Zstandard", in -> new ZstdInputStream(in).setLongMax(ZSTD_WINDOW), 0x28, 0xb5, 0x2f, 0xfd);

        private final String title;
        private final Expander expander;
        private final byte[] first;

        Method(String title, Expander expander, int... first) {
            this.title = title;
            this.expander = expander;
            this.first = new byte[first.length];
            for (int i = 0; i < first.length; i++) {
                this.first[i] = (byte) first[i];
            }
        }

        boolean begins(byte[] document) {
            return document.length >= first.length && Arrays.equals(document, 0, first.length, first, 0, first.length);
        }
    }

    private Compression() {}

    /**
     * The document itself, expanded if it is compressed.
     *
     * @throws RefusedDocumentException if it is damaged, or longer than the longest document once expanded
     */
    public static byte[] expanded(byte[] document) {
        for (Method method : Method.values()) {
            if (method.begins(document)) {
                return expanded(document, method);
            }
        }
        return document;
    }

    /** The body of a request with {@code Content-Encoding: gzip}. */
    public static byte[] gunzipped(InputStream body) {
        return limited(body, Method.GZIP);
    }

    private static byte[] expanded(byte[] document, Method method) {
        return limited(new ByteArrayInputStream(document), method);
    }

    private static byte[] limited(InputStream compressed, Method method) {
        try (InputStream in = method.expander.over(compressed)) {
            byte[] content = in.readNBytes(Limits.LONGEST_DOCUMENT + 1);
            if (content.length > Limits.LONGEST_DOCUMENT) {
                throw new RefusedDocumentException(
                        "", "it expands to more than " + Limits.LONGEST_DOCUMENT / 1024 / 1024 + " MB");
            }
            return content;
        } catch (IOException e) {
            throw new RefusedDocumentException("", "this is not whole " + method.title + ": " + e.getMessage());
        }
    }
}
