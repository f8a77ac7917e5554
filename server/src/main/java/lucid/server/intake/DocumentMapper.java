package lucid.server.intake;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import lucid.formats.Format;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Options;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;

/** The tables of documents and their problems; longer statements stand in DocumentMapper.xml. */
@Mapper
public interface DocumentMapper {

    /** How a document fared. */
    enum Outcome {
        TAKEN,
        /** The same content was taken before; nothing changed. */
        KNOWN,
        /** A newer revision had been taken before; nothing changed. */
        OLDER,
        REFUSED
    }

    /** @param format null where it could not be told */
    record Row(long number, String name, String digest, Format format, String subject, String revision, Outcome outcome, Instant received, String sender) {}

    record ProblemRow(long document, String place, String reason) {}

    /** The newest taken document of a subject, and when the subject was first read. */
    record Taken(Format format, String subject, Instant firstReceived, byte[] content) {}

    /** A new row; the database fills in the number. */
    final class NewDocument {
        public long number;
        public final String name;
        public final String digest;
        public final Format format;
        public final String subject;
        public final String revision;
        public final Outcome outcome;
        public final Instant received;
        public final String sender;
        public final byte[] content;

        NewDocument(String name, String digest, Format format, String subject, String revision, Outcome outcome, Instant received, String sender, byte[] content) {
            this.name = name;
            this.digest = digest;
            this.format = format;
            this.subject = subject;
            this.revision = revision;
            this.outcome = outcome;
            this.received = received;
            this.sender = sender;
            this.content = content;
        }
    }

    @Insert("""
            insert into document (name, digest, format, subject, revision, outcome, received, sender, content)
            values (#{name}, #{digest}, #{format}, #{subject}, #{revision}, #{outcome}, #{received}, #{sender}, #{content})""")
    @Options(useGeneratedKeys = true, keyProperty = "number", keyColumn = "number")
    void add(NewDocument document);

    @Insert("insert into document_problem (document, position, place, reason) values (#{document}, #{position}, #{place}, #{reason})")
    void addProblem(@Param("document") long document, @Param("position") int position, @Param("place") String place, @Param("reason") String reason);

    List<Row> page(@Param("outcome") Outcome outcome, @Param("before") Long before, @Param("limit") int limit);

    @Select("select document, place, reason from document_problem where document between #{from} and #{to} order by document, position")
    List<ProblemRow> problems(@Param("from") long from, @Param("to") long to);

    @Select("select content from document where number = #{number}")
    List<byte[]> content(long number);

    @Select("select count(*) from document where outcome = #{outcome}")
    int count(Outcome outcome);

    @Select("select count(*) from document where digest = #{digest} and outcome = 'TAKEN'")
    int taken(String digest);

    /** The newest revision taken, empty if none was. */
    @Select("select revision from document where format = #{format} and subject = #{subject} and outcome = 'TAKEN' order by number desc limit 1")
    Optional<String> newestRevision(@Param("format") Format format, @Param("subject") String subject);

    List<Taken> latestTaken();
}
