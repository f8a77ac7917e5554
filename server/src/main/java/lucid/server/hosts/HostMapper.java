package lucid.server.hosts;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostName;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.Trait;
import lucid.core.update.UpdateId;
import lucid.core.weighing.HostTraits;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** The tables of hosts, their inventories, what changed and what happened on them. */
@Mapper
interface HostMapper {

    /** @param source the source package that it was built from, with its version; null where it is the same */
    record ProductRow(
            int number,
            String product,
            String distro,
            String arch,
            String version,
            String source,
            String sourceVersion) {}

    /**
     * @param traits as the host tells them
     * @param inventory as {@link ProductDictionary} writes it
     */
    record HostRow(
            int number,
            String name,
            String platform,
            String traits,
            String supply,
            Instant lastStart,
            Instant firstReport,
            Instant lastReport,
            byte[] inventory,
            String running,
            String absences,
            String lists) {

        /** @param told traits that a table tells */
        public Host host(List<InstalledProduct> products, Map<String, Trait> told) {
            return new Host(
                    number,
                    new HostName(name),
                    platform,
                    HostTraits.joined(told, HostColumns.readTraits(traits)),
                    products,
                    SharedVersions.shared(HostColumns.readProducts(running)),
                    Optional.ofNullable(supply),
                    Optional.ofNullable(lastStart),
                    firstReport,
                    lastReport,
                    HostColumns.readAbsences(absences),
                    Optional.ofNullable(lists).map(HostColumns::readLists).map(SharedVersions::shared));
        }
    }

    record ImportedTraitRow(String host, String traits) {}

    record OutcomeRow(
            int host,
            String updateId,
            String revision,
            Outcome.What what,
            Instant at,
            String code,
            FailureClass failureClass,
            Integer beforeProduct) {
        static OutcomeRow of(Outcome o, Integer beforeProduct) {
            return new OutcomeRow(
                    o.host(),
                    o.updateId().value(),
                    o.revision().orElse(null),
                    o.what(),
                    o.at(),
                    o.code().orElse(null),
                    o.failureClass().orElse(null),
                    beforeProduct);
        }

        /** Without the product that the host had before. */
        Outcome outcome() {
            return new Outcome(
                    host,
                    new UpdateId(updateId),
                    Optional.ofNullable(revision),
                    what,
                    at,
                    Optional.ofNullable(code),
                    Optional.ofNullable(failureClass));
        }

        Outcome outcome(ProductDictionary dictionary) {
            return outcome().with(Optional.ofNullable(beforeProduct).map(dictionary::product));
        }
    }

    @Select(
            "select number, product, distro, arch, version, source, source_version from product_version order by number")
    List<ProductRow> productVersions();

    @Insert(
            "insert into product_version (number, product, distro, arch, version, source, source_version) values (#{number}, #{product}, #{distro}, #{arch}, #{version}, #{source}, #{sourceVersion})")
    void addProduct(ProductRow product);

    @Delete("delete from product_version where number = #{number}")
    void removeProduct(int number);

    /** @param first what the host had when it reported first, from which past days are answered */
    record InventoryRow(byte[] inventory, byte[] first) {}

    @Select("select inventory, first_inventory as first from host")
    List<InventoryRow> inventories();

    @Select("select distinct before_product from outcome where before_product is not null")
    List<Integer> productsOfOutcomes();

    @Select("""
            select number, name, platform, traits, supply, last_start, first_report, last_report, inventory, running,
              absences, lists
            from host where number >= #{from} and number < #{before}""")
    List<HostRow> numbered(@Param("from") int from, @Param("before") int before);

    /** One more than the highest number of a host. */
    @Select("select coalesce(max(number), -1) + 1 from host")
    int nextNumber();

    /** As the host tells them. */
    @Select("select traits from host where number = #{number}")
    String traits(int number);

    @Insert("""
            insert into host (number, name, platform, traits, supply, last_start, last_report, inventory, running, absences, lists, first_report, first_inventory)
            values (#{number}, #{name}, #{platform}, #{traits}, #{supply}, #{lastStart}, #{lastReport}, #{inventory},
              #{running}, #{absences}, #{lists}, #{firstReport}, #{inventory})""")
    void add(HostRow host);

    @Update("""
            update host set platform = #{platform}, traits = #{traits}, supply = #{supply}, last_start = #{lastStart},
              last_report = #{lastReport}, inventory = #{inventory}, running = #{running}, absences = #{absences}, lists = #{lists} where number = #{number}""")
    void change(HostRow host);

    @Update("update host set last_report = #{lastReport} where number = #{number}")
    void heardFrom(@Param("number") int number, @Param("lastReport") Instant lastReport);

    /**
     * @param build see {@link ChangedBuilds}
     * @param from null where it was not there before
     * @param to null where it is gone
     */
    record ChangeRow(int host, int build, String from, String to, Instant at) {}

    @Select("select number from changed_build where build = #{build}")
    Optional<Integer> changedBuild(String build);

    @Insert("insert into changed_build (build, product) values (#{build}, #{product})")
    void addChangedBuild(@Param("build") String build, @Param("product") String product);

    @Insert(
            "insert into product_change (host, build, from_version, to_version, at) values (#{host}, #{build}, #{from}, #{to}, #{at})")
    void addChange(ChangeRow change);

    /** @param reason why it is counted no more */
    record Retirement(int host, String reason, String author, Instant createdAt) {}

    @Select("select host, reason, author, created_at from retired_host")
    List<Retirement> retired();

    @Select("select host, reason, author, created_at from retired_host where host = #{host}")
    Optional<Retirement> retirement(int host);

    @Insert(
            "insert into retired_host (host, reason, author, created_at) values (#{host}, #{reason}, #{author}, #{createdAt})")
    void retire(Retirement retirement);

    @Delete("delete from retired_host where host = #{host}")
    int bringBack(int host);

    @Select("select host, traits from imported_trait")
    List<ImportedTraitRow> importedTraits();

    @Insert("merge into imported_trait (host, traits) key (host) values (#{host}, #{traits})")
    void tell(ImportedTraitRow told);

    @Select("select host, update_id, revision, what, at, code, failure_class, before_product from outcome")
    List<OutcomeRow> outcomeRows();

    @Select(
            "select host, update_id, revision, what, at, code, failure_class, before_product from outcome where update_id = #{update.value} and at <= #{until}")
    List<OutcomeRow> outcomeRowsUntil(@Param("update") UpdateId update, @Param("until") Instant until);

    default List<Outcome> outcomes(ProductDictionary dictionary) {
        return outcomeRows().stream().map(row -> row.outcome(dictionary)).toList();
    }

    /** The same outcome again changes nothing. */
    @Insert("""
            merge into outcome as known using (select cast(#{host} as int) as host, cast(#{updateId} as varchar) as update_id, cast(#{what} as varchar) as what,
              cast(#{at} as timestamp(6) with time zone) as at) as told
            on known.host = told.host and known.update_id = told.update_id and known.what = told.what and known.at = told.at
            when not matched then insert (host, update_id, revision, what, at, code, failure_class, before_product)
              values (#{host}, #{updateId}, #{revision}, #{what}, #{at}, #{code}, #{failureClass}, #{beforeProduct})""")
    void happened(OutcomeRow outcome);
}
