package lucid.server.evidence;

import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import lucid.core.evidence.DoesNotMatter;
import lucid.core.evidence.ExploitScore;
import lucid.core.evidence.Strike;
import lucid.core.fleet.Predicates;
import lucid.server.state.Bitmaps;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** The tables of evidence, beside the documents that bring it. */
@Mapper
public interface EvidenceMapper {

    record ScoreRow(String cve, double probability, double percentile, LocalDate scored, String model, Instant read) {
        public ExploitScore score() {
            return new ExploitScore(cve, probability, percentile, scored, model, read);
        }
    }

    @Select("select cve, probability, percentile, scored, model, read from exploit_score order by read")
    List<ScoreRow> scores();

    @Insert("merge into exploit_score (cve, probability, percentile, scored, model, read) key (cve, read) values (#{cve}, #{probability}, #{percentile}, #{scored}, #{model}, #{read})")
    void addScore(ExploitScore score);

    record ExploitedRow(String cve, Instant read) {}

    @Select("select cve, read from exploited_since")
    List<ExploitedRow> exploited();

    @Insert("merge into exploited_since (cve, read) key (cve) values (#{cve}, #{read})")
    void addExploited(@Param("cve") String cve, @Param("read") Instant read);

    /** @param hostsThen serialized bitmap of the hosts it was true of */
    record NoteRow(long number, String updateId, String hosts, String reason, String author, Instant written, byte[] hostsThen, Instant takenBack) {
        static NoteRow of(DoesNotMatter note) {
            return new NoteRow(note.number(), note.updateId(), note.hosts().toString(), note.reason(), note.author(), note.written(), Bitmaps.write(note.then()), note.takenBack().orElse(null));
        }

        public DoesNotMatter note() {
            return new DoesNotMatter(number, updateId, Predicates.parse(hosts), reason, author, written, Bitmaps.read(hostsThen), Optional.ofNullable(takenBack));
        }
    }

    @Select("select number, update_id, hosts, reason, author, written, hosts_then, taken_back from does_not_matter order by number")
    List<NoteRow> notes();

    @Insert("""
            insert into does_not_matter (number, update_id, hosts, reason, author, written, hosts_then)
            values (#{number}, #{updateId}, #{hosts}, #{reason}, #{author}, #{written}, #{hostsThen})""")
    void addNote(NoteRow note);

    @Update("update does_not_matter set taken_back = #{at} where number = #{number} and taken_back is null")
    int takeBackNote(@Param("number") long number, @Param("at") Instant at);

    record StrikeRow(long number, String updateId, String host, String reason, String author, Instant struck, Instant takenBack) {
        public Strike strike() {
            return new Strike(number, updateId, host, reason, author, struck, Optional.ofNullable(takenBack));
        }
    }

    @Select("select number, update_id, host, reason, author, struck, taken_back from strike order by number")
    List<StrikeRow> strikes();

    @Insert("insert into strike (number, update_id, host, reason, author, struck) values (#{number}, #{updateId}, #{host}, #{reason}, #{author}, #{struck})")
    void addStrike(Strike strike);

    @Update("update strike set taken_back = #{at} where number = #{number} and taken_back is null")
    int takeBackStrike(@Param("number") long number, @Param("at") Instant at);

    record WeightsRow(String content, String author, Instant since) {}

    /** The newest first. */
    @Select("select content, author, since from weights order by number desc limit #{limit}")
    List<WeightsRow> weights(int limit);

    @Insert("insert into weights (content, author, since) values (#{content}, #{author}, #{since})")
    void addWeights(WeightsRow weights);
}
