package lucid.server.evidence;

import java.nio.charset.StandardCharsets;
import java.security.Principal;
import java.time.Clock;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.UUID;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import lucid.core.evidence.DismissedFailure;
import lucid.core.evidence.FailureReport;
import lucid.core.evidence.KnownIssue;
import lucid.core.evidence.NotAffectedNote;
import lucid.core.evidence.TriedHosts;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostCondition;
import lucid.core.fleet.HostName;
import lucid.core.update.UpdateId;
import lucid.formats.document.Problem;
import lucid.formats.document.RefusedDocumentException;
import lucid.server.access.Caller;
import lucid.server.access.Role;
import lucid.server.audit.AuditEntry;
import lucid.server.decisions.Revocable;
import lucid.server.decisions.Undo;
import lucid.server.intake.Incoming;
import lucid.server.intake.IntakeService;
import lucid.server.snapshot.RequestKey;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.views.CaseVersions;
import lucid.server.views.ConditionParser;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Service;
import tools.jackson.databind.json.JsonMapper;

/**
 * Evidence that people bring from the screen. An issue and a failure report are written as documents of our own formats
 * and taken in like those that come as files; a note and a dismissed failure are decisions.
 */
@Service
class EvidenceService {

    private final SnapshotStore store;
    private final IntakeService intake;
    private final EvidenceMapper mapper;
    private final JsonMapper json;
    private final Clock clock;

    EvidenceService(SnapshotStore store, IntakeService intake, EvidenceMapper mapper, JsonMapper json, Clock clock) {
        this.store = store;
        this.intake = intake;
        this.mapper = mapper;
        this.json = json;
        this.clock = clock;
    }

    /**
     * A failure that somebody tells.
     *
     * @param hosts names as they were pasted: separated by blanks, commas, semicolons or line ends, in any case, with
     *     or without a domain
     * @param others how many hosts it tells of beside those named
     * @param where traits of those others, as a condition
     * @param source another site that tells it; none: who is signed in
     */
    record ReportDraft(
            UpdateId update,
            Optional<String> code,
            Optional<FailureClass> failureClass,
            Optional<String> words,
            Optional<String> hosts,
            Optional<Integer> others,
            Optional<String> where,
            Optional<String> source) {}

    /**
     * @param unknown pasted names that no host has; they were left out
     * @param undo address to which a DELETE takes it back
     */
    record ReportTaken(String id, List<HostName> hosts, List<String> unknown, String undo) {}

    /** @throws ProblemException 400 naming the field, if it tells of no host that is known and of no others */
    ReportTaken report(ReportDraft draft, Optional<RequestKey> request, Caller.Person who) {
        Snapshot seen = store.snapshot();
        seen.update(draft.update());
        Pasted pasted = Pasted.of(draft.hosts().orElse(""), seen.fleet());
        int others = draft.others().orElse(0);
        if (pasted.hosts().isEmpty() && others <= 0) {
            throw ProblemException.badField(
                    "hosts",
                    pasted.unknown().isEmpty()
                            ? "paste host names, or tell how many hosts it is about"
                            : "no host is called "
                                    + String.join(
                                            ", ",
                                            pasted.unknown()
                                                    .subList(
                                                            0,
                                                            Math.min(
                                                                    5,
                                                                    pasted.unknown()
                                                                            .size()))));
        }
        draft.where()
                .filter(text -> !text.isBlank())
                .ifPresent(text -> ConditionParser.read("where", text, seen.fleet()));
        String id = UUID.randomUUID().toString();
        Map<String, Object> report = new LinkedHashMap<>();
        report.put("id", id);
        report.put("update", draft.update());
        filled(draft.code()).ifPresent(code -> report.put("code", code));
        draft.failureClass().ifPresent(c -> report.put("class", c.name().toLowerCase(Locale.ROOT)));
        filled(draft.words()).ifPresent(words -> report.put("text", words));
        report.put("hosts", pasted.hosts());
        report.put("others", others);
        filled(draft.where()).ifPresent(where -> report.put("where", where));
        report.put("at", clock.instant().toString());
        String source = source(draft, who);
        ReportTaken taken = new ReportTaken(
                source + "/" + id,
                pasted.hosts(),
                pasted.unknown(),
                Undo.of("/api/failure-reports", source + "/" + id));
        return store.writeOnce(
                request,
                0,
                ReportTaken.class,
                snapshot -> new SnapshotStore.Change<>(
                        with(
                                snapshot,
                                "failure report on " + draft.update(),
                                Map.of("format", "failure-reports-1", "source", source, "reports", List.of(report)),
                                who),
                        taken));
    }

