package lucid.formats.document;

import java.util.Collection;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import lucid.core.evidence.ExploitScores;
import lucid.core.evidence.FailureReport;
import lucid.core.evidence.KnownExploited;
import lucid.core.evidence.KnownIssue;
import lucid.core.evidence.VexStatement;
import lucid.core.fleet.HostName;
import lucid.core.fleet.HostReport;
import lucid.core.fleet.Ladder;
import lucid.core.update.Advisory;
import lucid.core.update.UpdateDocument;
import lucid.core.update.UpdateId;
import lucid.core.update.UpdateNotice;

/** What a document says, in core's types; each kind tells of itself what Intake shows of it. */
public sealed interface Content {

    /** What it is about: the identifier of an update, the name of a host, or how many. */
    String subject();

    /** The document's own revision; empty where the format has none or it holds many updates. */
    default String revision() {
        return "";
    }

    /** The updates that it tells of. */
    default Set<UpdateId> updates() {
        return Set.of();
    }

    /** What is told of updates. */
    sealed interface OfUpdates extends Content {

        List<? extends UpdateDocument> documents();

        @Override
        default Set<UpdateId> updates() {
            return documents().stream().map(UpdateDocument::id).collect(Collectors.toSet());
        }

        @Override
        default String revision() {
            return documents().size() == 1 ? documents().get(0).revision() : "";
        }
    }

    /** What is told of hosts. */
    sealed interface OfHosts extends Content {}

    /** What speaks for or against updates. */
    sealed interface OfEvidence extends Content {}

    /** One advisory a document, or many in the metadata of a package repository. */
    record OfAdvisories(List<Advisory> advisories) implements OfUpdates {
        @Override
        public List<Advisory> documents() {
            return advisories;
        }

        @Override
        public String subject() {
            return one(
                    advisories.stream().map(advisory -> advisory.id().value()).toList(), "updates");
        }
    }

    record OfNotice(UpdateNotice notice) implements OfUpdates {
        @Override
        public List<UpdateNotice> documents() {
            return List.of(notice);
        }

        @Override
        public String subject() {
            return notice.id().value();
        }
    }

    /** @param events what hosts tell without a whole report */
    record OfInventory(List<HostReport> reports, List<HostEvents> events) implements OfHosts {
        @Override
        public String subject() {
            return one(
                    Stream.concat(
                                    reports.stream().map(HostReport::name),
                                    events.stream().map(HostEvents::host))
                            .distinct()
                            .map(HostName::value)
                            .toList(),
                    "hosts");
        }
    }

    /** Traits that somebody else than the host itself tells of it. */
    record OfTraits(List<TraitRow> rows) implements OfHosts {
        @Override
        public String subject() {
            return one(rows.stream().map(row -> row.host().value()).toList(), "hosts");
        }
    }

    record OfPopulations(Ladder ladder) implements Content {
        @Override
        public String subject() {
            return ladder.populations().size() + " populations";
        }
    }

    /** How likely vulnerabilities are exploited. */
    record OfScores(ExploitScores scores) implements OfEvidence {
        @Override
        public String subject() {
            return vulnerabilities(scores.size()) + " of " + scores.scored();
        }
    }

    /** Every vulnerability that a catalogue lists as exploited. */
    record OfExploited(List<KnownExploited> listed) implements OfEvidence {
        @Override
        public String subject() {
            return vulnerabilities(listed.size());
        }
    }

    record OfStatements(List<VexStatement> statements) implements OfEvidence {
        @Override
        public String subject() {
            return one(statements.stream().map(VexStatement::vulnerability).toList(), "statements");
        }
    }

    /** @param withdrawn ids of issues that who told them takes back */
    record OfIssues(List<KnownIssue> issues, List<String> withdrawn) implements OfEvidence {
        @Override
        public String subject() {
            return one(
                    Stream.concat(
                                    issues.stream().map(KnownIssue::id),
                                    withdrawn.stream().map(Content::withdrawal))
                            .toList(),
                    "issues");
        }

        @Override
        public Set<UpdateId> updates() {
            return issues.stream().flatMap(issue -> issue.updates().stream()).collect(Collectors.toSet());
        }
    }

    /** @param withdrawn the update of each report that who told it takes back, by the report's id */
    record OfReports(List<FailureReport> reports, Map<String, UpdateId> withdrawn) implements OfEvidence {
        @Override
        public String subject() {
            return one(
                    Stream.concat(
                                    reports.stream()
                                            .map(report -> report.updateId().value()),
                                    withdrawn.values().stream().map(id -> withdrawal(id.value())))
                            .toList(),
                    "reports");
        }

        @Override
        public Set<UpdateId> updates() {
            Set<UpdateId> updates = new HashSet<>(withdrawn.values());
            reports.forEach(report -> updates.add(report.updateId()));
            return updates;
        }
    }

    /** Names of other files, by which these can be checked; nothing by itself. */
    record OfRepository(List<RepositoryFile> files) implements Content {
        @Override
        public String subject() {
            return files.size() + " files";
        }
    }

    private static String withdrawal(String name) {
        return name + ", taken back";
    }

    private static String vulnerabilities(int count) {
        return count + " " + (count == 1 ? "vulnerability" : "vulnerabilities");
    }

    private static String one(Collection<String> names, String many) {
        return names.size() == 1 ? names.iterator().next() : names.size() + " " + many;
    }
}
