package lucid.server.storage;

import java.util.Optional;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;

/** What is set for the whole instance, by name. */
@Mapper
public interface Settings {

    /** Under this name stands how many writes were committed. */
    String WRITES = "writes";

    @Select("select content from setting where name = #{name}")
    Optional<String> find(String name);

    @Insert("merge into setting (name, content) key (name) values (#{name}, #{content})")
    void keep(@Param("name") String name, @Param("content") String content);
}
