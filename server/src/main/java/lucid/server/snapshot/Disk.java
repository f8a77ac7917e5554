package lucid.server.snapshot;

import com.zaxxer.hikari.HikariDataSource;
import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.Optional;
import javax.sql.DataSource;
import lucid.server.web.ProblemException;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.dao.DataAccessResourceFailureException;
import org.springframework.dao.UncategorizedDataAccessException;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Component;
import org.springframework.transaction.TransactionException;

/**
 * Room on the disk of the data folder. Writing stops a little before the disk is full, while the database can still
 * finish what it has begun; it goes on by itself when there is room again. Should the disk run full in the middle of a
 * write all the same, the database gives itself up without having kept any of it: then its connections are thrown away,
 * and it is opened anew with the next.
 */
@Component
public class Disk {

    private static final Logger LOG = LoggerFactory.getLogger(Disk.class);

    /** Bytes that must stay free: many times what a verdict or a report takes, and little to lose on a small disk. */
    private static final long RESERVE = 8 * 1024 * 1024;

    /**
     * How much the database may write at the most for one byte of a document: its own copy, its index of it, and the
     * rewriting of both.
     */
    private static final int WRITTEN_PER_BYTE = 4;

    private final Path data;
    private final DataSource database;
    private volatile boolean wasShort;

    private final boolean readOnly;

    Disk(@Value("${lucid.data}") Path data, @Value("${lucid.read-only:false}") boolean readOnly, DataSource database) {
        this.data = data;
        this.readOnly = readOnly;
        this.database = database;
    }

    /** True if there was no room when the server started: then it only reads, until it is started again. */
    public boolean isReadOnly() {
        return readOnly;
    }

    /**
     * @param bytes length of a document that is to be kept, else 0
     * @throws ProblemException 507 if there is too little room to write it
     */
    public void requireRoom(long bytes) {
        if (readOnly) {
            throw new ProblemException(
                    HttpStatus.INSUFFICIENT_STORAGE,
                    "",
                    "The disk was full when the server started, so it only reads. Nothing of this was kept. Make room and start the server again.");
        }
        long free = free();
        boolean isShort = free < RESERVE;
        if (isShort != wasShort) {
            wasShort = isShort;
            LOG.warn(
                    isShort
                            ? "The disk of {} is full: nothing is written until there is room"
                            : "There is room on the disk of {} again: writing goes on",
                    data);
        }
        if (free < RESERVE + bytes * WRITTEN_PER_BYTE) {
            throw full();
        }
    }

    /** Why nothing is written now, if so; in words for everybody who works with the server. */
    public Optional<String> refusal() {
        return readOnly
                ? Optional.of(
                        "The server only reads: its disk was full when it started. An administrator makes room and starts it again.")
                : free() < RESERVE
                        ? Optional.of(
                                "The server's disk is full: nothing is kept until an administrator has made room.")
                        : Optional.empty();
    }

    /** @throws ProblemException 507 if there is no room for files of so many bytes beside the database */
    public void requireRoomForCopies(long bytes) {
        if (free() < RESERVE + bytes) {
            throw full();
        }
    }

    /** True if the database may write so many bytes that nobody waits for. */
    boolean hasRoomForCopies(long bytes) {
        return !readOnly && free() >= RESERVE + bytes;
    }

    private long free() {
        try {
            return Files.getFileStore(data).getUsableSpace();
        } catch (IOException e) {
            LOG.warn("The free room of {} cannot be told", data, e);
            return Long.MAX_VALUE / WRITTEN_PER_BYTE;
        }
    }

    /** What went wrong while writing, as a full disk where that is the cause. */
    RuntimeException explained(RuntimeException e) {
        if (!isFault(e)) {
            return e;
        }
        LOG.error("A change could not be written to {}", data, e);
        if (database instanceof HikariDataSource pool) {
            pool.getHikariPoolMXBean().softEvictConnections();
        }
        return free() < RESERVE ? full() : e;
    }

    /** True for a failure of the database itself, false for what a change refuses. */
    private static boolean isFault(RuntimeException e) {
        return e instanceof DataAccessResourceFailureException
                || e instanceof UncategorizedDataAccessException
                || e instanceof TransactionException;
    }

    private static ProblemException full() {
        return new ProblemException(
                HttpStatus.INSUFFICIENT_STORAGE,
                "",
                "The server's disk is full. Nothing of this was kept; what was there before can be read. Send it again when there is room.");
    }
}
