package lucid.server.cautions;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import lucid.core.ruling.Caution;
import lucid.core.ruling.DecisionNumber;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** The table of the fleet's caution. */
@Mapper
interface CautionMapper {

    record Row(
            long number,
            Caution.Level level,
            Instant ends,
            String reason,
            String owner,
            String author,
            Instant createdAt,
            Instant revokedAt) {
        Caution caution() {
            return new Caution(
                    new DecisionNumber.OfCaution(number),
                    level,
                    ends,
                    reason,
                    owner,
                    author,
                    createdAt,
                    Optional.ofNullable(revokedAt));
        }
    }

    @Select("select number, level, ends, reason, owner, author, created_at, revoked_at from caution order by number")
    List<Row> rows();

    @Insert("""
            insert into caution (number, level, ends, reason, owner, author, created_at)
            values (#{c.number.value}, #{c.level}, #{c.until}, #{c.reason}, #{c.owner}, #{c.author}, #{c.createdAt})""")
    void add(@Param("c") Caution caution);

    @Update("update caution set revoked_at = #{at} where number = #{number} and revoked_at is null")
    int takeBack(@Param("number") long number, @Param("at") Instant at);
}
