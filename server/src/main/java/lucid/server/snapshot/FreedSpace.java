package lucid.server.snapshot;

import java.sql.Connection;
import java.sql.SQLException;
import javax.sql.DataSource;
import org.h2.engine.SessionLocal;
import org.h2.jdbc.JdbcConnection;
import org.h2.mvstore.MVStore;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/**
 * Gives back the space of rows that were written anew. The database's file is a row of chunks, each written once; a
 * chunk is free when nothing in it is current any more. The database copies together what is left of mostly empty
 * chunks by itself, but not where each commit is written at once (WRITE_DELAY=0), as an acknowledged report needs:
 * without this the file only grows (docs/benchmarks.md).
 */
@Component
class FreedSpace {

    /** Percent of the written chunks that is to be current. */
    private static final int CURRENT = 50;
    /** Copied at once, so that who writes meanwhile waits for some hundredths of a second. */
    private static final int BYTES = 8 << 20;

    private final DataSource database;
    private final Disk disk;

    FreedSpace(DataSource database, Disk disk) {
        this.database = database;
        this.disk = disk;
    }

    /**
     * Copies only where there is room for the copies: what they were copied from is free after them.
     *
     * @return true if something was copied, so that there may be more to do
     */
    @Scheduled(fixedDelay = 500)
    boolean giveBack() throws SQLException {
        if (!disk.hasRoomForCopies(BYTES)) {
            return false;
        }
        try (Connection connection = database.getConnection()) {
            MVStore store = store(connection);
            boolean copied = store.compact(CURRENT, BYTES);
            if (copied) {
                // The copies are written, and what they were copied from is free after that.
                store.commit();
            }
            return copied;
        }
    }

    /** The file as its own library shows it: there is no statement for this. */
    static MVStore store(Connection connection) throws SQLException {
        return ((SessionLocal) connection.unwrap(JdbcConnection.class).getSession())
                .getDatabase()
                .getStore()
                .getMvStore();
    }
}
