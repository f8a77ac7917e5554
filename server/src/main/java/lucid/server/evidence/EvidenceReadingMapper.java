package lucid.server.evidence;

import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import lucid.core.evidence.KnownIssue;
import lucid.core.evidence.VexStatement;
import lucid.core.fleet.FailureClass;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** The tables of what was read of documents that speak for or against updates. */
@Mapper
interface EvidenceReadingMapper {

    record StatementRow(
            long document,
            int position,
            String vulnerability,
            String product,
            String distro,
            String arch,
            String version,
            VexStatement.Status status,
            String justification,
            String source,
            Instant at) {}

    @Insert("""
            insert into vex_statement (document, position, vulnerability, product, distro, arch, version, status, justification, source, at)
            values (#{document}, #{position}, #{vulnerability}, #{product}, #{distro}, #{arch}, #{version}, #{status}, #{justification}, #{source}, #{at})""")
    void addStatement(StatementRow row);

    @Select(
            "select document, position, vulnerability, product, distro, arch, version, status, justification, source, at from vex_statement order by document, position")
    List<StatementRow> statements();

    @Delete("delete from vex_statement where document = #{document}")
    void removeStatements(long document);

    /** @param withdrawn true if who told it takes it back: then nothing but its id is told */
    record IssueRow(
            long document,
            int position,
            String id,
            boolean withdrawn,
            String words,
            KnownIssue.State state,
            FailureClass failureClass,
            String hosts,
            String source,
            Instant since,
            Instant changed) {}

    @Insert("""
            insert into known_issue (document, position, id, withdrawn, words, state, failure_class, hosts, source, since, changed)
            values (#{document}, #{position}, #{id}, #{withdrawn}, #{words}, #{state}, #{failureClass}, #{hosts}, #{source}, #{since}, #{changed})""")
    void addIssue(IssueRow row);

    @Select(
            "select document, position, id, withdrawn, words, state, failure_class, hosts, source, since, changed from known_issue order by document, position")
    List<IssueRow> issues();

    @Delete("delete from known_issue where document = #{document}")
    void removeIssues(long document);

    /** @param fixes true: the update does not have the issue any more; false: it has it */
    record IssueUpdateRow(long document, int issue, int position, String updateId, boolean fixes) {}

    @Insert(
            "insert into known_issue_update (document, issue, position, update_id, fixes) values (#{document}, #{issue}, #{position}, #{updateId}, #{fixes})")
    void addIssueUpdate(IssueUpdateRow row);

    @Select(
            "select document, issue, position, update_id, fixes from known_issue_update order by document, issue, position")
    List<IssueUpdateRow> issueUpdates();

    /** @param withdrawn true if who told it takes it back: then nothing but its id and its update is told */
    record ReportRow(
            long document,
            int position,
            String id,
            String updateId,
            boolean withdrawn,
            String code,
            FailureClass failureClass,
            String words,
            Integer others,
            String traits,
            String source,
            Instant at) {}

    @Insert("""
            insert into failure_report (document, position, id, update_id, withdrawn, code, failure_class, words, others, traits, source, at)
            values (#{document}, #{position}, #{id}, #{updateId}, #{withdrawn}, #{code}, #{failureClass}, #{words}, #{others}, #{traits}, #{source}, #{at})""")
    void addReport(ReportRow row);

    @Select(
            "select document, position, id, update_id, withdrawn, code, failure_class, words, others, traits, source, at from failure_report order by document, position")
    List<ReportRow> reports();

    @Delete("delete from failure_report where document = #{document}")
    void removeReports(long document);

    record ReportHostRow(long document, int report, int position, String host) {}

    @Insert(
            "insert into failure_report_host (document, report, position, host) values (#{document}, #{report}, #{position}, #{host})")
    void addReportHost(ReportHostRow row);

    @Select("select document, report, position, host from failure_report_host order by document, report, position")
    List<ReportHostRow> reportHosts();

    /**
     * A vulnerability that the catalogue names or once named.
     *
     * @param added day on which the catalogue took it up; null where that was not kept
     * @param listed true if the newest catalogue names it
     */
    record ExploitedRow(
            String cve,
            Instant read,
            LocalDate added,
            String words,
            String asked,
            LocalDate due,
            boolean ransomware,
            boolean listed) {}

    @Select("select cve, read, added, words, asked, due, ransomware, listed from known_exploited")
    List<ExploitedRow> exploited();

    @Update("update known_exploited set listed = false where listed")
    void unlistAllExploited();

    @Insert("""
            merge into known_exploited (cve, read, added, words, asked, due, ransomware, listed) key (cve)
            values (#{cve}, #{read}, #{added}, #{words}, #{asked}, #{due}, #{ransomware}, #{listed})""")
    void keepExploited(ExploitedRow row);
}
