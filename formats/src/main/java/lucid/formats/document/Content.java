package lucid.formats.document;

import java.util.List;
import java.util.Map;
import lucid.core.evidence.ExploitScores;
import lucid.core.evidence.FailureReport;
import lucid.core.evidence.KnownExploited;
import lucid.core.evidence.KnownIssue;
import lucid.core.evidence.VexStatement;
import lucid.core.fleet.HostReport;
import lucid.core.fleet.Ladder;
import lucid.core.update.Advisory;
import lucid.core.update.UpdateId;
import lucid.core.update.UpdateNotice;

/** What a document says, in core's types. */
public sealed interface Content {

    /** One advisory a document, or many in the metadata of a package repository. */
    record OfAdvisories(List<Advisory> advisories) implements Content {}

    record OfNotice(UpdateNotice notice) implements Content {}

    /** @param events what hosts tell without a whole report */
    record OfInventory(List<HostReport> reports, List<HostEvents> events) implements Content {}

    /** Traits that somebody else than the host itself tells of it. */
    record OfTraits(List<TraitRow> rows) implements Content {}

    record OfPopulations(Ladder ladder) implements Content {}

    /** How likely vulnerabilities are exploited. */
    record OfScores(ExploitScores scores) implements Content {}

    /** Every vulnerability that a catalogue lists as exploited. */
    record OfExploited(List<KnownExploited> listed) implements Content {}

    record OfStatements(List<VexStatement> statements) implements Content {}

    /** @param withdrawn ids of issues that who told them takes back */
    record OfIssues(List<KnownIssue> issues, List<String> withdrawn) implements Content {}

    /** @param withdrawn the update of each report that who told it takes back, by the report's id */
    record OfReports(List<FailureReport> reports, Map<String, UpdateId> withdrawn) implements Content {}

    /** Names of other files, by which these can be checked; nothing by itself. */
    record OfRepository(List<RepositoryFile> files) implements Content {}
}