    /**
     * The desk tells what it heard itself, and answers for it; an analyst also passes on what another site told, under
     * that site's name.
     */
    private static String source(ReportDraft draft, Caller.Person who) {
        Optional<String> told = filled(draft.source()).filter(source -> !source.equals(who.getName()));
        if (told.isPresent() && who.role() == Role.DESK) {
            throw ProblemException.badField("source", "what the desk reports bears the name of who is signed in");
        }
        return told.orElse(who.getName());
    }

    /** @throws ProblemException 403 if somebody of the desk takes back what another told */
    void takeBackReport(String id, Caller.Person who) {
        store.write(snapshot -> {
            FailureReport report = Optional.ofNullable(
                            snapshot.evidence().reports().get(id))
                    .orElseThrow(() -> ProblemException.notFound("there is no report " + id));
            if (who.role() == Role.DESK && !report.source().equals(who.getName())) {
                throw new ProblemException(
                        HttpStatus.FORBIDDEN,
                        "id",
                        "this report was told by " + report.source()
                                + "; only who told it, or an analyst, takes it back");
            }
            Map<String, Object> withdrawn = Map.of(
                    "id", id.substring(report.source().length() + 1), "update", report.updateId(), "withdrawn", true);
            return new SnapshotStore.Change<>(
                    with(
                            snapshot,
                            "failure report on " + report.updateId() + ", taken back",
                            Map.of(
                                    "format",
                                    "failure-reports-1",
                                    "source",
                                    report.source(),
                                    "reports",
                                    List.of(withdrawn)),
                            who),
                    true);
        });
    }

    private static Optional<String> filled(Optional<String> text) {
        return text.map(String::strip).filter(t -> !t.isEmpty());
    }

    /** Names that were pasted, found among the hosts. */
    record Pasted(List<HostName> hosts, List<String> unknown) {
        static Pasted of(String text, Fleet fleet) {
            Map<String, HostName> byLowerCase = fleet.hosts(fleet.all())
                    .map(Host::name)
                    .collect(
                            Collectors.toMap(name -> name.value().toLowerCase(Locale.ROOT), name -> name, (a, b) -> a));
            Set<HostName> hosts = new LinkedHashSet<>();
            Set<String> unknown = new LinkedHashSet<>();
            Stream.of(text.split("[\\s,;]+")).filter(name -> !name.isEmpty()).forEach(name -> {
                String lower = name.toLowerCase(Locale.ROOT);
                Optional<HostName> found = Optional.ofNullable(byLowerCase.get(lower))
                        .or(() -> Optional.ofNullable(byLowerCase.get(lower.split("\\.")[0])));
                found.ifPresentOrElse(hosts::add, () -> unknown.add(name));
            });
            return new Pasted(List.copyOf(hosts), List.copyOf(unknown));
        }
    }

    /**
     * @param id of an issue that is known and now told anew; none: a new one
     * @param where which hosts it touches, as a condition; none: nobody can tell
     */
    record IssueDraft(
            Optional<String> id,
            List<UpdateId> updates,
            List<UpdateId> fixedBy,
            String words,
            KnownIssue.State state,
            Optional<FailureClass> failureClass,
            Optional<String> where) {}

    /**
     * @param undo address to which a DELETE takes it back; none for an issue that was told anew, which is told as it
     *     was
     */
    record ReportedIssue(String id, Optional<String> undo) {}

