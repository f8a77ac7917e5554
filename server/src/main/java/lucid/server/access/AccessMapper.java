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

    /**
     * @param populations ids, comma-separated
     * @param secondFactorKey in Base32, null if there is none
     * @param secondFactorConfirmed true once a first code has shown that the key is there
     * @param secondFactorStep the last time step whose code was used
     */
    record Account(String name, String displayName, Role role, String populations, String passwordHash, boolean oneTime, String secondFactorKey, boolean secondFactorConfirmed,
            long secondFactorStep, int version) {
        /** With another password. */
        Account with(String hash, boolean forOnce) {
            return new Account(name, displayName, role, populations, hash, forOnce, secondFactorKey, secondFactorConfirmed, secondFactorStep, version);
        }

        /** With another second factor; a key of null is none. */
        Account withSecondFactor(String key, boolean confirmed, long step) {
            return new Account(name, displayName, role, populations, passwordHash, oneTime, key, confirmed, step, version);
        }
    }

    /** @param formats that it may bring, comma-separated */
    record Token(String name, Scope scope, String host, Instant created, Instant expires, String formats) {}

    String ACCOUNT = "name, display_name, role, populations, password_hash, one_time, second_factor_key, second_factor_confirmed, second_factor_step, version";

    @Select("select " + ACCOUNT + " from account order by name")
    List<Account> accounts();

    @Select("select " + ACCOUNT + " from account where name = #{name}")
    Optional<Account> account(String name);

    @Insert("""
            insert into account (name, display_name, role, populations, password_hash, one_time, version)
            values (#{name}, #{displayName}, #{role}, #{populations}, #{passwordHash}, #{oneTime}, #{version})""")
    void addAccount(Account account);

    /** Changes the account if it still is of {@code version}. */
    @Update("""
            update account set display_name = #{account.displayName}, role = #{account.role}, populations = #{account.populations}, password_hash = #{account.passwordHash},
              one_time = #{account.oneTime}, second_factor_key = #{account.secondFactorKey}, second_factor_confirmed = #{account.secondFactorConfirmed},
              second_factor_step = #{account.secondFactorStep}, version = version + 1 where name = #{account.name} and version = #{account.version}""")
    int changeAccount(@Param("account") Account account);

    /** Notes a code as used; no other session ends for it. */
    @Update("update account set second_factor_step = #{step} where name = #{name} and second_factor_step < #{step}")
    int useStep(@Param("name") String name, @Param("step") long step);

    /** A key that does not count yet. */
    @Update("update account set second_factor_key = #{key}, second_factor_step = 0 where name = #{name} and not second_factor_confirmed")
    int beginSecondFactor(@Param("name") String name, @Param("key") String key);

    @Delete("delete from account where name = #{name}")
    int removeAccount(String name);

    @Select("select name, scope, host, created, expires, formats from machine_token order by name")
    List<Token> tokens();

    @Select("select name, scope, host, created, expires, formats from machine_token where digest = #{digest}")
    Optional<Token> tokenByDigest(String digest);

    @Insert("insert into machine_token (name, digest, scope, host, created, expires, formats) values (#{token.name}, #{digest}, #{token.scope}, #{token.host}, #{token.created}, #{token.expires}, #{token.formats})")
    void addToken(@Param("token") Token token, @Param("digest") String digest);

    @Delete("delete from machine_token where name = #{name}")
    int revokeToken(String name);
}
