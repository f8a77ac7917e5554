package lucid.server.state;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import lucid.server.web.ProblemException;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Component;

/**
 * Room on the disk of the data folder. Writing stops a little before the disk is full, while the database can still finish what it has begun;
 * it goes on by itself when there is room again.
 */
@Component
public class DiskSpace {

    private static final Logger LOG = LoggerFactory.getLogger(DiskSpace.class);

    /** Bytes that must be free: more than one transaction with the longest document writes at a small disk, and little to lose on a large one. */
    private static final long RESERVE = 8 * 1024 * 1024;

    private final Path data;
    private volatile boolean wasShort;

    DiskSpace(@Value("${lucid.data}") Path data) {
        this.data = data;
    }

    /** @throws ProblemException 507 if there is too little room to write anything */
    void requireRoom() {
        boolean isShort = isShort();
        if (isShort != wasShort) {
            wasShort = isShort;
            LOG.warn(isShort ? "The disk of {} is full: nothing is written until there is room" : "There is room on the disk of {} again: writing goes on", data);
        }
        if (isShort) {
            throw full();
        }
    }

    private boolean isShort() {
        try {
            return Files.getFileStore(data).getUsableSpace() < RESERVE;
        } catch (IOException e) {
            LOG.warn("The free room of {} cannot be told", data, e);
            return false;
        }
    }

    /** What went wrong while writing, as a full disk where that is the cause. */
    RuntimeException explained(RuntimeException e) {
        if (e instanceof ProblemException || !isShort()) {
            return e;
        }
        LOG.error("A change could not be written, and the disk of {} is full", data, e);
        return full();
    }

    private static ProblemException full() {
        return new ProblemException(HttpStatus.INSUFFICIENT_STORAGE, "", "The server's disk is full. Nothing of this was kept; what was there before can be read. Send it again when there is room.");
    }
}