    /** @param ifMatch version of the case of one of its updates, as it was seen */
    ReportedIssue issue(IssueDraft draft, String ifMatch, Optional<RequestKey> request, Caller who) {
        if (draft.updates() == null || draft.updates().isEmpty()) {
            throw ProblemException.badField("updates", "name the updates that have it");
        }
        if (draft.words() == null || draft.words().isBlank()) {
            throw ProblemException.badField("words", "say what is wrong");
        }
        if (draft.state() == null) {
            throw ProblemException.badField("state", "say whether it is open, worked around or fixed");
        }
        return store.writeOnce(request, 0, ReportedIssue.class, snapshot -> {
            CaseVersions.requireOne(
                    ifMatch,
                    snapshot,
                    draft.updates().stream().map(snapshot::update).toList());
            filled(draft.where()).ifPresent(text -> ConditionParser.read("where", text, snapshot.fleet()));
            Optional<KnownIssue> known = draft.id()
                    .map(id -> Optional.ofNullable(snapshot.evidence().issues().get(id))
                            .orElseThrow(() -> ProblemException.notFound("there is no issue " + id)));
            String id = known.map(KnownIssue::id).orElseGet(() -> nextIssue(snapshot));
            Map<String, Object> issue = new LinkedHashMap<>();
            issue.put("id", id);
            issue.put("updates", draft.updates());
            issue.put("fixedBy", Optional.ofNullable(draft.fixedBy()).orElse(List.of()));
            issue.put("text", draft.words().strip());
            issue.put("state", draft.state().name().toLowerCase(Locale.ROOT).replace('_', ' '));
            draft.failureClass().ifPresent(c -> issue.put("class", c.name().toLowerCase(Locale.ROOT)));
            filled(draft.where()).ifPresent(where -> issue.put("hosts", where));
            issue.put("at", clock.instant().toString());
            Map<String, Object> document = Map.of(
                    "format",
                    "known-issues-1",
                    "source",
                    known.map(KnownIssue::source).orElse(who.getName()),
                    "issues",
                    List.of(issue));
            return new SnapshotStore.Change<>(
                    with(snapshot, "known issue " + id, document, who),
                    new ReportedIssue(
                            id, known.isPresent() ? Optional.empty() : Optional.of(Undo.of("/api/known-issues", id))));
        });
    }

    void takeBackIssue(String id, Caller who) {
        store.write(snapshot -> {
            KnownIssue issue = Optional.ofNullable(snapshot.evidence().issues().get(id))
                    .orElseThrow(() -> ProblemException.notFound("there is no issue " + id));
            Map<String, Object> withdrawn = Map.of(
                    "id", id, "updates", issue.updates(), "text", issue.words(), "state", "fixed", "withdrawn", true);
            return new SnapshotStore.Change<>(
                    with(
                            snapshot,
                            "known issue " + id + ", taken back",
                            Map.of("format", "known-issues-1", "source", issue.source(), "issues", List.of(withdrawn)),
                            who),
                    true);
        });
    }

    private static String nextIssue(Snapshot snapshot) {
        int number = 1;
        while (snapshot.evidence().issues().containsKey("KI-" + number)) {
            number++;
        }
        return "KI-" + number;
    }

    /**
     * The snapshot with a document that is written here, and kept as any other that comes in.
     *
     * @throws ProblemException 422 naming the field; then nothing is left on Intake either
     */
    private Snapshot with(Snapshot snapshot, String name, Map<String, Object> document, Caller who) {
        byte[] content = json.writerWithDefaultPrettyPrinter()
                .writeValueAsString(document)
                .getBytes(StandardCharsets.UTF_8);
        try {
            return intake.within(
                            snapshot, new Incoming(name, content, Optional.empty(), Optional.empty(), Map.of()), who)
                    .next();
        } catch (RefusedDocumentException e) {
            Problem first = e.problems().get(0);
            throw ProblemException.badField(
                    first.place().substring(first.place().lastIndexOf('/') + 1), first.reason());
        }
    }

    /** @param undo address to which a DELETE takes it back */
    record Numbered(long number, String undo) {
        static Numbered of(Revocable.Kind kind, long number) {
            return new Numbered(number, Undo.of(kind, List.of(number)));
        }
    }

