package lucid.server.snapshot;

import java.io.ByteArrayInputStream;
import java.io.ByteArrayOutputStream;
import java.io.DataInputStream;
import java.io.DataOutputStream;
import java.io.IOException;
import java.io.UncheckedIOException;
import org.roaringbitmap.RoaringBitmap;

/** Sets of host numbers as they are stored: in the portable layout of compressed bitmaps. */
public final class Bitmaps {

    private Bitmaps() {}

    public static byte[] write(RoaringBitmap hosts) {
        try {
            ByteArrayOutputStream bytes = new ByteArrayOutputStream();
            hosts.serialize(new DataOutputStream(bytes));
            return bytes.toByteArray();
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    public static RoaringBitmap read(byte[] stored) {
        try {
            RoaringBitmap hosts = new RoaringBitmap();
            hosts.deserialize(new DataInputStream(new ByteArrayInputStream(stored)));
            return hosts;
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }
}
