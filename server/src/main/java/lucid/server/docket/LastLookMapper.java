package lucid.server.docket;

import java.time.Instant;
import java.util.Optional;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Select;

/** When people looked at the docket. */
@Mapper
interface LastLookMapper {

    /** @param beforeVisit null if this is the first visit */
    record Look(String account, Instant beforeVisit, Instant latest) {}

    @Select("select account, before_visit, latest from last_look where account = #{account}")
    Optional<Look> of(String account);

    @Insert(
            "merge into last_look (account, before_visit, latest) key (account) values (#{account}, #{beforeVisit}, #{latest})")
    void looked(Look look);
}
