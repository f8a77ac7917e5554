package lucid.server.operators;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import lucid.core.operators.OperatorEntry;
import lucid.core.update.UpdateId;
import lucid.server.snapshot.Bitmaps;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** The table of what operators said. */
@Mapper
interface OperatorEntryMapper {

    /** @param slotFrom null where it is done */
    record EntryRow(
            long number,
            String updateId,
            String revision,
            byte[] hosts,
            Instant slotFrom,
            Instant slotUntil,
            String words,
            String author,
            Instant saidAt) {
        OperatorEntry entry() {
            return new OperatorEntry(
                    number,
                    new UpdateId(updateId),
                    revision,
                    Bitmaps.read(hosts),
                    Optional.ofNullable(slotFrom).map(from -> new OperatorEntry.Slot(from, slotUntil)),
                    words,
                    author,
                    saidAt);
        }

        static EntryRow of(OperatorEntry entry) {
            return new EntryRow(
                    entry.number(),
                    entry.updateId().value(),
                    entry.revision(),
                    Bitmaps.write(entry.hosts()),
                    entry.slot().map(OperatorEntry.Slot::from).orElse(null),
                    entry.slot().map(OperatorEntry.Slot::until).orElse(null),
                    entry.words(),
                    entry.author(),
                    entry.at());
        }
    }

    /** What was not taken back. */
    @Select("""
            select number, update_id, revision, hosts, slot_from, slot_until, words, author, said_at
            from operator_entry where taken_back_at is null""")
    List<EntryRow> standing();

    @Select("select coalesce(max(number), 0) + 1 from operator_entry")
    long next();

    @Insert("""
            insert into operator_entry
              (number, update_id, revision, hosts, slot_from, slot_until, words, author, said_at)
            values (#{number}, #{updateId}, #{revision}, #{hosts}, #{slotFrom}, #{slotUntil}, #{words}, #{author},
              #{saidAt})""")
    void add(EntryRow row);

    @Update("update operator_entry set taken_back_at = #{at} where number = #{number} and taken_back_at is null")
    int takeBack(@Param("number") long number, @Param("at") Instant at);
}
