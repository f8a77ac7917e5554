package lucid.server.record;

import java.util.List;
import java.util.Optional;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Select;

/** The append-only table of the record. */
@Mapper
public interface RecordMapper {

    /** The newest entry, from which the next hash goes on. */
    @Select("select number, at, author, kind, subject, sentence, hash from record_entry order by number desc limit 1")
    Optional<RecordEntry> last();

    @Insert("""
            insert into record_entry (number, at, author, kind, subject, sentence, hash)
            values (#{number}, #{at}, #{author}, #{kind}, #{subject}, #{sentence}, #{hash})""")
    void append(RecordEntry entry);

    /** Newest first; see RecordMapper.xml. */
    List<RecordEntry> page(String subject, RecordEntry.Kind kind, Long before, int limit);

    /** Oldest first. */
    @Select("select number, at, author, kind, subject, sentence, hash from record_entry where number > #{after} order by number limit #{limit}")
    List<RecordEntry> after(long after, int limit);
}
