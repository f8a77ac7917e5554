package lucid.server.verdicts;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import lucid.core.ruling.RuleAnswer;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** The table of "leave to the rule". */
@Mapper
public interface AnswerMapper {

    record Row(long number, String updateId, String author, Instant given, Instant takenBack) {
        RuleAnswer answer() {
            return new RuleAnswer(number, updateId, author, given, Optional.ofNullable(takenBack));
        }
    }

    @Select("select number, update_id, author, given, taken_back from rule_answer order by number")
    List<Row> rows();

    default List<RuleAnswer> all() {
        return rows().stream().map(Row::answer).toList();
    }

    @Insert("insert into rule_answer (number, update_id, author, given) values (#{number}, #{updateId}, #{author}, #{given})")
    void add(@Param("number") long number, @Param("updateId") String updateId, @Param("author") String author, @Param("given") Instant given);

    @Update("update rule_answer set taken_back = #{at} where number = #{number} and taken_back is null")
    int takeBack(@Param("number") long number, @Param("at") Instant at);
}
