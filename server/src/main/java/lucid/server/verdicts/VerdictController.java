package lucid.server.verdicts;

import java.security.Principal;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.server.decisions.Revocable;
import lucid.server.decisions.Undo;
import lucid.server.snapshot.RequestKey;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.views.ConsequenceView;
import lucid.server.views.Views.RulingGroupView;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;
import tools.jackson.databind.json.JsonMapper;

/** Verdicts and answers. */
@RestController
@RequestMapping("/api")
class VerdictController {

    private static final int MOST_AT_ONCE = 1_000;

    private final VerdictService service;
    private final SnapshotStore store;
    private final JsonMapper json;

    VerdictController(VerdictService service, SnapshotStore store, JsonMapper json) {
        this.service = service;
        this.store = store;
        this.json = json;
    }

    /**
     * @param where the narrowing as it was read, in canonical form
     * @param broughtForward of a deferral: hosts to which the rule would offer it only after the end of the deferral, or never
     */
    record WordedView(String population, String populationName, Optional<String> where, Instant end, ConsequenceView consequence, List<RulingGroupView> broughtForward) {}

    /** What a verdict would do, for each of its populations; nothing is kept. */
    @PostMapping("/verdicts/preview")
    List<WordedView> consequences(@RequestBody VerdictDraft draft, Principal who) {
        Snapshot snapshot = store.snapshot();
        return service.consequences(snapshot, draft, who).stream().map(worded -> view(worded, snapshot)).toList();
    }

    private static WordedView view(VerdictService.Worded worded, Snapshot snapshot) {
        return new WordedView(worded.population().id(), worded.population().name(), worded.verdict().narrowing().map(Object::toString), worded.verdict().end(),
                ConsequenceView.of(worded.consequence(), snapshot.fleet(), snapshot.decisions()), broughtForward(worded, snapshot));
    }

    /** Whoever lets it go now knows that it begins earlier. */
    private static List<RulingGroupView> broughtForward(VerdictService.Worded worded, Snapshot snapshot) {
        Verdict verdict = worded.verdict();
        return verdict.type() != VerdictType.DEFER || verdict.isLetGo() ? List.of()
                : worded.consequence().offeredBeforeTheRule(verdict.end()).stream().map(group -> RulingGroupView.of(group, snapshot.fleet(), snapshot.decisions())).toList();
    }

    @PostMapping("/verdicts")
    @ResponseStatus(HttpStatus.CREATED)
    VerdictService.Committed handDown(@RequestBody VerdictDraft draft, @RequestHeader(name = HttpHeaders.IF_MATCH, required = false) String ifMatch,
            @RequestHeader(name = "Idempotency-Key", required = false) String key, Principal who) {
        return service.handDown(draft, ifMatch, RequestKey.of(Optional.ofNullable(key), who, "verdict", json.writeValueAsBytes(draft)), who);
    }

    /** @param populations for which they are left to it; none: all that have hosts which lack it */
    record ToTheRule(List<String> updates, Optional<List<String>> populations) {}

    record GivenAnswer(long number, String update) {}

    /** @param undo address to which a DELETE takes all of them back */
    record GivenAnswers(List<GivenAnswer> acknowledgements, String undo) {}

    /** Leaves one or many updates to their standing rules: all of them or none. */
    @PostMapping("/acknowledgements")
    @ResponseStatus(HttpStatus.CREATED)
    GivenAnswers leaveToTheRule(@RequestBody ToTheRule request, @RequestHeader(name = HttpHeaders.IF_MATCH, required = false) String ifMatch, Principal who) {
        if (request.updates() == null || request.updates().isEmpty() || request.updates().size() > MOST_AT_ONCE) {
            throw ProblemException.badField("updates", "name 1 to " + MOST_AT_ONCE + " updates");
        }
        List<String> populations = request.populations() == null ? List.of() : request.populations().orElse(List.of());
        List<GivenAnswer> given = service.leaveToTheRule(request.updates(), populations, ifMatch, who).stream().map(a -> new GivenAnswer(a.number(), a.updateId())).toList();
        return new GivenAnswers(given, Undo.of(Revocable.Kind.ACKNOWLEDGEMENT, given.stream().map(GivenAnswer::number).toList()));
    }
}
