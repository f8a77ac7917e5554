package lucid.server.record;

import java.time.Instant;
import java.util.List;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;

/** The append-only table of the record. */
@Mapper
public interface RecordMapper {

    @Insert("""
            insert into record_entry (at, author, kind, subject, sentence)
            values (#{at}, #{author}, #{kind}, #{subject}, #{sentence})""")
    void append(Instant at, String author, RecordEntry.Kind kind, String subject, String sentence);

    /** Newest first; see RecordMapper.xml. */
    List<RecordEntry> page(String subject, RecordEntry.Kind kind, Long before, int limit);
}
