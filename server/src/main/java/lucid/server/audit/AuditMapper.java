package lucid.server.audit;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;

/** The append-only table of the record. */
@Mapper
interface AuditMapper {

    /**
     * Which entries are looked for; what is null does not matter.
     *
     * @param until before this instant
     * @param pattern of the sentence in lower case, as LIKE takes it
     */
    record Question(String subject, AuditEntry.Kind kind, String person, Instant from, Instant until, String pattern) {}

    /** The newest entry, from which the next hash goes on. */
    @Select("select number, at, author, kind, subject, sentence, hash from record_entry order by number desc limit 1")
    Optional<AuditEntry> last();

    @Insert("""
            insert into record_entry (number, at, author, kind, subject, sentence, hash)
            values (#{number}, #{at}, #{author}, #{kind}, #{subject}, #{sentence}, #{hash})""")
    void append(AuditEntry entry);

    @Insert(
            "insert into record_entry_about (entry, kind, decision) values (#{entry}, #{about.kind}, #{about.decision})")
    void appendAbout(@Param("entry") long entry, @Param("about") AuditEntry.About about);

    /** @param entry of a decision; @param by number of the entry that it was taken back */
    record TakenBack(long entry, long by, Instant at, String author) {}

    /** Of the entries from one number to another: which were taken back later. */
    @Select("""
            select made.entry, min(back.entry) as by, min(e.at) as at, min(e.author) as author from record_entry_about made
            join record_entry_about back on back.kind = made.kind and back.decision = made.decision and back.entry > made.entry
            join record_entry e on e.number = back.entry and e.kind = 'TAKEN_BACK'
            where made.entry between #{from} and #{to} group by made.entry""")
    List<TakenBack> takenBack(@Param("from") long from, @Param("to") long to);

    /** Newest first; see AuditMapper.xml. */
    List<AuditEntry> page(@Param("asked") Question asked, @Param("before") Long before, @Param("limit") int limit);

    @Select("select distinct author from record_entry order by author")
    List<String> people();

    /** Oldest first. */
    @Select(
            "select number, at, author, kind, subject, sentence, hash from record_entry where number > #{after} order by number limit #{limit}")
    List<AuditEntry> after(@Param("after") long after, @Param("limit") int limit);
}
