package lucid.server.snapshot;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.anyLong;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.nio.file.Path;
import java.sql.Connection;
import java.sql.ResultSet;
import java.sql.Statement;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import org.h2.jdbcx.JdbcDataSource;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;

class FreedSpaceTest {

    private static final int ROWS = 40_000;
    private static final int COMMITS = 500;

    @Test
    void chunksThatAreMostlyEmptyAreCopiedTogether(@TempDir Path folder) throws Exception {
        JdbcDataSource database = new JdbcDataSource();
        // A chunk may be freed at once, not 45 seconds after it was written.
        database.setURL("jdbc:h2:file:" + folder.resolve("rows") + ";WRITE_DELAY=0;RETENTION_TIME=0");
        Disk disk = mock(Disk.class);
        FreedSpace space = new FreedSpace(database, disk);
        try (Connection connection = database.getConnection();
                Statement statement = connection.createStatement()) {
            statement.execute("create table host (number int primary key, commit int, words varchar(300))");
            statement.execute("create table change (number int primary key, words varchar(16000))");
            statement.execute(
                    "insert into host select x, 0, repeat('a', 300) from system_range(0, " + (ROWS - 1) + ")");
            for (int commit = 1; commit <= COMMITS; commit++) {
                // Ten rows, far from each other and from those of the commit before.
                statement.execute("update host set commit = %d where number in (%s)"
                        .formatted(
                                commit,
                                IntStream.range(commit * 10, commit * 10 + 10)
                                        .mapToObj(i -> String.valueOf(i * 7_919 % ROWS))
                                        .collect(Collectors.joining(","))));
                // What is never written again keeps the chunk that it shares with them.
                statement.execute("insert into change values (" + commit + ", repeat('b', 16000))");
            }
            int left = percentCurrent(connection);
            assertThat(left).isLessThan(50);

            assertThat(space.giveBack()).as("without room for the copies").isFalse();
            assertThat(percentCurrent(connection)).isEqualTo(left);

            when(disk.hasRoomForCopies(anyLong())).thenReturn(true);
            while (space.giveBack()) {}

            assertThat(percentCurrent(connection)).isGreaterThanOrEqualTo(50);
            try (ResultSet counts = statement.executeQuery(
                    "select count(*), count(nullif(commit, 0)), (select count(*) from change) from host")) {
                counts.next();
                assertThat(counts.getInt(1)).isEqualTo(ROWS);
                assertThat(counts.getInt(2)).isEqualTo(10 * COMMITS);
                assertThat(counts.getInt(3)).isEqualTo(COMMITS);
            }
        }
    }

    private static int percentCurrent(Connection connection) throws Exception {
        return FreedSpace.store(connection).getFileStore().getChunksFillRate();
    }
}
