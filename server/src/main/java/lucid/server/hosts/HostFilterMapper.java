package lucid.server.hosts;

import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;

/** The table of filters that people have saved. */
@Mapper
interface HostFilterMapper {

    /** @param query parameters of the page's address */
    record Filter(String name, String query) {}

    @Select("select name, query from host_filter where account = #{account} order by name")
    List<Filter> of(String account);

    @Insert(
            "merge into host_filter (account, name, query) key (account, name) values (#{account}, #{filter.name}, #{filter.query})")
    void keep(@Param("account") String account, @Param("filter") Filter filter);

    @Delete("delete from host_filter where account = #{account} and name = #{name}")
    int remove(@Param("account") String account, @Param("name") String name);
}
