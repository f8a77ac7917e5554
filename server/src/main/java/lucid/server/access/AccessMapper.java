package lucid.server.access;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** The tables of people and machine tokens. */
@Mapper
interface AccessMapper {

    /** @param populations ids, comma-separated */
    record Account(String name, String displayName, Role role, String populations, String passwordHash, boolean oneTime, int version) {}

    record Token(String name, Scope scope, String host, Instant created, Instant expires) {}

    @Select("select name, display_name, role, populations, password_hash, one_time, version from account order by name")
    List<Account> accounts();

    @Select("select name, display_name, role, populations, password_hash, one_time, version from account where name = #{name}")
    Optional<Account> account(String name);

    @Insert("""
            insert into account (name, display_name, role, populations, password_hash, one_time, version)
            values (#{name}, #{displayName}, #{role}, #{populations}, #{passwordHash}, #{oneTime}, #{version})""")
    void addAccount(Account account);

    /** Changes the account if it still is of {@code version}. */
    @Update("""
            update account set display_name = #{account.displayName}, role = #{account.role}, populations = #{account.populations}, password_hash = #{account.passwordHash},
              one_time = #{account.oneTime}, version = version + 1 where name = #{account.name} and version = #{account.version}""")
    int changeAccount(@Param("account") Account account);

    @Delete("delete from account where name = #{name}")
    int removeAccount(String name);

    @Select("select name, scope, host, created, expires from machine_token order by name")
    List<Token> tokens();

    @Select("select name, scope, host, created, expires from machine_token where digest = #{digest}")
    Optional<Token> tokenByDigest(String digest);

    @Insert("insert into machine_token (name, digest, scope, host, created, expires) values (#{token.name}, #{digest}, #{token.scope}, #{token.host}, #{token.created}, #{token.expires})")
    void addToken(@Param("token") Token token, @Param("digest") String digest);

    @Delete("delete from machine_token where name = #{name}")
    int revokeToken(String name);
}
