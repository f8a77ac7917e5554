package lucid.server.orders;

import java.time.Instant;
import java.util.List;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Select;

/** The table of hosts that somebody asked to report at once. */
@Mapper
interface AskMapper {

    record AskRow(int host, Instant askedAt, String askedBy, Instant reportedBefore) {}

    @Select("select host, asked_at, asked_by, reported_before from host_ask")
    List<AskRow> all();

    @Insert("""
            merge into host_ask (host, asked_at, asked_by, reported_before) key (host)
            values (#{host}, #{askedAt}, #{askedBy}, #{reportedBefore})""")
    void keep(AskRow row);
}
