package lucid.server.verdicts;

import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import lucid.core.fleet.PopulationId;
import lucid.core.ruling.Acknowledgement;
import lucid.core.ruling.DecisionNumber;
import lucid.core.update.UpdateId;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** The table of "leave to the rule". */
@Mapper
public interface AcknowledgementMapper {

    /** @param populations with commas; null: all */
    record Row(long number, String updateId, Instant lookAgain, String author, Instant createdAt, Instant revokedAt, String populations) {
        Acknowledgement acknowledgement() {
            return new Acknowledgement(new DecisionNumber.OfAcknowledgement(number), new UpdateId(updateId),
                    populations == null ? Set.of() : Arrays.stream(populations.split(",")).map(PopulationId::new).collect(Collectors.toSet()), Optional.ofNullable(lookAgain), author, createdAt, Optional.ofNullable(revokedAt));
        }
    }

    @Select("""
            select number, update_id, look_again, author, created_at, revoked_at,
              (select listagg(population, ',') from acknowledgement_population p where p.acknowledgement = a.number) as populations
            from acknowledgement a order by number""")
    List<Row> rows();

    default List<Acknowledgement> all() {
        return rows().stream().map(Row::acknowledgement).toList();
    }

    @Insert("insert into acknowledgement (number, update_id, look_again, author, created_at) values (#{number}, #{updateId}, #{lookAgain}, #{author}, #{createdAt})")
    void addRow(@Param("number") long number, @Param("updateId") String updateId, @Param("lookAgain") Instant lookAgain, @Param("author") String author, @Param("createdAt") Instant createdAt);

    @Insert("insert into acknowledgement_population (acknowledgement, population) values (#{acknowledgement}, #{population})")
    void addPopulation(@Param("acknowledgement") long acknowledgement, @Param("population") String population);

    default void add(Acknowledgement given) {
        addRow(given.number().value(), given.updateId().value(), given.lookAgain().orElse(null), given.author(), given.createdAt());
        given.populations().forEach(population -> addPopulation(given.number().value(), population.value()));
    }

    @Update("update acknowledgement set revoked_at = #{at} where number = #{number} and revoked_at is null")
    int takeBack(@Param("number") long number, @Param("at") Instant at);
}
