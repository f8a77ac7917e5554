package lucid.server.evidence;

import java.security.Principal;
import java.time.LocalDate;
import java.util.Optional;
import lucid.core.evidence.CaseNote;
import lucid.core.fleet.HostName;
import lucid.core.update.UpdateId;
import lucid.server.access.Caller;
import lucid.server.snapshot.RequestKeys;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** What people say for or against updates. */
@RestController
@RequestMapping("/api")
class EvidenceController {

    private final EvidenceService service;
    private final CaseNotes notes;
    private final RequestKeys keys;

    EvidenceController(EvidenceService service, CaseNotes notes, RequestKeys keys) {
        this.service = service;
        this.notes = notes;
        this.keys = keys;
    }

    /** Tells a failure; the hosts that are named count as failed. */
    @PostMapping("/failure-reports")
    @ResponseStatus(HttpStatus.CREATED)
    EvidenceService.ReportTaken report(
            @RequestBody EvidenceService.ReportDraft draft,
            @RequestHeader(name = "Idempotency-Key", required = false) String key,
            @AuthenticationPrincipal Caller.Person who) {
        return service.report(draft, keys.of(key, who, "failure report", draft), who);
    }

    /** Takes back a failure that was told by mistake. */
    @DeleteMapping("/failure-reports")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void takeBackReport(@RequestParam String id, @AuthenticationPrincipal Caller.Person who) {
        service.takeBackReport(id, who);
    }

    /** Tells a known issue, or what has become of one. */
    @PostMapping("/known-issues")
    @ResponseStatus(HttpStatus.CREATED)
    EvidenceService.ReportedIssue issue(
            @RequestBody EvidenceService.IssueDraft draft,
            @RequestHeader(name = HttpHeaders.IF_MATCH, required = false) String ifMatch,
            @RequestHeader(name = "Idempotency-Key", required = false) String key,
            @AuthenticationPrincipal Caller who) {
        return service.issue(draft, ifMatch, keys.of(key, who, "known issue", draft), who);
    }

    /** Takes back an issue that was told by mistake; of one that is over it is told that it is fixed. */
    @DeleteMapping("/known-issues")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void takeBackIssue(@RequestParam String id, @AuthenticationPrincipal Caller who) {
        service.takeBackIssue(id, who);
    }

    /** @param where hosts that are not affected, as a condition */
    record NoteDraft(UpdateId update, String where, String reason) {}

    /** Notes that some hosts are not affected by what an update closes. */
    @PostMapping("/not-affected-notes")
    @ResponseStatus(HttpStatus.CREATED)
    EvidenceService.Numbered note(
            @RequestBody NoteDraft draft,
            @RequestHeader(name = HttpHeaders.IF_MATCH, required = false) String ifMatch,
            @RequestHeader(name = "Idempotency-Key", required = false) String key,
            Principal who) {
        return service.note(
                draft.update(),
                Optional.ofNullable(draft.where()).orElse(""),
                draft.reason(),
                ifMatch,
                keys.of(key, who, "note", draft),
                who);
    }

    /**
     * @param words what to tell whoever looks at the case next
     * @param assignee name of somebody with an account who sees to it
     * @param lookAgain the day on which it is looked at again, today or later
     */
    record CaseNoteDraft(UpdateId update, String words, Optional<String> assignee, Optional<LocalDate> lookAgain) {}

    /** Writes a note on the case of an update. */
    @PostMapping("/case-notes")
    @ResponseStatus(HttpStatus.CREATED)
    EvidenceService.Numbered caseNote(
            @RequestBody CaseNoteDraft draft,
            @RequestHeader(name = "Idempotency-Key", required = false) String key,
            @AuthenticationPrincipal Caller who) {
        return notes.write(
                draft.update(),
                draft.words(),
                new CaseNote.FollowUp(draft.assignee().filter(name -> !name.isBlank()), draft.lookAgain()),
                keys.of(key, who, "note on a case", draft),
                who);
    }

    record DismissedFailureDraft(UpdateId update, HostName host, String reason) {}

    /** Dismisses a failure: it was not by this update. */
    @PostMapping("/dismissed-failures")
    @ResponseStatus(HttpStatus.CREATED)
    EvidenceService.Numbered dismissFailure(
            @RequestBody DismissedFailureDraft draft,
            @RequestHeader(name = HttpHeaders.IF_MATCH, required = false) String ifMatch,
            @RequestHeader(name = "Idempotency-Key", required = false) String key,
            Principal who) {
        return service.dismissFailure(
                draft.update(),
                Optional.ofNullable(draft.host()).orElseGet(() -> new HostName("")),
                draft.reason(),
                ifMatch,
                keys.of(key, who, "dismissed failure", draft),
                who);
    }
}
