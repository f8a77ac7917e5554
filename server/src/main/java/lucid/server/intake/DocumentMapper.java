package lucid.server.intake;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.update.ProductMappings;
import lucid.formats.document.Format;
import lucid.formats.document.ReadingHints;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Options;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** The tables of documents and their problems; longer statements stand in DocumentMapper.xml. */
@Mapper
interface DocumentMapper {

    /**
     * @param format null where it could not be told
     * @param hasContent true if the document itself is kept
     * @param triedAgain of a refused one: the document that it became, else null
     * @param signedBy fingerprint of the trusted key that signed it, else null
     * @param distrusted true if it is held because no trusted key signed it, or it was altered
     * @param dismissedBy who put it aside, else null
     */
    record Row(
            long number,
            String name,
            String digest,
            Format format,
            String subject,
            String revision,
            IntakeOutcome outcome,
            Instant received,
            String sender,
            boolean hasContent,
            Long triedAgain,
            String signedBy,
            boolean distrusted,
            String dismissedBy) {}

    record ProblemRow(long document, String place, String reason) {}

    /** An accepted document of which the content is kept. */
    record Accepted(
            long number,
            String name,
            Format format,
            String subject,
            Instant received,
            String namespace,
            String distro) {
        ReadingHints hints(ProductMappings mappings) {
            return new ReadingHints(
                    Optional.ofNullable(namespace), Optional.ofNullable(distro), Map.of(), mappings, received);
        }
    }

    /** A kept document with what its sender told beside it. */
    record Kept(String name, Format format, byte[] content, String namespace, String distro, String columns) {}

    /** A new row; the database fills in the number. */
    final class NewDocument {
        public long number;
        public final String name;
        public final String digest;
        public final Format format;
        public final String subject;
        public final String revision;
        public final IntakeOutcome outcome;
        public final Instant received;
        public final String sender;
        public final String namespace;
        public final String distro;
        public final String columns;
        public final byte[] content;
        public final String signedBy;
        /** Version of the reader that read it; 0 where nothing reads it again. */
        public final int reader;

        NewDocument(
                String name,
                String digest,
                Format format,
                String subject,
                String revision,
                IntakeOutcome outcome,
                String sender,
                ReadingHints hints,
                String columns,
                byte[] content,
                String signedBy) {
            this.name = name;
            this.digest = digest;
            this.format = format;
            this.subject = subject;
            this.revision = revision;
            this.outcome = outcome;
            this.received = hints.received();
            this.sender = sender;
            this.namespace = hints.namespace().orElse(null);
            this.distro = hints.distro().orElse(null);
            this.columns = columns;
            this.content = content;
            this.signedBy = signedBy;
            this.reader = outcome == IntakeOutcome.ACCEPTED && format != null ? format.reader() : 0;
        }
    }

    @Insert("""
            insert into document (name, digest, format, subject, revision, outcome, received, sender, namespace, distro, columns, content, signed_by, reader, compared)
            values (#{name}, #{digest}, #{format}, #{subject}, #{revision}, #{outcome}, #{received}, #{sender}, #{namespace}, #{distro}, #{columns}, #{content}, #{signedBy}, #{reader}, #{reader})""")
    @Options(useGeneratedKeys = true, keyProperty = "number", keyColumn = "number")
    void add(NewDocument document);

    @Insert(
            "insert into document_problem (document, position, place, reason) values (#{document}, #{position}, #{place}, #{reason})")
    void addProblem(
            @Param("document") long document,
            @Param("position") int position,
            @Param("place") String place,
            @Param("reason") String reason);

    List<Row> page(@Param("outcome") IntakeOutcome outcome, @Param("before") Long before, @Param("limit") int limit);

    @Select(
            "select document, place, reason from document_problem where document between #{from} and #{to} order by document, position")
    List<ProblemRow> problems(@Param("from") long from, @Param("to") long to);

    @Select("select content from document where number = #{number}")
    List<byte[]> content(long number);

    @Select(
            "select name, format, content, namespace, distro, columns from document where number = #{number} and content is not null")
    Optional<Kept> kept(long number);

    /** Refused or waiting, and nobody has done anything about it since. */
    String OPEN = "outcome in ('REJECTED', 'WAITING') and tried_again is null and dismissed_at is null";

    @Select("select count(*) from document where " + OPEN)
    int refused();

    @Select("select count(*) from document where digest = #{digest} and outcome = 'ACCEPTED'")
    int timesTaken(String digest);

    @Select("select count(*) from document where digest = #{digest}")
    int timesSeen(String digest);

    @Update("update document set distrusted = true where number = #{number}")
    void distrust(long number);

