package lucid.server.evidence;

import java.nio.charset.StandardCharsets;
import java.security.Principal;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
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
import lucid.core.evidence.DoesNotMatter;
import lucid.core.evidence.FailureReport;
import lucid.core.evidence.KnownIssue;
import lucid.core.evidence.Strike;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.Predicate;
import lucid.core.weighing.Weights;
import lucid.formats.Documents;
import lucid.formats.Problem;
import lucid.formats.ReadingHints;
import lucid.formats.RefusedDocumentException;
import lucid.server.access.Caller;
import lucid.server.access.Role;
import lucid.server.intake.IntakeService;
import lucid.server.record.RecordEntry;
import lucid.server.state.Picture;
import lucid.server.state.State;
import lucid.server.views.Narrowings;
import lucid.server.web.ETags;
import lucid.server.web.Digests;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Service;
import tools.jackson.databind.json.JsonMapper;

/**
 * Evidence that people bring from the screen. An issue and a failure report are written as documents of our own formats and taken in like those that come as
 * files; a note and a strike are decisions.
 */
@Service
class EvidenceService {

    private final State state;
    private final IntakeService intake;
    private final EvidenceMapper mapper;
    private final StoredWeights storedWeights;
    private final JsonMapper json;
    private final Clock clock;

    EvidenceService(State state, IntakeService intake, EvidenceMapper mapper, StoredWeights storedWeights, JsonMapper json, Clock clock) {
        this.state = state;
        this.intake = intake;
        this.mapper = mapper;
        this.storedWeights = storedWeights;
        this.json = json;
        this.clock = clock;
    }

    /**
     * A failure that somebody tells.
     *
     * @param hosts names as they were pasted: separated by blanks, commas, semicolons or line ends, in any case, with or without a domain
     * @param others how many hosts it tells of beside those named
     * @param where traits of those others, as a predicate
     * @param source another site that tells it; none: who is signed in
     */
    record ReportDraft(String update, Optional<String> code, Optional<FailureClass> failureClass, Optional<String> words, Optional<String> hosts, Optional<Integer> others, Optional<String> where,
            Optional<String> source) {}

    /** @param unknown pasted names that no host has; they were left out */
    record ReportTaken(String id, List<String> hosts, List<String> unknown) {}

    /** @throws ProblemException 400 naming the field, if it tells of no host that is known and of no others */
    ReportTaken report(ReportDraft draft, Caller.Person who) {
        Picture picture = state.picture();
        picture.update(draft.update());
        Pasted pasted = Pasted.of(draft.hosts().orElse(""), picture.fleet());
        int others = draft.others().orElse(0);
        if (pasted.hosts().isEmpty() && others <= 0) {
            throw ProblemException.badField("hosts", pasted.unknown().isEmpty() ? "paste host names, or tell how many hosts it is about"
                    : "no host is called " + String.join(", ", pasted.unknown().subList(0, Math.min(5, pasted.unknown().size()))));
        }
        draft.where().filter(text -> !text.isBlank()).ifPresent(text -> Narrowings.read("where", text, picture.fleet()));
        Map<String, Object> report = new LinkedHashMap<>();
        String id = UUID.randomUUID().toString();
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
        take("failure report on " + draft.update(), Map.of("format", "failure-reports-1", "source", source, "reports", List.of(report)), who);
        return new ReportTaken(source + "/" + id, pasted.hosts(), pasted.unknown());
    }

    /** The desk tells what it heard itself, and answers for it; an analyst also passes on what another site told, under that site's name. */
    private static String source(ReportDraft draft, Caller.Person who) {
        Optional<String> told = filled(draft.source()).filter(source -> !source.equals(who.getName()));
        if (told.isPresent() && who.role() == Role.DESK) {
            throw ProblemException.badField("source", "what the desk reports bears the name of who is signed in");
        }
        return told.orElse(who.getName());
    }

    /** @throws ProblemException 403 if somebody of the desk takes back what another told */
    void takeBackReport(String id, Caller.Person who) {
        FailureReport report = Optional.ofNullable(state.picture().evidence().reports().get(id)).orElseThrow(() -> ProblemException.notFound("there is no report " + id));
        if (who.role() == Role.DESK && !report.source().equals(who.getName())) {
            throw new ProblemException(HttpStatus.FORBIDDEN, "id", "this report was told by " + report.source() + "; only who told it, or an analyst, takes it back");
        }
        Map<String, Object> withdrawn = Map.of("id", id.substring(report.source().length() + 1), "update", report.updateId(), "withdrawn", true);
        take("failure report on " + report.updateId() + ", taken back", Map.of("format", "failure-reports-1", "source", report.source(), "reports", List.of(withdrawn)), who);
    }

