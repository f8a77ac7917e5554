package lucid.server.access;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import lucid.formats.document.Format;
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
    record Account(
            String name,
            String displayName,
            Role role,
            String populations,
            String passwordHash,
            boolean oneTime,
            String secondFactorKey,
            boolean secondFactorConfirmed,
            long secondFactorStep,
            int version) {
        Set<String> populationIds() {
            return populations.isEmpty() ? Set.of() : Set.of(populations.split(","));
        }

        /** With another password. */
        Account with(String hash, boolean forOnce) {
            return new Account(
                    name,
                    displayName,
                    role,
                    populations,
                    hash,
                    forOnce,
                    secondFactorKey,
                    secondFactorConfirmed,
                    secondFactorStep,
                    version);
        }

        /** With another second factor; a key of null is none. */
        Account withSecondFactor(String key, boolean confirmed, long step) {
            return new Account(
                    name, displayName, role, populations, passwordHash, oneTime, key, confirmed, step, version);
        }
    }

    /** @param formats that it may bring, comma-separated */
    record Token(
            String name,
            Scope scope,
            String host,
            Instant createdAt,
            Instant expiresAt,
            String formats,
            Instant lastUsedAt) {}

    String TOKEN =
            "name, scope, host, created_at, expires_at, coalesce((select listagg(f.format, ',') from machine_token_format f where f.token = t.name), '') as formats, last_used_at";

    String ACCOUNT =
            "name, display_name, role, coalesce((select listagg(p.population, ',') from account_population p where p.account = a.name), '') as populations, password_hash, one_time, second_factor_key, second_factor_confirmed, second_factor_step, version";

    @Select("select " + ACCOUNT + " from account a order by name")
    List<Account> accounts();

    @Select("select " + ACCOUNT + " from account a where name = #{name}")
    Optional<Account> account(String name);

    default void addAccount(Account account) {
        addAccountRow(account);
        account.populationIds().forEach(population -> addPopulation(account.name(), population));
    }

    @Insert("""
            insert into account (name, display_name, role, password_hash, one_time, version)
            values (#{name}, #{displayName}, #{role}, #{passwordHash}, #{oneTime}, #{version})""")
    void addAccountRow(Account account);

    @Insert("insert into account_population (account, population) values (#{account}, #{population})")
    void addPopulation(@Param("account") String account, @Param("population") String population);

    @Delete("delete from account_population where account = #{account}")
    void removePopulations(String account);

    /** Changes the account if it still is of its version. */
    default int changeAccount(Account account) {
        int changed = changeAccountRow(account);
        if (changed > 0) {
            removePopulations(account.name());
            account.populationIds().forEach(population -> addPopulation(account.name(), population));
        }
        return changed;
    }

    @Update("""
            update account set display_name = #{account.displayName}, role = #{account.role}, password_hash = #{account.passwordHash},
              one_time = #{account.oneTime}, second_factor_key = #{account.secondFactorKey}, second_factor_confirmed = #{account.secondFactorConfirmed},
              second_factor_step = #{account.secondFactorStep}, version = version + 1 where name = #{account.name} and version = #{account.version}""")
    int changeAccountRow(@Param("account") Account account);

    /** Who an account is at a provider of identities, for good. */
    record Subject(String issuer, String subject) {}

    @Select("select account from account_subject where issuer = #{issuer} and subject = #{subject}")
    Optional<String> accountOfSubject(@Param("issuer") String issuer, @Param("subject") String subject);

    @Select("select issuer, subject from account_subject where account = #{account}")
    Optional<Subject> subjectOf(String account);

    /** In the place of one at another provider. */
    @Insert(
            "merge into account_subject (account, issuer, subject) key (account) values (#{account}, #{issuer}, #{subject})")
    void keepSubject(
            @Param("account") String account, @Param("issuer") String issuer, @Param("subject") String subject);

    @Delete("delete from account_subject where account = #{account}")
    int forgetSubject(String account);

    @Select("select account from account_subject")
    Set<String> accountsWithSubject();

    /** Notes a code as used; no other session ends for it. */
    @Update("update account set second_factor_step = #{step} where name = #{name} and second_factor_step < #{step}")
    int useStep(@Param("name") String name, @Param("step") long step);

    /** A key that does not count yet. */
    @Update(
            "update account set second_factor_key = #{key}, second_factor_step = 0 where name = #{name} and not second_factor_confirmed")
    int beginSecondFactor(@Param("name") String name, @Param("key") String key);

    /** Somebody who had an account once. */
    record FormerPerson(String name, String displayName) {}

    @Insert(
            "insert into former_person (name, display_name, left_at) values (#{account.name}, #{account.displayName}, #{at})")
    void addFormer(@Param("account") Account account, @Param("at") Instant at);

    @Select("select name, display_name from former_person")
    List<FormerPerson> former();

    @Delete("delete from account where name = #{name}")
    int removeAccount(String name);

    String NAMED = " where instr(lower(name), #{text}) > 0 or instr(lower(coalesce(host, '')), #{text}) > 0 ";

    /** Those with the text in their name or host; of machines first, of single hosts then. */
    @Select("select " + TOKEN + " from machine_token t" + NAMED
            + "order by case when scope in ('HOST', 'ENROL') then 1 else 0 end, name limit #{limit}")
    List<Token> tokens(@Param("text") String text, @Param("limit") int limit);

    @Select("select count(*) from machine_token" + NAMED)
    int countTokens(@Param("text") String text);

    /** Asked for each host that is enrolled: of tens of thousands none is read. */
    @Select("select exists (select 1 from machine_token where name = #{name})")
    boolean isToken(String name);

    @Select("select " + TOKEN + " from machine_token t where digest = #{digest}")
    Optional<Token> tokenByDigest(String digest);

    default void addToken(Token token, String digest) {
        addTokenRow(token, digest);
        Bringer.read(token.formats()).forEach(format -> addFormat(token.name(), format));
    }

    @Insert("""
            insert into machine_token (name, digest, scope, host, created_at, expires_at)
            values (#{token.name}, #{digest}, #{token.scope}, #{token.host}, #{token.createdAt}, #{token.expiresAt})""")
    void addTokenRow(@Param("token") Token token, @Param("digest") String digest);

    /** Makes a token a person's own. */
    @Update("update machine_token set account = #{account} where name = #{name}")
    int giveTo(@Param("name") String name, @Param("account") String account);

    /** Whose own it is, if it is somebody's. */
    @Select("select account from machine_token where name = #{name} and account is not null")
    Optional<String> ownerOf(String name);

    @Select("select created_at from machine_token where account = #{account} and scope = #{scope}")
    Optional<Instant> addressSince(@Param("account") String account, @Param("scope") Scope scope);

    @Delete("delete from machine_token where account = #{account} and scope = #{scope}")
    int revokeAddress(@Param("account") String account, @Param("scope") Scope scope);

    @Insert("insert into machine_token_format (token, format) values (#{token}, #{format})")
    void addFormat(@Param("token") String token, @Param("format") Format format);

    @Update("update machine_token set last_used_at = #{at} where name = #{name}")
    void tokenUsed(@Param("name") String name, @Param("at") Instant at);

    @Delete("delete from machine_token where name = #{name}")
    int revokeToken(String name);
}
