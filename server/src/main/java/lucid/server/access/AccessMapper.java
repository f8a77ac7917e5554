package lucid.server.access;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Select;

/** The tables of people and machine tokens. */
@Mapper
interface AccessMapper {

    record Account(String name, String displayName, Role role, String passwordHash) {}

    record Token(String name, Scope scope, Instant created) {}

    @Select("select name, display_name, role, password_hash from account order by name")
    List<Account> accounts();

    @Select("select name, display_name, role, password_hash from account where name = #{name}")
    Optional<Account> account(String name);

    @Insert("insert into account (name, display_name, role, password_hash) values (#{name}, #{displayName}, #{role}, #{passwordHash})")
    void addAccount(Account account);

    @Select("select name, scope, created from machine_token order by name")
    List<Token> tokens();

    @Select("select name, scope, created from machine_token where digest = #{digest}")
    Optional<Token> tokenByDigest(String digest);

    @Insert("insert into machine_token (name, digest, scope, created) values (#{name}, #{digest}, #{scope}, #{created})")
    void addToken(String name, String digest, Scope scope, Instant created);

    @Delete("delete from machine_token where name = #{name}")
    int revokeToken(String name);
}
