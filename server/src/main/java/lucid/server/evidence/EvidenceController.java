package lucid.server.evidence;

import java.security.Principal;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import lucid.core.docket.Docket;
import lucid.core.docket.DocketCase;
import lucid.core.weighing.Suggestion;
import lucid.core.weighing.Weights;
import lucid.server.access.Caller;
import lucid.server.decisions.Revocable;
import lucid.server.decisions.Undo;
import lucid.server.docket.Dockets;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** What people say for or against updates, and by which weights it is weighed. */
@RestController
@RequestMapping("/api")
class EvidenceController {

    private static final int MOST_EFFECTS = 200;

    private final EvidenceService service;
    private final StoredWeights stored;
    private final Dockets dockets;
    private final SnapshotStore store;

    EvidenceController(EvidenceService service, StoredWeights stored, Dockets dockets, SnapshotStore store) {
        this.service = service;
        this.stored = stored;
        this.dockets = dockets;
        this.store = store;
    }

    /** Tells a failure; the hosts that are named count as failed. */
    @PostMapping("/failure-reports")
    @ResponseStatus(HttpStatus.CREATED)
    EvidenceService.ReportTaken report(@RequestBody EvidenceService.ReportDraft draft, @AuthenticationPrincipal Caller.Person who) {
        return service.report(draft, who);
    }

    /** Takes back a failure that was told by mistake. */
    @DeleteMapping("/failure-reports")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void takeBackReport(@RequestParam String id, @AuthenticationPrincipal Caller.Person who) {
        service.takeBackReport(id, who);
    }

    /** @param undo address to which a DELETE takes it back */
    record ReportedIssue(String id, String undo) {}

    /** Tells a known issue, or what has become of one. */
    @PostMapping("/known-issues")
    @ResponseStatus(HttpStatus.CREATED)
    ReportedIssue issue(@RequestBody EvidenceService.IssueDraft draft, @AuthenticationPrincipal Caller who) {
        String id = service.issue(draft, who);
        return new ReportedIssue(id, Undo.of("/api/known-issues", id));
    }

    /** Takes back an issue that was told by mistake; of one that is over it is told that it is fixed. */
    @DeleteMapping("/known-issues")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void takeBackIssue(@RequestParam String id, @AuthenticationPrincipal Caller who) {
        service.takeBackIssue(id, who);
    }

    /** @param where hosts that are not affected, as a condition */
    record NoteDraft(String update, String where, String reason) {}

    /** @param undo address to which a DELETE takes it back */
    record Numbered(long number, String undo) {
        private static Numbered of(Revocable.Kind kind, long number) {
            return new Numbered(number, Undo.of(kind, List.of(number)));
        }
    }

    /** Notes that some hosts are not affected by what an update closes. */
    @PostMapping("/not-affected-notes")
    @ResponseStatus(HttpStatus.CREATED)
    Numbered note(@RequestBody NoteDraft draft, @RequestHeader(name = HttpHeaders.IF_MATCH, required = false) String ifMatch, Principal who) {
        return Numbered.of(Revocable.Kind.NOTE, service.note(draft.update(), Optional.ofNullable(draft.where()).orElse(""), draft.reason(), ifMatch, who).number());
    }

    record DismissedFailureDraft(String update, String host, String reason) {}

    /** Dismisses a failure: it was not by this update. */
    @PostMapping("/dismissed-failures")
    @ResponseStatus(HttpStatus.CREATED)
    Numbered dismissFailure(@RequestBody DismissedFailureDraft draft, @RequestHeader(name = HttpHeaders.IF_MATCH, required = false) String ifMatch, Principal who) {
        return Numbered.of(Revocable.Kind.DISMISSED_FAILURE,
                service.dismissFailure(draft.update(), Optional.ofNullable(draft.host()).orElse(""), draft.reason(), ifMatch, who).number());
    }

    /**
     * @param version what a change of them must name in If-Match
     * @param usual those that a new instance begins with
     * @param since when they were last changed; none: never
     */
    record WeightsPage(String version, Weights weights, Weights usual, Optional<String> author, Optional<Instant> since) {}

    @GetMapping("/weights")
    WeightsPage weights() {
        Weights weights = store.snapshot().weights();
        Optional<EvidenceMapper.WeightsRow> newest = stored.newest();
        return new WeightsPage(EvidenceService.version(weights), weights, Weights.USUAL, newest.map(EvidenceMapper.WeightsRow::author), newest.map(EvidenceMapper.WeightsRow::createdAt));
    }

    /** What the weights of a case are now, and would be. */
    record Effect(String id, String title, int placeBefore, int placeAfter, double tiltBefore, double tiltAfter, Suggestion.Type before, Suggestion.Type after) {}

    /**
     * @param effects cases that need judgement and whose suggestion or place would be another, those with another suggestion first
     * @param suggestions how many suggestions would change
     */
    record WeightsPreview(List<Effect> effects, int suggestions, int moved, List<String> differences) {}

    /** What these weights would do to the present docket; nothing is kept. */
    @PostMapping("/weights/preview")
    WeightsPreview preview(@RequestBody Weights weights) {
        Dockets.Current current = dockets.current();
        Snapshot snapshot = current.snapshot();
        List<DocketCase> before = open(current.docket());
        List<DocketCase> after = open(dockets.otherwise(snapshot.with(weights).facts(), current.docket().at()));
        List<String> places = before.stream().map(c -> c.update().id()).toList();
        List<Effect> effects = IntStream.range(0, after.size()).mapToObj(place -> {
            DocketCase then = after.get(place);
            int was = places.indexOf(then.update().id());
            DocketCase now = was < 0 ? then : before.get(was);
            return new Effect(then.update().id(), then.update().title(), was + 1, place + 1, now.beam().tilt().middle(), then.beam().tilt().middle(), suggestion(now), suggestion(then));
        }).filter(e -> e.before() != e.after() || e.placeBefore() != e.placeAfter())
                .sorted(Comparator.comparing((Effect e) -> e.before() == e.after()))
                .toList();
        return new WeightsPreview(effects.subList(0, Math.min(MOST_EFFECTS, effects.size())), (int) effects.stream().filter(e -> e.before() != e.after()).count(),
                (int) effects.stream().filter(e -> e.placeBefore() != e.placeAfter()).count(), WeightsView.differences(snapshot.weights(), weights));
    }

    private static List<DocketCase> open(Docket docket) {
        return docket.cases().stream().filter(c -> c.needsJudgement() && !Docket.isNoise(c.update())).toList();
    }

    private static Suggestion.Type suggestion(DocketCase c) {
        return c.heaviest().map(of -> of.weighing().suggestion().type()).orElse(Suggestion.Type.NONE);
    }

    @PutMapping("/weights")
    WeightsPage save(@RequestBody Weights weights, @RequestHeader(name = HttpHeaders.IF_MATCH, required = false) String ifMatch, Principal who) {
        if (weights == null) {
            throw ProblemException.badField("weights", "the weights are missing");
        }
        service.weigh(weights, ifMatch, who);
        return weights();
    }
}
