package lucid.server.feeds;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import lucid.formats.document.Format;
import lucid.server.access.Bringer;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** The tables of feeds and trusted keys. */
@Mapper
interface FeedMapper {

    /** What lies at the address of a feed. */
    enum Kind {
        /** One document of any format that is read. */
        DOCUMENT,
        /** The {@code provider-metadata.json} of a provider of signed CSAF documents. */
        CSAF_PROVIDER
    }

    /**
     * @param seenUntil of a provider: the last change of a document that was fetched, else null
     * @param outcome of the last try, in words; empty before the first
     * @param failures tries that failed in a row
     * @param due when it is fetched next
     * @param formats that it may bring, comma-separated
     */
    record Feed(
            String name,
            Kind kind,
            String address,
            int everyMinutes,
            String namespace,
            String distro,
            String author,
            Instant createdAt,
            String etag,
            String lastModified,
            Instant seenUntil,
            Instant tried,
            Instant succeeded,
            String outcome,
            int failures,
            Instant due,
            String formats) {}

    String COLUMNS =
            "name, kind, address, every_minutes, namespace, distro, author, created_at, etag, last_modified, seen_until, tried, succeeded, outcome, failures, due,"
                    + " coalesce((select listagg(x.format, ',') from feed_format x where x.feed = f.name), '') as formats";

    @Select("select " + COLUMNS + " from feed f order by name")
    List<Feed> all();

    @Select("select " + COLUMNS + " from feed f where name = #{name}")
    Optional<Feed> find(String name);

    @Select("select " + COLUMNS + " from feed f where due <= #{now} order by due, name")
    List<Feed> due(Instant now);

    default void add(Feed feed) {
        addRow(feed);
        Bringer.read(feed.formats()).forEach(format -> addFormat(feed.name(), format));
    }

    @Insert("insert into feed_format (feed, format) values (#{feed}, #{format})")
    void addFormat(@Param("feed") String feed, @Param("format") Format format);

    @Insert("""
            insert into feed (name, kind, address, every_minutes, namespace, distro, author, created_at, outcome, failures, due)
            values (#{name}, #{kind}, #{address}, #{everyMinutes}, #{namespace}, #{distro}, #{author}, #{createdAt}, #{outcome}, #{failures}, #{due})""")
    void addRow(Feed feed);

    @Update("""
            update feed set etag = #{etag}, last_modified = #{lastModified}, seen_until = #{seenUntil}, tried = #{tried}, succeeded = #{succeeded}, outcome = #{outcome},
              failures = #{failures}, due = #{due} where name = #{name}""")
    void tried(Feed feed);

    @Delete("delete from feed where name = #{name}")
    int remove(String name);

    record Key(String fingerprint, String owner, String armored, String author, Instant createdAt) {}

    @Select("select fingerprint, owner, armored, author, created_at from trusted_key order by owner, fingerprint")
    List<Key> keys();

    @Insert(
            "insert into trusted_key (fingerprint, owner, armored, author, created_at) values (#{fingerprint}, #{owner}, #{armored}, #{author}, #{createdAt})")
    void trust(Key key);

    @Delete("delete from trusted_key where fingerprint = #{fingerprint}")
    int distrust(String fingerprint);

    /** After the trusted keys have changed, every provider is read from the beginning. */
    @Update("update feed set seen_until = null, etag = null, last_modified = null where kind = 'CSAF_PROVIDER'")
    void forgetProviders();
}
