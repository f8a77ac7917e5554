package lucid.bench;

import java.nio.file.Files;
import java.nio.file.Path;
import java.sql.Connection;
import java.sql.DriverManager;
import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.SQLException;
import java.sql.Statement;
import java.util.Arrays;
import java.util.SplittableRandom;
import lucid.core.carriage.CarrierIndex;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.PopulationId;
import org.duckdb.DuckDBAppender;
import org.duckdb.DuckDBConnection;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.util.FileSystemUtils;

/**
 * "How many hosts lack update u, and of how many does it speak, by population", asked of the carrier index and, on the
 * same data, in SQL of a row store and a column store. SQL gets the order of versions as a number, its best index and
 * fresh statistics. All three must give the same answer.
 */
final class SqlComparison {

    private static final int ROUNDS = 200;
    private static final String QUESTION = """
            select m.population, sum(case when i.version < ? then 1 else 0 end), count(*) from installed i join member m on m.host = i.host
            where i.product = ? and m.population >= 0 group by m.population order by m.population""";

    private SqlComparison() {}

    public static void main(String[] arguments) throws Exception {
        LargeFleet large = new LargeFleet();
        Fleet fleet = Fleet.EMPTY.with(large.ladder).with(large.hosts());
        CarrierIndex index = CarrierIndex.EMPTY.with(fleet.hosts(fleet.all())
                .map((Host h) -> new CarrierIndex.Change(h.number(), java.util.List.of(), h.products()))
                .toList());
        Path folder = Files.createTempDirectory("lucid-bench");
        try (Connection rows = DriverManager.getConnection("jdbc:h2:file:" + folder.resolve("rows"), "sa", "");
                DuckDBConnection columns =
                        (DuckDBConnection) DriverManager.getConnection("jdbc:duckdb:" + folder.resolve("columns"))) {
            fillRows(rows, large);
            fillColumns(columns, large);
            for (int i = 0; i < 200; i++) {
                requireSame(large, index, fleet, rows, columns, i);
            }
            double ours = median("carrier index", u -> ours(large, index, fleet, u));
            double inRows = median("H2, row store, on disk", u -> ask(rows, large, u));
            double inColumns = median("DuckDB, column store", u -> ask(columns, large, u));
            System.out.printf("row store on disk: %d MB%n", Files.size(folder.resolve("rows.mv.db")) / 1_000_000);
            System.out.printf(
                    "ratio to the row store: %.0f, to the column store: %.0f%n", inRows / ours, inColumns / ours);
        } finally {
            FileSystemUtils.deleteRecursively(folder);
        }
    }

    private static void requireSame(
            LargeFleet large, CarrierIndex index, Fleet fleet, Connection rows, Connection columns, int update)
            throws SQLException {
        long[] expected = ours(large, index, fleet, update);
        if (!Arrays.equals(expected, ask(rows, large, update))
                || !Arrays.equals(expected, ask(columns, large, update))) {
            throw new IllegalStateException("the answers differ for update " + update);
        }
    }

    /** Lacking and spoken of, by population. */
    private static long[] ours(LargeFleet large, CarrierIndex index, Fleet fleet, int update) {
        CarrierIndex.Split split = index.split(large.updates.get(update).fixes().get(0), fleet::onRelease);
        long[] answer = new long[2 * LargeFleet.POPULATIONS];
        for (int p = 0; p < LargeFleet.POPULATIONS; p++) {
            RoaringBitmap members = fleet.members(new PopulationId("p" + p));
            answer[2 * p] = RoaringBitmap.andCardinality(split.lacks(), members);
            answer[2 * p + 1] = answer[2 * p] + RoaringBitmap.andCardinality(split.has(), members);
        }
        return answer;
    }

    private static long[] ask(Connection database, LargeFleet large, int update) throws SQLException {
        try (PreparedStatement question = database.prepareStatement(QUESTION)) {
            question.setInt(1, large.fixedInVersion[update]);
            question.setInt(2, large.productOfUpdate[update]);
            long[] answer = new long[2 * LargeFleet.POPULATIONS];
            try (ResultSet lines = question.executeQuery()) {
                while (lines.next()) {
                    answer[2 * lines.getInt(1)] = lines.getLong(2);
                    answer[2 * lines.getInt(1) + 1] = lines.getLong(3);
                }
            }
            return answer;
        }
    }

