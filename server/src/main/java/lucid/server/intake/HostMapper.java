package lucid.server.intake;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.Host;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.Trait;
import lucid.core.weighing.HostTraits;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** The tables of hosts, their inventories, what changed and what happened on them. */
@Mapper
public interface HostMapper {

    record FactRow(int number, String product, String distro, String arch, String version) {}

    /**
     * @param traits as the host tells them
     * @param inventory as {@link Facts} writes it
     */
    record HostRow(int number, String name, String platform, String traits, String supply, Instant lastStart, Instant lastReport, byte[] inventory, String running, String absences) {

        /** @param told traits that a table tells */
        public Host host(List<InstalledProduct> products, Map<String, Trait> told) {
            return new Host(number, name, platform, HostTraits.joined(told, StoredTexts.readTraits(traits)), products, StoredTexts.readProducts(running), Optional.ofNullable(supply), Optional.ofNullable(lastStart), lastReport,
                    StoredTexts.readAbsences(absences));
        }
    }

    record ToldRow(String host, String traits) {}

    record OutcomeRow(int host, String updateId, String revision, Outcome.What what, Instant at, String code, FailureClass failureClass, Integer beforeFact) {
        static OutcomeRow of(Outcome o, Integer beforeFact) {
            return new OutcomeRow(o.host(), o.updateId(), o.revision().orElse(null), o.what(), o.at(), o.code().orElse(null), o.failureClass().orElse(null), beforeFact);
        }

        Outcome outcome(Facts facts) {
            return new Outcome(host, updateId, Optional.ofNullable(revision), what, at, Optional.ofNullable(code), Optional.ofNullable(failureClass),
                    Optional.ofNullable(beforeFact).map(facts::product));
        }
    }

    @Select("select number, product, distro, arch, version from fact order by number")
    List<FactRow> facts();

    @Insert("insert into fact (number, product, distro, arch, version) values (#{number}, #{product}, #{distro}, #{arch}, #{version})")
    void addFact(FactRow fact);

    @Delete("delete from fact where number = #{number}")
    void removeFact(int number);

    /** @param first what the host had when it reported first, from which past days are answered */
    record InventoryRow(byte[] inventory, byte[] first) {}

    @Select("select inventory, first_inventory as first from host")
    List<InventoryRow> inventories();

    @Select("select distinct before_fact from outcome where before_fact is not null")
    List<Integer> factsOfOutcomes();

    @Select("select number, name, platform, traits, supply, last_start, last_report, inventory, running, absences from host")
    List<HostRow> all();

    /** As the host tells them. */
    @Select("select traits from host where number = #{number}")
    String traits(int number);

    @Insert("""
            insert into host (number, name, platform, traits, supply, last_start, last_report, inventory, running, absences, first_report, first_inventory)
            values (#{number}, #{name}, #{platform}, #{traits}, #{supply}, #{lastStart}, #{lastReport}, #{inventory}, #{running}, #{absences}, #{lastReport}, #{inventory})""")
    void add(HostRow host);

    @Update("""
            update host set platform = #{platform}, traits = #{traits}, supply = #{supply}, last_start = #{lastStart},
              last_report = #{lastReport}, inventory = #{inventory}, running = #{running}, absences = #{absences} where number = #{number}""")
    void change(HostRow host);

    @Update("update host set last_report = #{lastReport} where number = #{number}")
    void heardFrom(@Param("number") int number, @Param("lastReport") Instant lastReport);

    /** @param from null where it was not there before; @param to null where it is gone */
    record ChangeRow(int host, String build, String from, String to, Instant at) {}

    @Insert("insert into fact_change (host, build, from_version, to_version, at) values (#{host}, #{build}, #{from}, #{to}, #{at})")
    void addChange(ChangeRow change);

    @Select("select host, traits from told_trait")
    List<ToldRow> toldTraits();

    @Insert("merge into told_trait (host, traits) key (host) values (#{host}, #{traits})")
    void tell(ToldRow told);

    @Select("select host, update_id, revision, what, at, code, failure_class, before_fact from outcome")
    List<OutcomeRow> outcomeRows();

    default List<Outcome> outcomes(Facts facts) {
        return outcomeRows().stream().map(row -> row.outcome(facts)).toList();
    }

    /** The same outcome again changes nothing. */
    @Insert("""
            merge into outcome as known using (select cast(#{host} as int) as host, cast(#{updateId} as varchar) as update_id, cast(#{what} as varchar) as what,
              cast(#{at} as timestamp(6) with time zone) as at) as told
            on known.host = told.host and known.update_id = told.update_id and known.what = told.what and known.at = told.at
            when not matched then insert (host, update_id, revision, what, at, code, failure_class, before_fact)
              values (#{host}, #{updateId}, #{revision}, #{what}, #{at}, #{code}, #{failureClass}, #{beforeFact})""")
    void happened(OutcomeRow outcome);
}