    private static Optional<String> filled(Optional<String> text) {
        return text.map(String::strip).filter(t -> !t.isEmpty());
    }

    /** Names that were pasted, found among the hosts. */
    record Pasted(List<String> hosts, List<String> unknown) {
        static Pasted of(String text, Fleet fleet) {
            Map<String, String> byLowerCase = fleet.hosts(fleet.all()).map(Host::name).collect(Collectors.toMap(name -> name.toLowerCase(Locale.ROOT), name -> name, (a, b) -> a));
            Set<String> hosts = new LinkedHashSet<>();
            Set<String> unknown = new LinkedHashSet<>();
            Stream.of(text.split("[\\s,;]+")).filter(name -> !name.isEmpty()).forEach(name -> {
                String lower = name.toLowerCase(Locale.ROOT);
                Optional<String> found = Optional.ofNullable(byLowerCase.get(lower)).or(() -> Optional.ofNullable(byLowerCase.get(lower.split("\\.")[0])));
                found.ifPresentOrElse(hosts::add, () -> unknown.add(name));
            });
            return new Pasted(List.copyOf(hosts), List.copyOf(unknown));
        }
    }

    /**
     * @param id of an issue that is known and now told anew; none: a new one
     * @param where which hosts it touches, as a predicate; none: nobody can tell
     */
    record IssueDraft(Optional<String> id, List<String> updates, List<String> fixedBy, String words, KnownIssue.State state, Optional<FailureClass> failureClass, Optional<String> where) {}

    String issue(IssueDraft draft, Caller who) {
        Picture picture = state.picture();
        if (draft.updates() == null || draft.updates().isEmpty()) {
            throw ProblemException.badField("updates", "name the updates that have it");
        }
        draft.updates().forEach(picture::update);
        if (draft.words() == null || draft.words().isBlank()) {
            throw ProblemException.badField("words", "say what is wrong");
        }
        if (draft.state() == null) {
            throw ProblemException.badField("state", "say whether it is open, worked around or fixed");
        }
        filled(draft.where()).ifPresent(text -> Narrowings.read("where", text, picture.fleet()));
        Optional<KnownIssue> known = draft.id().map(id -> Optional.ofNullable(picture.evidence().issues().get(id)).orElseThrow(() -> ProblemException.notFound("there is no issue " + id)));
        String id = known.map(KnownIssue::id).orElseGet(() -> nextIssue(picture));
        Map<String, Object> issue = new LinkedHashMap<>();
        issue.put("id", id);
        issue.put("updates", draft.updates());
        issue.put("fixedBy", Optional.ofNullable(draft.fixedBy()).orElse(List.of()));
        issue.put("text", draft.words().strip());
        issue.put("state", draft.state().name().toLowerCase(Locale.ROOT).replace('_', ' '));
        draft.failureClass().ifPresent(c -> issue.put("class", c.name().toLowerCase(Locale.ROOT)));
        filled(draft.where()).ifPresent(where -> issue.put("hosts", where));
        issue.put("at", clock.instant().toString());
        take("known issue " + id, Map.of("format", "known-issues-1", "source", known.map(KnownIssue::source).orElse(who.getName()), "issues", List.of(issue)), who);
        return id;
    }

    void takeBackIssue(String id, Caller who) {
        KnownIssue issue = Optional.ofNullable(state.picture().evidence().issues().get(id)).orElseThrow(() -> ProblemException.notFound("there is no issue " + id));
        Map<String, Object> withdrawn = Map.of("id", id, "updates", issue.updates(), "text", issue.words(), "state", "fixed", "withdrawn", true);
        take("known issue " + id + ", taken back", Map.of("format", "known-issues-1", "source", issue.source(), "issues", List.of(withdrawn)), who);
    }

    private static String nextIssue(Picture picture) {
        int number = 1;
        while (picture.evidence().issues().containsKey("KI-" + number)) {
            number++;
        }
        return "KI-" + number;
    }

    /** @throws ProblemException 422 naming the field; then nothing is left on Intake either */
    private void take(String name, Map<String, Object> document, Caller who) {
        byte[] content = json.writerWithDefaultPrettyPrinter().writeValueAsString(document).getBytes(StandardCharsets.UTF_8);
        try {
            Documents.read(content, ReadingHints.none(clock.instant()));
        } catch (RefusedDocumentException e) {
            Problem first = e.problems().get(0);
            throw ProblemException.badField(first.place().substring(first.place().lastIndexOf('/') + 1), first.reason());
        }
        intake.take(new IntakeService.Incoming(name, content, Optional.empty(), Optional.empty(), Map.of()), who, Optional.empty());
    }

