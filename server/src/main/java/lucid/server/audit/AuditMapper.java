package lucid.server.audit;

import java.util.List;
import java.util.Optional;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Select;

/** The append-only table of the record. */
@Mapper
interface AuditMapper {

    /** The newest entry, from which the next hash goes on. */
    @Select("select number, at, author, kind, subject, sentence, hash from record_entry order by number desc limit 1")
    Optional<AuditEntry> last();

    @Insert("""
            insert into record_entry (number, at, author, kind, subject, sentence, hash)
            values (#{number}, #{at}, #{author}, #{kind}, #{subject}, #{sentence}, #{hash})""")
    void append(AuditEntry entry);

    /** Newest first; see AuditMapper.xml. */
    List<AuditEntry> page(String subject, AuditEntry.Kind kind, Long before, int limit);

    /** Oldest first. */
    @Select(
            "select number, at, author, kind, subject, sentence, hash from record_entry where number > #{after} order by number limit #{limit}")
    List<AuditEntry> after(long after, int limit);
}
