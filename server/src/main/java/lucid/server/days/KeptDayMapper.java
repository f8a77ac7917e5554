package lucid.server.days;

import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import lucid.core.carriage.HavingChange;
import lucid.core.update.UpdateId;
import lucid.server.snapshot.Bitmaps;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;

/** The tables of kept days. */
@Mapper
interface KeptDayMapper {

    /** @param lastReport null where no host had reported yet */
    record DayRow(LocalDate day, Instant at, int hosts, int unknownHosts, Instant lastReport, String populations) {}

    record UpdateRow(String updateId, LocalDate day, String counts) {}

    @Insert("""
            insert into kept_day (on_day, at, hosts, unknown_hosts, last_report, populations)
            values (#{day}, #{at}, #{hosts}, #{unknownHosts}, #{lastReport}, #{populations})""")
    void addDay(DayRow day);

    /** Of one update: which hosts have come to have it since the kept day before, and which have it no more. */
    record ChangeRow(String updateId, LocalDate day, byte[] gained, byte[] lost) {
        static ChangeRow of(UpdateId update, LocalDate day, HavingChange change) {
            return new ChangeRow(update.value(), day, Bitmaps.write(change.gained()), Bitmaps.write(change.lost()));
        }

        public HavingChange change() {
            return new HavingChange(Bitmaps.read(gained), Bitmaps.read(lost));
        }
    }

    /** The same of the fleet: who came, and who is there no more. */
    record FleetRow(LocalDate day, byte[] joined, byte[] gone) {
        static FleetRow of(LocalDate day, HavingChange change) {
            return new FleetRow(day, Bitmaps.write(change.gained()), Bitmaps.write(change.lost()));
        }

        public HavingChange change() {
            return new HavingChange(Bitmaps.read(joined), Bitmaps.read(gone));
        }
    }

    @Select("select hosts from kept_having where update_id = #{value}")
    Optional<byte[]> having(UpdateId update);

    @Insert("merge into kept_having (update_id, hosts) key (update_id) values (#{update.value}, #{hosts})")
    void keepHaving(@Param("update") UpdateId update, @Param("hosts") byte[] hosts);

    @Insert(
            "insert into kept_day_change (update_id, on_day, gained, lost) values (#{updateId}, #{day}, #{gained}, #{lost})")
    void addChange(ChangeRow change);

    @Insert("insert into kept_fleet_change (on_day, joined, gone) values (#{day}, #{joined}, #{gone})")
    void addFleetChange(FleetRow change);

    @Select("""
            select update_id, on_day as "day", gained, lost from kept_day_change
            where on_day > #{from} and on_day <= #{to} order by update_id, on_day""")
    List<ChangeRow> changes(@Param("from") LocalDate from, @Param("to") LocalDate to);

    @Select("select on_day as \"day\", joined, gone from kept_fleet_change order by on_day")
    List<FleetRow> fleetChanges();

    @Insert("insert into kept_day_update (update_id, on_day, counts) values (#{updateId}, #{day}, #{counts})")
    void addUpdate(UpdateRow update);

    @Select("select max(on_day) from kept_day")
    Optional<LocalDate> last();

    @Select("select on_day from kept_day order by on_day")
    List<LocalDate> days();

    /** The last kept day until then. */
    @Select(
            "select on_day as \"day\", at, hosts, unknown_hosts, last_report, populations from kept_day where on_day <= #{day} order by on_day desc limit 1")
    Optional<DayRow> at(LocalDate day);

    /**
     * What was counted last until then, of each update. The limit keeps the database from asking for the newest day
     * again for each row of every day, which took eight seconds for 3,000 updates on 90 days instead of a tenth of one.
     */
    @Select("""
            select u.update_id, u.on_day as "day", u.counts from
            (select update_id, max(on_day) as on_day from kept_day_update where on_day <= #{day} group by update_id limit 2147483647) newest
            join kept_day_update u on u.update_id = newest.update_id and u.on_day = newest.on_day""")
    List<UpdateRow> updatesAt(LocalDate day);

    @Select(
            "select update_id, on_day as \"day\", counts from kept_day_update where update_id = #{update.value} and on_day <= #{until} order by on_day")
    List<UpdateRow> ofUpdate(@Param("update") UpdateId update, @Param("until") LocalDate until);

    @Select(
            "select update_id, on_day as \"day\", counts from kept_day_update where on_day >= #{from} order by update_id, on_day")
    List<UpdateRow> since(LocalDate from);
}
