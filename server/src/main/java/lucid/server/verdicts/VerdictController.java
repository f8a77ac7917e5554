package lucid.server.verdicts;

import java.security.Principal;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import lucid.core.ruling.RuleAnswer;
import lucid.server.state.Picture;
import lucid.server.state.RequestKey;
import lucid.server.state.State;
import lucid.server.views.ConsequenceView;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;
import tools.jackson.databind.json.JsonMapper;

/** Verdicts and answers. */
@RestController
@RequestMapping("/api")
class VerdictController {

    private static final int MOST_AT_ONCE = 1_000;

    private final VerdictService service;
    private final State state;
    private final JsonMapper json;

    VerdictController(VerdictService service, State state, JsonMapper json) {
        this.service = service;
        this.state = state;
        this.json = json;
    }

    /** @param where the narrowing as it was read, in canonical form */
    record WordedView(String population, String populationName, Optional<String> where, Instant end, ConsequenceView consequence) {}

    /** What a verdict would do, for each of its populations; nothing is kept. */
    @PostMapping("/verdicts/consequences")
    List<WordedView> consequences(@RequestBody VerdictDraft draft, Principal who) {
        Picture picture = state.picture();
        return service.consequences(picture, draft, who).stream().map(worded -> view(worded, picture)).toList();
    }

    private static WordedView view(VerdictService.Worded worded, Picture picture) {
        return new WordedView(worded.population().id(), worded.population().name(), worded.verdict().narrowing().map(Object::toString), worded.verdict().end(),
                ConsequenceView.of(worded.consequence(), picture.fleet(), picture.decisions()));
    }

    @PostMapping("/verdicts")
    @ResponseStatus(HttpStatus.CREATED)
    List<VerdictService.HandedDown> handDown(@RequestBody VerdictDraft draft, @RequestHeader(name = HttpHeaders.IF_MATCH, required = false) String ifMatch,
            @RequestHeader(name = "Idempotency-Key", required = false) String key, Principal who) {
        return service.handDown(draft, ifMatch, RequestKey.of(Optional.ofNullable(key), who, "verdict", json.writeValueAsBytes(draft)), who);
    }

    @DeleteMapping("/verdicts/{number}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void takeBack(@PathVariable long number, Principal who) {
        service.takeBackVerdicts(List.of(number), who);
    }

    /** Takes several back as one act: all of them, or none. */
    @DeleteMapping("/verdicts")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void takeBack(@RequestParam List<Long> number, Principal who) {
        service.takeBackVerdicts(requireFew(number), who);
    }

    private static List<Long> requireFew(List<Long> numbers) {
        if (numbers.isEmpty() || numbers.size() > MOST_AT_ONCE || numbers.contains(null)) {
            throw ProblemException.badField("number", "1 to " + MOST_AT_ONCE + " numbers are taken back at once");
        }
        return numbers;
    }

    /** @param populations for which they are left to it; none: all that have hosts which lack it */
    record ToTheRule(List<String> updates, Optional<List<String>> populations) {}

    record GivenAnswer(long number, String update) {}

    /** Leaves one or many updates to their standing rules. */
    @PostMapping("/rule-answers")
    @ResponseStatus(HttpStatus.CREATED)
    List<GivenAnswer> leaveToTheRule(@RequestBody ToTheRule request, Principal who) {
        if (request.updates() == null || request.updates().isEmpty()) {
            throw ProblemException.badField("updates", "name at least one update");
        }
        return service.leaveToTheRule(request.updates(), request.populations() == null ? List.of() : request.populations().orElse(List.of()), who).stream().map((RuleAnswer a) -> new GivenAnswer(a.number(), a.updateId())).toList();
    }

    @DeleteMapping("/rule-answers/{number}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void takeBackAnswer(@PathVariable long number, Principal who) {
        service.takeBackAnswers(List.of(number), who);
    }

    /** Takes several back as one act: all of them, or none. */
    @DeleteMapping("/rule-answers")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void takeBackAnswers(@RequestParam List<Long> number, Principal who) {
        service.takeBackAnswers(requireFew(number), who);
    }
}
