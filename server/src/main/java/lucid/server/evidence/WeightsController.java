package lucid.server.evidence;

import java.security.Principal;
import java.time.Clock;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.IntStream;
import lucid.core.docket.Docket;
import lucid.core.docket.DocketCase;
import lucid.core.update.UpdateId;
import lucid.core.weighing.Suggestion;
import lucid.core.weighing.Weights;
import lucid.server.audit.AuditEntry;
import lucid.server.docket.Dockets;
import lucid.server.snapshot.RequestKeys;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.Digests;
import lucid.server.web.ETags;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** By which weights everything is weighed: read, tried on the present docket, saved, and taken back. */
@RestController
@RequestMapping("/api")
class WeightsController {

    private static final int MOST_EFFECTS = 200;

    private final StoredWeights stored;
    private final Dockets dockets;
    private final SnapshotStore store;
    private final RequestKeys keys;
    private final Clock clock;

    WeightsController(StoredWeights stored, Dockets dockets, SnapshotStore store, RequestKeys keys, Clock clock) {
        this.stored = stored;
        this.dockets = dockets;
        this.store = store;
        this.keys = keys;
        this.clock = clock;
    }

    private static String version(Weights weights) {
        return ETags.of(Digests.sha256(weights.toString()).substring(0, 16));
    }

    /**
     * @param version what a change of them must name in If-Match
     * @param usual those that a new instance begins with
     * @param since when they were last changed; none: never
     */
    record WeightsPage(
            String version, Weights weights, Weights usual, Optional<String> author, Optional<Instant> since) {}

    @GetMapping("/weights")
    WeightsPage weights(Snapshot snapshot) {
        Weights weights = snapshot.weights();
        Optional<EvidenceMapper.WeightsRow> newest = stored.newest();
        return new WeightsPage(
                version(weights),
                weights,
                Weights.USUAL,
                newest.map(EvidenceMapper.WeightsRow::author),
                newest.map(EvidenceMapper.WeightsRow::createdAt));
    }

    /** What the weights of a case are now, and would be. */
    record Effect(
            UpdateId id,
            String title,
            int placeBefore,
            int placeAfter,
            double tiltBefore,
            double tiltAfter,
            Suggestion.Type before,
            Suggestion.Type after) {}

    /**
     * @param effects cases that need judgement and whose suggestion or place would be another, those with another
     *     suggestion first
     * @param suggestions how many suggestions would change
     */
    record WeightsPreview(List<Effect> effects, int suggestions, int moved, List<String> differences) {}

    /** What these weights would do to the present docket; nothing is kept. */
    @PostMapping("/weights/preview")
    WeightsPreview preview(@RequestBody Weights weights) {
        Dockets.Current current = dockets.current();
        Snapshot snapshot = current.snapshot();
        List<DocketCase> before = open(current.docket());
        List<DocketCase> after = open(dockets.otherwise(
                snapshot.with(weights).facts(), current.docket().at()));
        List<UpdateId> places = before.stream().map(c -> c.update().id()).toList();
        List<Effect> effects = IntStream.range(0, after.size())
                .mapToObj(place -> {
                    DocketCase then = after.get(place);
                    int was = places.indexOf(then.update().id());
                    DocketCase now = was < 0 ? then : before.get(was);
                    return new Effect(
                            then.update().id(),
                            then.update().title(),
                            was + 1,
                            place + 1,
                            now.beam().tilt().middle(),
                            then.beam().tilt().middle(),
                            suggestion(now),
                            suggestion(then));
                })
                .filter(e -> e.before() != e.after() || e.placeBefore() != e.placeAfter())
                .sorted(Comparator.comparing((Effect e) -> e.before() == e.after()))
                .toList();
        return new WeightsPreview(
                effects.subList(0, Math.min(MOST_EFFECTS, effects.size())),
                (int) effects.stream().filter(e -> e.before() != e.after()).count(),
                (int) effects.stream()
                        .filter(e -> e.placeBefore() != e.placeAfter())
                        .count(),
                WeightsView.differences(snapshot.weights(), weights));
    }

    private static List<DocketCase> open(Docket docket) {
        return docket.cases().stream()
                .filter(c -> c.needsJudgement() && !Docket.isNoise(c.update()))
                .toList();
    }

    private static Suggestion.Type suggestion(DocketCase c) {
        return c.heaviest().map(of -> of.weighing().suggestion().type()).orElse(Suggestion.Type.NONE);
    }

    /** @param undo address to which a DELETE puts those before in their place again */
    record SavedWeights(String version, String undo) {}

    /** Puts weights in the place of the present ones. */
    @PutMapping("/weights")
    SavedWeights save(
            @RequestBody Weights weights,
            @RequestHeader(name = HttpHeaders.IF_MATCH, required = false) String ifMatch,
            @RequestHeader(name = "Idempotency-Key", required = false) String key,
            Principal who) {
        if (weights == null) {
            throw ProblemException.badField("weights", "the weights are missing");
        }
        return store.writeOnce(keys.of(key, who, "weights", weights), 0, SavedWeights.class, snapshot -> {
            ETags.require(
                    ifMatch,
                    version(snapshot.weights()),
                    "somebody else changed the weights meanwhile; look at them again before you save");
            long number = stored.keep(weights, who.getName(), clock.instant());
            List<String> changes = WeightsView.differences(snapshot.weights(), weights);
            store.record(
                    AuditEntry.Kind.WEIGHTS,
                    "",
                    who,
                    "Weights: " + (changes.isEmpty() ? "saved as they were" : String.join(", ", changes)) + ".");
            return new SnapshotStore.Change<>(
                    snapshot.with(weights), new SavedWeights(version(weights), "/api/weights/versions/" + number));
        });
    }

    /** Puts the weights before these in their place again. */
    @DeleteMapping("/weights/versions/{number}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void takeBack(@PathVariable long number, Principal who) {
        store.write(snapshot -> {
            Weights before = stored.before(number)
                    .orElseThrow(() -> new ProblemException(
                            HttpStatus.CONFLICT, "number", "the weights were changed since; nothing was taken back"));
            stored.keep(before, who.getName(), clock.instant());
            store.record(
                    AuditEntry.Kind.WEIGHTS,
                    "",
                    who,
                    "Took back the weights: " + String.join(", ", WeightsView.differences(snapshot.weights(), before))
                            + ".");
            return new SnapshotStore.Change<>(snapshot.with(before), true);
        });
    }
}
