package lucid.server.proposals;

import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import java.util.TreeSet;
import java.util.stream.Collectors;
import lucid.core.approval.Ground;
import lucid.core.update.UpdateId;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** The table of proposals. */
@Mapper
interface ProposalMapper {

    /** @param draft as JSON; @param grounds with commas */
    record Row(
            long number,
            Proposal.About about,
            String updateId,
            String draft,
            String grounds,
            int hosts,
            String author,
            Instant createdAt,
            Instant lapsesAt,
            Proposal.Outcome outcome,
            String decidedBy,
            Instant decidedAt,
            String words) {
        public Proposal proposal() {
            return new Proposal(
                    number,
                    about,
                    new UpdateId(updateId),
                    draft,
                    Arrays.stream(grounds.split(",")).map(Ground::parse).collect(Collectors.toCollection(TreeSet::new)),
                    hosts,
                    author,
                    createdAt,
                    lapsesAt,
                    Optional.ofNullable(outcome)
                            .map(made -> new Proposal.Decided(made, decidedBy, decidedAt, words == null ? "" : words)));
        }
    }

    String COLUMNS =
            "number, about, update_id, draft, grounds, hosts, author, created_at, lapses_at, outcome, decided_by, decided_at, words";

    @Select("select " + COLUMNS + " from proposal where number = #{number}")
    Optional<Row> find(@Param("number") long number);

    /** Those that nobody has decided, or that were decided since an instant. */
    @Select(
            "select " + COLUMNS
                    + " from proposal where (outcome is null and lapses_at > #{since}) or decided_at > #{since} order by lapses_at, number")
    List<Row> since(@Param("since") Instant since);

    /** Those whose day has passed without anybody deciding. */
    @Select("select " + COLUMNS + " from proposal where outcome is null and lapses_at <= #{now} order by number")
    List<Row> lapsedBy(@Param("now") Instant now);

    @Select("select coalesce(max(number), 0) + 1 from proposal")
    long next();

    @Insert("""
            insert into proposal (number, about, update_id, draft, grounds, hosts, author, created_at, lapses_at)
            values (#{number}, #{about}, #{updateId}, #{draft}, #{grounds}, #{hosts}, #{author}, #{createdAt}, #{lapsesAt})""")
    void add(Row row);

    @Update(
            "update proposal set outcome = #{outcome}, decided_by = #{by}, decided_at = #{at}, words = #{words} where number = #{number} and outcome is null")
    int decide(
            @Param("number") long number,
            @Param("outcome") Proposal.Outcome outcome,
            @Param("by") String by,
            @Param("at") Instant at,
            @Param("words") String words);
}
