package lucid.server.hosts;

import java.sql.PreparedStatement;
import java.sql.ResultSet;
import java.sql.Statement;
import java.util.LinkedHashMap;
import java.util.Map;
import org.flywaydb.core.api.MigrationVersion;
import org.flywaydb.core.api.migration.Context;
import org.flywaydb.core.api.migration.JavaMigration;

/**
 * Schema version 3: a host's inventory stands in its own row, as the numbers of its facts. Before, it stood as text in
 * a table of distinct inventories, to which hosts pointed; with most reports a host has one of its own, and four more
 * trees had to be written for each.
 */
public final class CompactInventories implements JavaMigration {

    @Override
    public MigrationVersion getVersion() {
        return MigrationVersion.fromVersion("3");
    }

    @Override
    public String getDescription() {
        return "compact inventories";
    }

    @Override
    public Integer getChecksum() {
        return null;
    }

    @Override
    public boolean canExecuteInTransaction() {
        return true;
    }

    @Override
    public void migrate(Context context) throws Exception {
        try (Statement statement = context.getConnection().createStatement()) {
            statement.execute("""
                    create table fact (
                      number  int primary key,
                      product varchar(500)  not null,
                      distro  varchar(500)  not null,
                      arch    varchar(500)  not null,
                      version varchar(1000) not null
                    )""");
            statement.execute("alter table inventory add column facts varbinary(1000000)");
            Map<String, Integer> numbers = new LinkedHashMap<>();
            try (ResultSet rows = statement.executeQuery("select digest, content from inventory");
                    PreparedStatement update = context.getConnection()
                            .prepareStatement("update inventory set facts = ? where digest = ?")) {
                while (rows.next()) {
                    // One line a fact: purl TAB distro TAB arch TAB version.
                    int[] facts = rows.getString(2)
                            .lines()
                            .mapToInt(line -> numbers.computeIfAbsent(line, l -> numbers.size()))
                            .sorted()
                            .distinct()
                            .toArray();
                    update.setBytes(1, ProductDictionary.write(facts));
                    update.setString(2, rows.getString(1));
                    update.addBatch();
                }
                update.executeBatch();
            }
            try (PreparedStatement insert = context.getConnection()
                    .prepareStatement(
                            "insert into fact (number, product, distro, arch, version) values (?, ?, ?, ?, ?)")) {
                for (Map.Entry<String, Integer> fact : numbers.entrySet()) {
                    String[] fields = fact.getKey().split("\t", -1);
                    insert.setInt(1, fact.getValue());
                    for (int i = 0; i < 4; i++) {
                        insert.setString(i + 2, fields[i]);
                    }
                    insert.addBatch();
                }
                insert.executeBatch();
            }
            for (String column : new String[] {"inventory", "first_inventory"}) {
                statement.execute("alter table host add column " + column + "_facts varbinary(1000000)");
                statement.execute("update host set " + column
                        + "_facts = (select facts from inventory where digest = host." + column + ")");
                statement.execute("alter table host alter column " + column + "_facts set not null");
                statement.execute("alter table host drop column " + column);
                statement.execute("alter table host alter column " + column + "_facts rename to " + column);
            }
            statement.execute("drop table inventory");
        }
    }
}
