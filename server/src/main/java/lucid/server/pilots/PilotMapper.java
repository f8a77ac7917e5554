package lucid.server.pilots;

import java.time.Instant;
import java.util.List;
import lucid.core.pilot.Pilot;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** The tables of pilots. */
@Mapper
interface PilotMapper {

    record PilotRow(
            long number,
            double askedLimit,
            int hostsAtStart,
            long soakSeconds,
            String seed,
            boolean alsoTier1,
            Instant failedAt,
            String prepared,
            Integer preparedDays,
            Instant metAt) {}

    record TraitRow(long pilot, String trait) {}

    record DepartmentRow(long pilot, String department, String signedOffBy, Instant signedOffAt) {}

    record HostRow(long pilot, int host, Instant since, Instant until) {}

    @Select("select number, asked_limit, hosts_at_start, soak_seconds, seed, also_tier_1, failed_at, prepared,"
            + " prepared_days, met_at from pilot order by number")
    List<PilotRow> pilots();

    @Select("select pilot, trait from pilot_trait order by pilot, place")
    List<TraitRow> traits();

    @Select("select pilot, department, signed_off_by, signed_off_at from pilot_department")
    List<DepartmentRow> departments();

    @Select("select pilot, host, since, until from pilot_host order by pilot, place")
    List<HostRow> hosts();

    @Insert("""
            insert into pilot (number, asked_limit, hosts_at_start, soak_seconds, seed, also_tier_1, prepared, prepared_days)
            values (#{p.number.value}, #{p.terms.gate.askedLimit}, #{p.terms.gate.hosts}, #{soakSeconds}, #{p.terms.seed}, #{p.terms.alsoTier1},
              #{prepared}, #{preparedDays})""")
    void addPilot(
            @Param("p") Pilot pilot,
            @Param("soakSeconds") long soakSeconds,
            @Param("prepared") String prepared,
            @Param("preparedDays") Integer preparedDays);

    @Insert("insert into pilot_trait (pilot, place, trait) values (#{pilot}, #{place}, #{trait})")
    void addTrait(@Param("pilot") long pilot, @Param("place") int place, @Param("trait") String trait);

    @Insert("insert into pilot_department (pilot, department) values (#{pilot}, #{department})")
    void addDepartment(@Param("pilot") long pilot, @Param("department") String department);

    @Update("""
            update pilot_department set signed_off_by = #{s.author}, signed_off_at = #{s.at}
            where pilot = #{pilot} and department = #{department}""")
    void signOff(@Param("pilot") long pilot, @Param("department") String department, @Param("s") Pilot.SignOff signOff);

    @Update("update pilot set failed_at = #{at} where number = #{pilot}")
    void fail(@Param("pilot") long pilot, @Param("at") Instant at);

    @Update("update pilot set met_at = #{at} where number = #{pilot}")
    void meet(@Param("pilot") long pilot, @Param("at") Instant at);

    @Delete("delete from pilot_host where pilot = #{pilot}")
    void removeHosts(@Param("pilot") long pilot);

    @Insert("insert into pilot_host (pilot, place, host, since, until)"
            + " values (#{pilot}, #{place}, #{p.host}, #{p.since}, #{until})")
    void addHost(
            @Param("pilot") long pilot,
            @Param("place") int place,
            @Param("p") Pilot.Place host,
            @Param("until") Instant until);
}
