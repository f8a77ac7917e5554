package lucid.formats.document;

import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import lucid.core.fleet.HostName;
import lucid.core.update.UpdateId;

/**
 * A document that was read.
 *
 * @param problems parts of it that were left out
 */
public record ReadDocument(Format format, Content content, List<Problem> problems) {

    /** What it is about: the identifier of an update, the name of a host, or how many. */
    public String subject() {
        if (content instanceof Content.OfAdvisories advisories) {
            return one(
                    advisories.advisories().stream()
                            .map(advisory -> advisory.id().value()),
                    advisories.advisories().size(),
                    "updates");
        }
        if (content instanceof Content.OfNotice notice) {
            return notice.notice().id().value();
        }
        if (content instanceof Content.OfInventory inventory) {
            Stream<HostName> names = Stream.concat(
                            inventory.reports().stream().map(r -> r.name()),
                            inventory.events().stream().map(e -> e.host()))
                    .distinct();
            List<String> all = names.map(HostName::value).toList();
            return one(all.stream(), all.size(), "hosts");
        }
        if (content instanceof Content.OfTraits traits) {
            return one(
                    traits.rows().stream().map(row -> row.host().value()),
                    traits.rows().size(),
                    "hosts");
        }
        if (content instanceof Content.OfRepository repository) {
            return repository.files().size() + " files";
        }
        if (content instanceof Content.OfScores scores) {
            return counted(scores.scores().size(), "vulnerability", "vulnerabilities") + " of "
                    + scores.scores().scored();
        }
        if (content instanceof Content.OfExploited exploited) {
            return counted(exploited.listed().size(), "vulnerability", "vulnerabilities");
        }
        if (content instanceof Content.OfStatements statements) {
            return one(
                    statements.statements().stream().map(s -> s.vulnerability()),
                    statements.statements().size(),
                    "statements");
        }
        if (content instanceof Content.OfIssues issues) {
            return one(
                    Stream.concat(
                            issues.issues().stream().map(i -> i.id()),
                            issues.withdrawn().stream().map(ReadDocument::withdrawal)),
                    issues.issues().size() + issues.withdrawn().size(),
                    "issues");
        }
        if (content instanceof Content.OfReports reports) {
            return one(
                    Stream.concat(
                            reports.reports().stream().map(r -> r.updateId().value()),
                            reports.withdrawn().values().stream().map(id -> withdrawal(id.value()))),
                    reports.reports().size() + reports.withdrawn().size(),
                    "reports");
        }
        return ((Content.OfPopulations) content).ladder().populations().size() + " populations";
    }

    /** The document's own revision; empty where the format has none or it holds many updates. */
    public String revision() {
        if (content instanceof Content.OfAdvisories advisories
                && advisories.advisories().size() == 1) {
            return advisories.advisories().get(0).revision();
        }
        return content instanceof Content.OfNotice notice ? notice.notice().revision() : "";
    }

    /** The one update that it is about, if it is about one. */
    public Optional<UpdateId> update() {
        Set<UpdateId> updates = new HashSet<>();
        if (content instanceof Content.OfAdvisories advisories) {
            advisories.advisories().forEach(advisory -> updates.add(advisory.id()));
        } else if (content instanceof Content.OfNotice notice) {
            updates.add(notice.notice().id());
        } else if (content instanceof Content.OfIssues issues) {
            issues.issues().forEach(issue -> updates.addAll(issue.updates()));
        } else if (content instanceof Content.OfReports reports) {
            reports.reports().forEach(report -> updates.add(report.updateId()));
            updates.addAll(reports.withdrawn().values());
        }
        return updates.size() == 1 ? updates.stream().findFirst() : Optional.empty();
    }

    private static String withdrawal(String name) {
        return name + ", taken back";
    }

    private static String counted(int count, String one, String many) {
        return count + " " + (count == 1 ? one : many);
    }

    private static String one(Stream<String> names, int count, String many) {
        return count == 1 ? names.findFirst().orElseThrow() : count + " " + many;
    }
}