    Numbered note(
            UpdateId updateId,
            String where,
            String reason,
            String ifMatch,
            Optional<RequestKey> request,
            Principal who) {
        String why = requireReason(reason);
        return store.writeOnce(request, 0, Numbered.class, snapshot -> {
            CaseVersions.require(ifMatch, snapshot, snapshot.update(updateId));
            HostCondition hosts = ConditionParser.read("where", where, snapshot.fleet());
            long number = snapshot.evidence().notes().stream()
                            .mapToLong(NotAffectedNote::number)
                            .max()
                            .orElse(0)
                    + 1;
            NotAffectedNote note = new NotAffectedNote(
                    number,
                    updateId,
                    hosts,
                    why,
                    who.getName(),
                    clock.instant(),
                    snapshot.fleet().matching(hosts, snapshot.fleet().all()),
                    Optional.empty());
            mapper.addNote(EvidenceMapper.NoteRow.of(note));
            store.record(
                    AuditEntry.Kind.EVIDENCE,
                    updateId.value(),
                    who,
                    "Noted that hosts where " + hosts + " are not affected by what " + updateId + " closes: " + why
                            + ".",
                    Revocable.Kind.NOTE.about(number));
            return new SnapshotStore.Change<>(
                    snapshot.with(snapshot.evidence().with(note)), Numbered.of(Revocable.Kind.NOTE, number));
        });
    }

    Numbered dismissFailure(
            UpdateId updateId,
            HostName host,
            String reason,
            String ifMatch,
            Optional<RequestKey> request,
            Principal who) {
        String why = requireReason(reason);
        return store.writeOnce(request, 0, Numbered.class, snapshot -> {
            CaseVersions.require(ifMatch, snapshot, snapshot.update(updateId));
            DismissedFailure.Failure failure = standingFailure(snapshot, updateId, host);
            long number = snapshot.evidence().dismissedFailures().stream()
                            .mapToLong(DismissedFailure::number)
                            .max()
                            .orElse(0)
                    + 1;
            DismissedFailure dismissed = new DismissedFailure(
                    number,
                    updateId,
                    host,
                    Optional.of(failure),
                    why,
                    who.getName(),
                    clock.instant(),
                    Optional.empty());
            mapper.addDismissedFailure(EvidenceMapper.DismissedFailureRow.of(dismissed));
            store.record(
                    AuditEntry.Kind.EVIDENCE,
                    updateId.value(),
                    who,
                    "Dismissed the failure of " + host + " (" + failure.code() + "), not by " + updateId + ": " + why
                            + ".",
                    Revocable.Kind.DISMISSED_FAILURE.about(number));
            return new SnapshotStore.Change<>(
                    snapshot.with(snapshot.evidence().with(dismissed)),
                    Numbered.of(Revocable.Kind.DISMISSED_FAILURE, number));
        });
    }

    /** The failure of a host that counts now: the worst that is not dismissed. */
    private DismissedFailure.Failure standingFailure(Snapshot snapshot, UpdateId updateId, HostName name) {
        Host host = snapshot.fleet()
                .host(name)
                .orElseThrow(() -> ProblemException.badField("host", "there is no host " + name));
        TriedHosts tried = TriedHosts.of(
                snapshot.update(updateId),
                snapshot.carriages().outcomes(),
                snapshot.evidence(),
                snapshot.fleet(),
                clock.instant());
        return tried.tries().stream()
                .filter(one -> one.host() == host.number())
                .flatMap(one -> one.failure().stream())
                .map(one -> new DismissedFailure.Failure(one.code(), one.at()))
                .findFirst()
                .orElseThrow(() -> new ProblemException(
                        HttpStatus.CONFLICT,
                        "host",
                        tried.dismissed().contains(host.number())
                                ? "the failure of " + name + " is dismissed already"
                                : "no failure of " + name + " counts for " + updateId));
    }

    private static String requireReason(String reason) {
        return ProblemException.requireLine("reason", reason, 2000, "say why, in at most 2,000 characters");
    }
}
