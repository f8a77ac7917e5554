package lucid.server.orders;

import java.time.Instant;
import java.util.List;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Select;

/** The table of what hosts said of their orders. */
@Mapper
interface ReceiptMapper {

    /** @param receivedAt null where the host only asked for orders */
    record ReceiptRow(int host, Instant currentAt, String keptTag, Instant receivedAt, String content) {}

    @Select("select host, current_at, kept_tag, received_at, content from host_receipt")
    List<ReceiptRow> all();

    @Insert("""
            merge into host_receipt (host, current_at, kept_tag, received_at, content) key (host)
            values (#{host}, #{currentAt}, #{keptTag}, #{receivedAt}, #{content})""")
    void keep(ReceiptRow row);
}