    private interface Question {
        long[] ask(int update) throws SQLException;
    }

    private static double median(String name, Question question) throws SQLException {
        SplittableRandom random = new SplittableRandom(7);
        for (int i = 0; i < ROUNDS; i++) {
            question.ask(random.nextInt(LargeFleet.UPDATES));
        }
        double[] milliseconds = new double[ROUNDS];
        for (int i = 0; i < ROUNDS; i++) {
            int update = random.nextInt(LargeFleet.UPDATES);
            long begun = System.nanoTime();
            question.ask(update);
            milliseconds[i] = (System.nanoTime() - begun) / 1e6;
        }
        Arrays.sort(milliseconds);
        System.out.printf(
                "%-24s median %.3f ms, 95 %% %.3f ms%n",
                name, milliseconds[ROUNDS / 2], milliseconds[ROUNDS * 95 / 100]);
        return milliseconds[ROUNDS / 2];
    }

    private static void fillRows(Connection database, LargeFleet large) throws SQLException {
        long begun = System.nanoTime();
        try (Statement statement = database.createStatement()) {
            statement.execute("create table installed (host int not null, product int not null, version int not null)");
            statement.execute("create table member (host int primary key, population int not null)");
            database.setAutoCommit(false);
            try (PreparedStatement insert = database.prepareStatement("insert into installed values (?, ?, ?)");
                    PreparedStatement member = database.prepareStatement("insert into member values (?, ?)")) {
                for (int host = 0; host < LargeFleet.HOSTS; host++) {
                    int inventory = large.inventoryOf(host);
                    for (int p = 0; p < LargeFleet.PRODUCTS_OF_A_HOST; p++) {
                        insert.setInt(1, host);
                        insert.setInt(2, large.products[inventory][p]);
                        insert.setInt(3, large.versions[inventory][p]);
                        insert.addBatch();
                    }
                    member.setInt(1, host);
                    member.setInt(2, LargeFleet.populationOf(host));
                    member.addBatch();
                    if (host % 100 == 99) {
                        insert.executeBatch();
                        member.executeBatch();
                        database.commit();
                    }
                }
                insert.executeBatch();
                member.executeBatch();
                database.commit();
            }
            database.setAutoCommit(true);
            statement.execute("create index best on installed (product, version, host)");
            statement.execute("analyze");
        }
        System.out.printf("row store filled in %d s%n", (System.nanoTime() - begun) / 1_000_000_000);
    }

    private static void fillColumns(DuckDBConnection database, LargeFleet large) throws SQLException {
        long begun = System.nanoTime();
        try (Statement statement = database.createStatement()) {
            statement.execute("create table unsorted (host int, product int, version int)");
            statement.execute("create table member (host int primary key, population int)");
            try (DuckDBAppender installed = database.createAppender(DuckDBConnection.DEFAULT_SCHEMA, "unsorted");
                    DuckDBAppender member = database.createAppender(DuckDBConnection.DEFAULT_SCHEMA, "member")) {
                for (int host = 0; host < LargeFleet.HOSTS; host++) {
                    int inventory = large.inventoryOf(host);
                    for (int p = 0; p < LargeFleet.PRODUCTS_OF_A_HOST; p++) {
                        installed.beginRow();
                        installed.append(host);
                        installed.append(large.products[inventory][p]);
                        installed.append(large.versions[inventory][p]);
                        installed.endRow();
                    }
                    member.beginRow();
                    member.append(host);
                    member.append(LargeFleet.populationOf(host));
                    member.endRow();
                }
            }
            // Sorted so, a question reads only the blocks of its product.
            statement.execute("create table installed as select * from unsorted order by product, version, host");
            statement.execute("drop table unsorted");
            statement.execute("analyze");
        }
        System.out.printf("column store filled in %d s%n", (System.nanoTime() - begun) / 1_000_000_000);
    }
}
