package lucid.server.digest;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** The table of those who are sent the digest. */
@Mapper
interface SubscriptionMapper {

    /**
     * @param hour of the day, by the clock of the zone
     * @param lastSent null: never yet
     * @param failedAt the last try, if it failed, else null
     */
    record Subscription(
            String account,
            String address,
            int hour,
            String zone,
            Instant lastSent,
            Instant failedAt,
            String failure) {}

    String COLUMNS = "account, address, at_hour as \"hour\", zone, last_sent, failed_at, failure";

    @Select("select " + COLUMNS + " from digest_subscription order by account")
    List<Subscription> all();

    @Select("select " + COLUMNS + " from digest_subscription where account = #{account}")
    Optional<Subscription> of(String account);

    @Insert("""
            merge into digest_subscription (account, address, at_hour, zone, last_sent)
            key (account) values (#{account}, #{address}, #{hour}, #{zone}, #{lastSent})""")
    void keep(Subscription subscription);

    @Delete("delete from digest_subscription where account = #{account}")
    int remove(String account);

    @Update(
            "update digest_subscription set last_sent = #{at}, failed_at = null, failure = null where account = #{account}")
    void sent(@Param("account") String account, @Param("at") Instant at);

    @Update("update digest_subscription set failed_at = #{at}, failure = #{failure} where account = #{account}")
    void failed(@Param("account") String account, @Param("at") Instant at, @Param("failure") String failure);
}
