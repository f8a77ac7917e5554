package lucid.server.evidence;

import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import lucid.core.evidence.CaseNote;
import lucid.core.evidence.DismissedFailure;
import lucid.core.evidence.ExploitScore;
import lucid.core.evidence.NotAffectedNote;
import lucid.core.fleet.HostConditions;
import lucid.core.fleet.HostName;
import lucid.core.update.UpdateId;
import lucid.server.snapshot.Bitmaps;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** The tables of evidence, beside the documents that bring it. */
@Mapper
interface EvidenceMapper {

    record ScoreRow(String cve, double probability, double percentile, LocalDate scored, String model, Instant read) {
        public ExploitScore score() {
            return new ExploitScore(cve, probability, percentile, scored, model, read);
        }
    }

    @Select("select cve, probability, percentile, scored, model, read from exploit_score order by read")
    List<ScoreRow> scores();

    @Insert(
            "merge into exploit_score (cve, probability, percentile, scored, model, read) key (cve, read) values (#{cve}, #{probability}, #{percentile}, #{scored}, #{model}, #{read})")
    void addScore(ExploitScore score);

    /** @param hostsThen serialized bitmap of the hosts it was true of */
    record NoteRow(
            long number,
            String updateId,
            String hosts,
            String reason,
            String author,
            Instant createdAt,
            byte[] hostsThen,
            Instant revokedAt) {
        static NoteRow of(NotAffectedNote note) {
            return new NoteRow(
                    note.number(),
                    note.updateId().value(),
                    note.hosts().toString(),
                    note.reason(),
                    note.author(),
                    note.createdAt(),
                    Bitmaps.write(note.then()),
                    note.revokedAt().orElse(null));
        }

        public NotAffectedNote note() {
            return new NotAffectedNote(
                    number,
                    new UpdateId(updateId),
                    HostConditions.parse(hosts),
                    reason,
                    author,
                    createdAt,
                    Bitmaps.read(hostsThen),
                    Optional.ofNullable(revokedAt));
        }
    }

    @Select(
            "select number, update_id, hosts, reason, author, created_at, hosts_then, revoked_at from not_affected_note order by number")
    List<NoteRow> notes();

    @Insert("""
            insert into not_affected_note (number, update_id, hosts, reason, author, created_at, hosts_then)
            values (#{number}, #{updateId}, #{hosts}, #{reason}, #{author}, #{createdAt}, #{hostsThen})""")
    void addNote(NoteRow note);

    @Update("update not_affected_note set revoked_at = #{at} where number = #{number} and revoked_at is null")
    int takeBackNote(@Param("number") long number, @Param("at") Instant at);

    /** @param code of the failure; null, as its instant: all that had happened by then */
    record DismissedFailureRow(
            long number,
            String updateId,
            String host,
            String code,
            Instant failedAt,
            String reason,
            String author,
            Instant createdAt,
            Instant revokedAt) {
        static DismissedFailureRow of(DismissedFailure one) {
            return new DismissedFailureRow(
                    one.number(),
                    one.updateId().value(),
                    one.host().value(),
                    one.failure().map(DismissedFailure.Failure::code).orElse(null),
                    one.failure().map(DismissedFailure.Failure::at).orElse(null),
                    one.reason(),
                    one.author(),
                    one.createdAt(),
                    one.revokedAt().orElse(null));
        }

        public DismissedFailure dismissedFailure() {
            return new DismissedFailure(
                    number,
                    new UpdateId(updateId),
                    new HostName(host),
                    Optional.ofNullable(code).map(told -> new DismissedFailure.Failure(told, failedAt)),
                    reason,
                    author,
                    createdAt,
                    Optional.ofNullable(revokedAt));
        }
    }

    @Select(
            "select number, update_id, host, code, failed_at, reason, author, created_at, revoked_at from dismissed_failure order by number")
    List<DismissedFailureRow> dismissedFailures();

    @Insert(
            "insert into dismissed_failure (number, update_id, host, code, failed_at, reason, author, created_at) values (#{number}, #{updateId}, #{host}, #{code}, #{failedAt}, #{reason}, #{author}, #{createdAt})")
    void addDismissedFailure(DismissedFailureRow dismissed);

    @Update("update dismissed_failure set revoked_at = #{at} where number = #{number} and revoked_at is null")
    int revokeDismissedFailure(@Param("number") long number, @Param("at") Instant at);

    record CaseNoteRow(
            long number,
            String updateId,
            String words,
            String assignee,
            LocalDate lookAgain,
            Long objectsTo,
            Long forException,
            Long goesOnFrom,
            String author,
            Instant createdAt,
            Instant revokedAt) {
        static CaseNoteRow of(CaseNote note) {
            return new CaseNoteRow(
                    note.number(),
                    note.updateId().value(),
                    note.words(),
                    note.followUp().assignee().orElse(null),
                    note.followUp().day().orElse(null),
                    note.objection().map(CaseNote.Objection::force).orElse(null),
                    note.objection().map(CaseNote.Objection::exception).orElse(null),
                    note.goesOnFrom().orElse(null),
                    note.author(),
                    note.createdAt(),
                    note.revokedAt().orElse(null));
        }

        public CaseNote caseNote() {
            return new CaseNote(
                    number,
                    new UpdateId(updateId),
                    words,
                    new CaseNote.FollowUp(Optional.ofNullable(assignee), Optional.ofNullable(lookAgain)),
                    Optional.ofNullable(objectsTo).map(force -> new CaseNote.Objection(force, forException)),
                    Optional.ofNullable(goesOnFrom),
                    author,
                    createdAt,
                    Optional.ofNullable(revokedAt));
        }
    }

    @Select("""
            select number, update_id, words, assignee, look_again, objects_to, for_exception, goes_on_from, author, created_at, revoked_at
            from case_note
            order by number""")
    List<CaseNoteRow> caseNotes();

    @Insert("""
            insert into case_note (number, update_id, words, assignee, look_again,
              objects_to, for_exception, goes_on_from, author, created_at)
            values (#{number}, #{updateId}, #{words}, #{assignee}, #{lookAgain},
              #{objectsTo}, #{forException}, #{goesOnFrom}, #{author}, #{createdAt})""")
    void addCaseNote(CaseNoteRow note);

    @Update("update case_note set revoked_at = #{at} where number = #{number} and revoked_at is null")
    int revokeCaseNote(@Param("number") long number, @Param("at") Instant at);

    record WeightsRow(long number, String content, String author, Instant createdAt) {}

    /** The newest first. */
    @Select("select number, content, author, created_at from weights order by number desc limit #{limit}")
    List<WeightsRow> weights(int limit);

    @Insert("insert into weights (content, author, created_at) values (#{content}, #{author}, #{createdAt})")
    void addWeights(
            @Param("content") String content, @Param("author") String author, @Param("createdAt") Instant createdAt);
}
