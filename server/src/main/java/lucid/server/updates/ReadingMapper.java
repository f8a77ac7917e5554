package lucid.server.updates;

import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import lucid.core.update.Kind;
import lucid.core.update.RestartNeed;
import lucid.core.update.Retraction;
import lucid.core.update.SharingLevel;
import lucid.core.update.UpdateId;
import lucid.core.update.VendorStatement;
import lucid.formats.document.Format;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Options;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;

/** The tables of what was read of updates; lists are written by the statements of ReadingMapper.xml. */
@Mapper
interface ReadingMapper {

    /** What one document says of one update. */
    record Header(
            long number,
            long document,
            Format format,
            String updateId,
            String revision,
            Instant read,
            String title,
            String vendor,
            String summary,
            String revisionWords,
            Instant published,
            Instant revised,
            Kind kind,
            String vendorRating,
            RestartNeed restart,
            Long sizeBytes,
            LocalDate removableUntil,
            Integer removableDays,
            Retraction.Type retraction,
            String retractionReason,
            SharingLevel sharing) {}

    record VulnerabilityRow(
            long reading,
            int position,
            String id,
            String title,
            Double baseScore,
            String vector,
            String exploitation) {}

    /**
     * One affected range of one fix.
     *
     * @param restart what is said of that product alone; null: nothing
     */
    record TrackRow(
            long reading,
            int fix,
            int track,
            String product,
            String distro,
            String arch,
            String introduced,
            boolean afterIntroduced,
            String rangeEnd,
            boolean endIncluded,
            RestartNeed restart) {}

    /** @param named the product as the vendor names it */
    record StatementRow(
            long reading,
            int position,
            VendorStatement.Type type,
            String vulnerability,
            String named,
            String product,
            String distro,
            String arch,
            String version,
            String words) {}

    record RemedyRow(long reading, int position, String category, String words) {}

    /** @param names one a line, the nearest first */
    record UnreadRow(
            long reading,
            int position,
            String vendor,
            String name,
            String names,
            String cpe,
            String place,
            String reason) {}

    record NoteRow(long reading, int position, String about, String title, String words) {}

    /** @param oneOf one a line */
    record RequirementRow(
            long reading,
            int position,
            String product,
            String atLeastVersion,
            String trait,
            Double atLeast,
            String oneOf) {}

    /** What a link leads to. */
    enum Link {
        SUPERSEDES,
        BRINGS,
        PLATFORM,
        REFERENCE
    }

    record LinkRow(long reading, Link type, int position, String target, String title) {}

    record PlaceRow(
            long reading, int position, String product, String distro, String arch, String name, String place) {}

    /** A header before it has its number, which the database fills in. */
    final class NewReading {
        public long number;
        public final Header header;

        NewReading(Header header) {
            this.header = header;
        }
    }

    @Insert("""
            insert into update_reading (document, format, update_id, revision, title, vendor, summary, revision_words, published, revised, kind,
              vendor_rating, restart, size_bytes, removable_until, removable_days, retraction, retraction_reason, sharing)
            values (#{header.document}, #{header.format}, #{header.updateId}, #{header.revision}, #{header.title}, #{header.vendor}, #{header.summary},
              #{header.revisionWords}, #{header.published}, #{header.revised}, #{header.kind}, #{header.vendorRating}, #{header.restart},
              #{header.sizeBytes}, #{header.removableUntil}, #{header.removableDays}, #{header.retraction}, #{header.retractionReason}, #{header.sharing})""")
    @Options(useGeneratedKeys = true, keyProperty = "number", keyColumn = "number")
    void add(NewReading reading);

    void addVulnerabilities(@Param("rows") List<VulnerabilityRow> rows);

    void addTracks(@Param("rows") List<TrackRow> rows);

    void addStatements(@Param("rows") List<StatementRow> rows);

    void addRemedies(@Param("rows") List<RemedyRow> rows);

    void addUnread(@Param("rows") List<UnreadRow> rows);

    void addNotes(@Param("rows") List<NoteRow> rows);

    void addLinks(@Param("rows") List<LinkRow> rows);

    void addRequirements(@Param("rows") List<RequirementRow> rows);

    void addPlaces(@Param("rows") List<PlaceRow> rows);

    /** With all that hangs on it. */
    @Delete("delete from update_reading where document = #{document} and update_id = #{updateId.value}")
    void remove(@Param("document") long document, @Param("updateId") UpdateId updateId);

    /** In the order in which they were read; of one document, where that is named. */
    List<Header> headers(@Param("document") Long document);

    List<VulnerabilityRow> vulnerabilities(@Param("document") Long document);

    List<TrackRow> tracks(@Param("document") Long document);

    List<StatementRow> statements(@Param("document") Long document);

    List<RemedyRow> remedies(@Param("document") Long document);

    List<UnreadRow> unread(@Param("document") Long document);

    List<NoteRow> notes(@Param("document") Long document);

    List<LinkRow> links(@Param("document") Long document);

    List<RequirementRow> requirements(@Param("document") Long document);

    List<PlaceRow> places(@Param("document") Long document);

    /** Updates of which a document told something that counted, also before what was read of it was kept. */
    @Select("select update_id from update_reading where document = #{document}")
    List<String> updatesOf(long document);

    /** The newest revision of a format that was read; empty if none was. */
    @Select(
            "select revision from update_reading where format = #{format} and update_id = #{updateId.value} order by document desc limit 1")
    Optional<String> newestRevision(@Param("format") Format format, @Param("updateId") UpdateId updateId);

    /** The newest document of a format that told of an update, if one did. */
    @Select(
            "select document from update_reading where format = #{format} and update_id = #{updateId.value} order by document desc limit 1")
    Optional<Long> newestDocument(@Param("format") Format format, @Param("updateId") UpdateId updateId);

    /** The newest document with an advisory of this update. */
    @Select(
            "select document from update_reading where update_id = #{value} and format <> 'UPDATE_NOTICE' order by document desc limit 1")
    Optional<Long> newestAdvisory(UpdateId updateId);
}
