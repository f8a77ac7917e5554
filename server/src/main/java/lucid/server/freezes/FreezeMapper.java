package lucid.server.freezes;

import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import lucid.core.fleet.PopulationId;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Freeze;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** The tables of freezes. */
@Mapper
interface FreezeMapper {

    /** @param populations with commas; null: all */
    record Row(
            long number,
            Instant begins,
            Instant ends,
            String reason,
            String author,
            Instant createdAt,
            Instant revokedAt,
            String populations) {
        Freeze freeze() {
            return new Freeze(
                    new DecisionNumber.OfFreeze(number),
                    populations == null
                            ? Set.of()
                            : Arrays.stream(populations.split(","))
                                    .map(PopulationId::new)
                                    .collect(Collectors.toSet()),
                    begins,
                    ends,
                    reason,
                    author,
                    createdAt,
                    Optional.ofNullable(revokedAt));
        }
    }

    @Select("""
            select number, begins, ends, reason, author, created_at, revoked_at,
              (select listagg(p.population, ',') from freeze_population p where p.freeze = f.number) as populations
            from freeze f order by number""")
    List<Row> rows();

    default List<Freeze> all() {
        return rows().stream().map(Row::freeze).toList();
    }

    @Insert("""
            insert into freeze (number, begins, ends, reason, author, created_at)
            values (#{f.number.value}, #{f.from}, #{f.until}, #{f.reason}, #{f.author}, #{f.createdAt})""")
    void addRow(@Param("f") Freeze freeze);

    @Insert("insert into freeze_population (freeze, population) values (#{freeze}, #{population})")
    void addPopulation(@Param("freeze") long freeze, @Param("population") String population);

    default void add(Freeze freeze) {
        addRow(freeze);
        freeze.populations().forEach(population -> addPopulation(freeze.number().value(), population.value()));
    }

    @Update("update freeze set revoked_at = #{at} where number = #{number} and revoked_at is null")
    int takeBack(@Param("number") long number, @Param("at") Instant at);
}