    DoesNotMatter note(String updateId, String where, String reason, Principal who) {
        String why = requireReason(reason);
        return state.write(picture -> {
            picture.update(updateId);
            Predicate hosts = Narrowings.read("where", where, picture.fleet());
            long number = picture.evidence().notes().stream().mapToLong(DoesNotMatter::number).max().orElse(0) + 1;
            DoesNotMatter note = new DoesNotMatter(number, updateId, hosts, why, who.getName(), clock.instant(), picture.fleet().matching(hosts, picture.fleet().all()), Optional.empty());
            mapper.addNote(EvidenceMapper.NoteRow.of(note));
            state.record(RecordEntry.Kind.EVIDENCE, updateId, who, "Noted that " + updateId + " does not matter where " + hosts + ": " + why + ".");
            return new State.Written<>(picture.with(picture.evidence().with(note)), note);
        });
    }

    void takeBackNote(long number, Principal who) {
        state.write(picture -> {
            Instant now = clock.instant();
            DoesNotMatter note = picture.evidence().notes().stream().filter(n -> n.number() == number).findFirst().orElseThrow(() -> ProblemException.notFound("there is no note " + number));
            requireTaken(mapper.takeBackNote(number, now), "this note was taken back before");
            state.record(RecordEntry.Kind.TAKEN_BACK, note.updateId(), who, "Took back that " + note.updateId() + " does not matter where " + note.hosts() + ".");
            return new State.Written<>(picture.with(picture.evidence().with(note.takenBackAt(now))), true);
        });
    }

    Strike strike(String updateId, String host, String reason, Principal who) {
        String why = requireReason(reason);
        return state.write(picture -> {
            picture.update(updateId);
            picture.fleet().host(host).orElseThrow(() -> ProblemException.badField("host", "there is no host " + host));
            if (picture.evidence().strikesOn(updateId).stream().anyMatch(s -> s.stands() && s.host().equals(host))) {
                throw new ProblemException(HttpStatus.CONFLICT, "host", "the failure of " + host + " is struck already");
            }
            long number = picture.evidence().strikes().stream().mapToLong(Strike::number).max().orElse(0) + 1;
            Strike strike = new Strike(number, updateId, host, why, who.getName(), clock.instant(), Optional.empty());
            mapper.addStrike(strike);
            state.record(RecordEntry.Kind.EVIDENCE, updateId, who, "Struck the failure of " + host + ", not by " + updateId + ": " + why + ".");
            return new State.Written<>(picture.with(picture.evidence().with(strike)), strike);
        });
    }

    void takeBackStrike(long number, Principal who) {
        state.write(picture -> {
            Instant now = clock.instant();
            Strike strike = picture.evidence().strikes().stream().filter(s -> s.number() == number).findFirst().orElseThrow(() -> ProblemException.notFound("there is no strike " + number));
            requireTaken(mapper.takeBackStrike(number, now), "this strike was taken back before");
            state.record(RecordEntry.Kind.TAKEN_BACK, strike.updateId(), who, "Took back that the failure of " + strike.host() + " is not by " + strike.updateId() + ".");
            return new State.Written<>(picture.with(picture.evidence().with(strike.takenBackAt(now))), true);
        });
    }

    private static String requireReason(String reason) {
        return ProblemException.requireLine("reason", reason, 2000, "say why, in at most 2,000 characters");
    }

    private static void requireTaken(int rows, String otherwise) {
        if (rows == 0) {
            throw new ProblemException(HttpStatus.CONFLICT, "number", otherwise);
        }
    }

    static String version(Weights weights) {
        return ETags.of(Digests.sha256(weights.toString()).substring(0, 16));
    }

    /** @param ifMatch version of the weights that were changed, or null */
    Weights weigh(Weights weights, String ifMatch, Principal who) {
        return state.write(picture -> {
            ETags.require(ifMatch, version(picture.weights()), "somebody else changed the weights meanwhile; look at them again before you save");
            Instant now = clock.instant();
            storedWeights.keep(weights, who.getName(), now);
            List<String> changes = new ArrayList<>(WeightsView.differences(picture.weights(), weights));
            state.record(RecordEntry.Kind.WEIGHTS, "", who, "Weights: " + (changes.isEmpty() ? "saved as they were" : String.join(", ", changes)) + ".");
            return new State.Written<>(picture.with(weights), weights);
        });
    }
}