    /** Held copies of what is trusted now. */
    @Update(
            "update document set tried_again = #{became} where digest = #{digest} and distrusted and tried_again is null")
    void settleHeld(@Param("digest") String digest, @Param("became") long became);

    @Select("select distrusted from document where number = #{number}")
    boolean isDistrusted(long number);

    @Select("select outcome = 'ACCEPTED' from document where number = #{number}")
    boolean isTaken(long number);

    @Select("select signed_by from document where number = #{number}")
    String signedBy(long number);

    /** True unless it was refused and has not been tried again since. */
    @Select("select count(*) = 0 from document where number = #{number} and " + OPEN)
    boolean isSettled(long number);

    @Update("update document set tried_again = #{became} where number = #{number}")
    void triedAgain(@Param("number") long number, @Param("became") long became);

    /** Accepted documents of a format, the newest first. */
    @Select(
            "select number, received as created_at, sender as author from document where outcome = 'ACCEPTED' and format = #{format} order by number desc")
    List<KeptDocuments.Kept> accepted(Format format);

    /** Digest of the newest document of a format that was taken, if one was. */
    @Select(
            "select digest from document where outcome = 'ACCEPTED' and format = #{format} order by number desc limit 1")
    Optional<String> newestDigest(Format format);

    /** Forgets the content of all documents of a format but the newest that was taken; only that one counts. */
    @Update(
            "update document set content = null where format = #{format} and outcome = 'ACCEPTED' and content is not null and number < #{newest}")
    void forgetBefore(@Param("format") Format format, @Param("newest") long newest);

    /** The newest accepted document of a format. */
    @Select(
            "select number, name, format, subject, received, namespace, distro from document where outcome = 'ACCEPTED' and format = #{format} order by number desc limit 1")
    Optional<Accepted> newest(Format format);

    @Select("select number, name, format, subject, received, namespace, distro from document where number = #{number}")
    Accepted asAccepted(long number);

    /** Accepted documents of a format that no reader of at least this version has read, in their order. */
    @Select("""
            select number, name, format, subject, received, namespace, distro from document
            where outcome = 'ACCEPTED' and format = #{format} and compared < #{reader} and content is not null order by number""")
    List<Accepted> notReadBy(@Param("format") Format format, @Param("reader") int reader);

    /** Accepted documents that should be kept as proof, but are not; of some formats only the newest is. */
    @Select("""
            select number from document where outcome = 'ACCEPTED' and content is null
              and format in ('CSAF', 'UPDATE_NOTICE', 'UPDATEINFO', 'OSV', 'OPENVEX', 'KNOWN_ISSUES', 'FAILURE_REPORTS', 'POPULATIONS')""")
    List<Long> withoutContent();

    /**
     * Accepted documents of which nothing that was read was kept, in their order; of some formats only the newest
     * counts.
     */
    List<Accepted> neverRead(@Param("formats") List<Format> formats);

    /**
     * Accepted documents that tell something of updates and are read by the newest reader, in their order.
     *
     * @param vendor publisher of an advisory; documents of a format that names no publisher are all of them
     */
    List<Accepted> ofVendor(@Param("vendor") String vendor, @Param("readers") Map<Format, Integer> readers);

    /** Documents that a newer reader reads otherwise than they count, in their order. */
    @Select("""
            select number, name, format, subject, received, namespace, distro from document
            where outcome = 'ACCEPTED' and compared > reader and content is not null order by number""")
    List<Accepted> readOtherwise();

    @Update("update document set reader = #{reader}, compared = #{reader} where number = #{number}")
    void readBy(@Param("number") long number, @Param("reader") int reader);

    @Update("update document set compared = #{reader} where number = #{number}")
    void comparedBy(@Param("number") long number, @Param("reader") int reader);

    @Select("select name from document where number = #{number}")
    String name(long number);

    @Update(
            "update document set dismissed_by = #{who}, dismissed_at = #{at}, content = null where number = #{number} and "
                    + OPEN)
    int dismiss(@Param("number") long number, @Param("who") String who, @Param("at") Instant at);

    /** A refused or waiting document whose content is kept. */
    record OpenContent(long number, String sender, long bytes) {}

    /** The newest first. */
    @Select("select number, sender, octet_length(content) as bytes from document where content is not null and " + OPEN
            + " order by number desc")
    List<OpenContent> openContents();

    @Update("update document set content = null where number = #{number}")
    void forgetContent(long number);

    /** Refused documents of a sender, the newest first. */
    @Select(
            "select number from document where sender = #{sender} and outcome in ('REJECTED', 'WAITING') order by number desc")
    List<Long> refusedOf(String sender);

    @Delete("delete from document_problem where document = #{number}")
    void deleteProblems(long number);

    @Delete("delete from document where number = #{number}")
    void delete(long number);
}
