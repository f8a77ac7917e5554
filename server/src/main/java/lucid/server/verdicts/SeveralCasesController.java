package lucid.server.verdicts;

import java.security.Principal;
import java.util.HashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import lucid.core.update.UpdateId;
import lucid.server.snapshot.RequestKeys;
import lucid.server.snapshot.Snapshot;
import lucid.server.verdicts.VerdictController.WordedView;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Verdicts on several cases at once: all of them or none. */
@RestController
@RequestMapping("/api/verdicts/several")
class SeveralCasesController {

    private static final int MOST_AT_ONCE = 50;

    private final VerdictService service;
    private final RequestKeys keys;

    SeveralCasesController(VerdictService service, RequestKeys keys) {
        this.service = service;
        this.keys = keys;
    }

    /** @param sentences each on another update */
    record SeveralDraft(List<VerdictDraft> sentences) {

        /** @throws ProblemException 422 if there are none or too many, or two are on one update */
        List<VerdictDraft> read() {
            if (sentences == null || sentences.isEmpty() || sentences.size() > MOST_AT_ONCE) {
                throw ProblemException.badField("sentences", "word 1 to " + MOST_AT_ONCE + " sentences");
            }
            Set<UpdateId> updates = new HashSet<>();
            for (VerdictDraft sentence : sentences) {
                if (sentence == null || sentence.update() == null) {
                    throw ProblemException.badField("sentences", "each names its update");
                }
                if (!updates.add(sentence.update())) {
                    throw ProblemException.badField(
                            "sentences", sentence.update() + " has two; several answers on it are one sentence");
                }
            }
            return sentences;
        }
    }

    /**
     * @param worded what it would do, for each of its populations; empty if it is refused
     * @param refused why it cannot be handed down
     */
    record OnCase(UpdateId update, List<WordedView> worded, Optional<RefusedSentence> refused) {}

    record RefusedSentence(String field, String reason) {}

    /** What each would do if nothing but it were handed down; nothing is kept. One that is refused hides no other. */
    @PostMapping("/preview")
    List<OnCase> consequences(@RequestBody SeveralDraft draft, Principal who, Snapshot snapshot) {
        return draft.read().stream()
                .map(sentence -> consequence(sentence, who.getName(), snapshot))
                .toList();
    }

    private OnCase consequence(VerdictDraft sentence, String author, Snapshot snapshot) {
        try {
            return new OnCase(
                    sentence.update(),
                    service.consequences(snapshot, sentence, author).stream()
                            .map(worded -> VerdictController.view(worded, snapshot))
                            .toList(),
                    Optional.empty());
        } catch (ProblemException e) {
            return new OnCase(
                    sentence.update(), List.of(), Optional.of(new RefusedSentence(e.field(), e.getMessage())));
        }
    }

    @PostMapping
    @ResponseStatus(HttpStatus.CREATED)
    VerdictService.Committed handDown(
            @RequestBody SeveralDraft draft,
            @RequestHeader(name = HttpHeaders.IF_MATCH, required = false) String ifMatch,
            @RequestHeader(name = "Idempotency-Key", required = false) String key,
            Principal who) {
        return service.handDown(draft.read(), ifMatch, keys.of(key, who, "several verdicts", draft), who);
    }
}
