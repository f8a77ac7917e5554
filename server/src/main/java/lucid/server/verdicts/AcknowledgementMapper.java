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
import lucid.server.snapshot.Bitmaps;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** The table of "leave to the rule". */
@Mapper
interface AcknowledgementMapper {

    /**
     * @param populations with commas; null: all
     * @param lackedThen serialized bitmap; null: nobody kept it
     */
    record Row(
            long number,
            String updateId,
            Instant lookAgain,
            String author,
            Instant createdAt,
            Instant revokedAt,
            String populations,
            byte[] lackedThen) {
        Acknowledgement acknowledgement() {
            return new Acknowledgement(
                    new DecisionNumber.OfAcknowledgement(number),
                    new UpdateId(updateId),
                    populations == null
                            ? Set.of()
                            : Arrays.stream(populations.split(","))
                                    .map(PopulationId::new)
                                    .collect(Collectors.toSet()),
                    Optional.ofNullable(lookAgain),
                    author,
                    createdAt,
                    Optional.ofNullable(revokedAt),
                    Optional.ofNullable(lackedThen).map(Bitmaps::read));
        }
    }

    @Select("""
            select number, update_id, look_again, author, created_at, revoked_at,
              (select listagg(population, ',') from acknowledgement_population p where p.acknowledgement = a.number) as populations, lacked_then
            from acknowledgement a order by number""")
    List<Row> rows();

    default List<Acknowledgement> all() {
        return rows().stream().map(Row::acknowledgement).toList();
    }

    @Insert(
            "insert into acknowledgement (number, update_id, look_again, author, created_at, lacked_then) values (#{number}, #{updateId}, #{lookAgain}, #{author}, #{createdAt}, #{lackedThen})")
    void addRow(Row row);

    @Insert(
            "insert into acknowledgement_population (acknowledgement, population) values (#{acknowledgement}, #{population})")
    void addPopulation(@Param("acknowledgement") long acknowledgement, @Param("population") String population);

    default void add(Acknowledgement given) {
        addRow(new Row(
                given.number().value(),
                given.updateId().value(),
                given.lookAgain().orElse(null),
                given.author(),
                given.createdAt(),
                null,
                null,
                given.lackedThen().map(Bitmaps::write).orElse(null)));
        given.populations().forEach(population -> addPopulation(given.number().value(), population.value()));
    }

    @Update("update acknowledgement set revoked_at = #{at} where number = #{number} and revoked_at is null")
    int takeBack(@Param("number") long number, @Param("at") Instant at);
}
