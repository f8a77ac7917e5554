package lucid.server.verdicts;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import lucid.core.ruling.RuleAnswer;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** The table of "leave to the rule". */
@Mapper
public interface AnswerMapper {

    /** @param populations with commas; null: all */
    record Row(long number, String updateId, Instant lookAgain, String author, Instant given, Instant takenBack, String populations) {
        RuleAnswer answer() {
            return new RuleAnswer(number, updateId, populations == null ? Set.of() : Set.of(populations.split(",")), Optional.ofNullable(lookAgain), author, given, Optional.ofNullable(takenBack));
        }
    }

    @Select("""
            select number, update_id, look_again, author, given, taken_back,
              (select listagg(population, ',') from rule_answer_population p where p.answer = a.number) as populations
            from rule_answer a order by number""")
    List<Row> rows();

    default List<RuleAnswer> all() {
        return rows().stream().map(Row::answer).toList();
    }

    @Insert("insert into rule_answer (number, update_id, look_again, author, given) values (#{number}, #{updateId}, #{lookAgain}, #{author}, #{given})")
    void addRow(@Param("number") long number, @Param("updateId") String updateId, @Param("lookAgain") Instant lookAgain, @Param("author") String author, @Param("given") Instant given);

    @Insert("insert into rule_answer_population (answer, population) values (#{answer}, #{population})")
    void addPopulation(@Param("answer") long answer, @Param("population") String population);

    default void add(RuleAnswer answer) {
        addRow(answer.number(), answer.updateId(), answer.lookAgain().orElse(null), answer.author(), answer.given());
        answer.populations().forEach(population -> addPopulation(answer.number(), population));
    }

    @Update("update rule_answer set taken_back = #{at} where number = #{number} and taken_back is null")
    int takeBack(@Param("number") long number, @Param("at") Instant at);
}
