package lucid.server.responsibilities;

import java.time.Clock;
import java.time.Instant;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.server.access.Caller;
import lucid.server.access.KnownPeople;
import lucid.server.access.Role;
import lucid.server.decisions.Revocable;
import lucid.server.decisions.Undo;
import lucid.server.responsibilities.Responsibility.HandedOver;
import lucid.server.responsibilities.Responsibility.Held;
import lucid.server.snapshot.RequestKeys;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** What somebody answers for, whether or not they have an account, and who takes it over when they leave. */
@RestController
@RequestMapping("/api/responsibilities")
class ResponsibilityController {

    private final List<Responsibility> kinds;
    private final KnownPeople people;
    private final SnapshotStore store;
    private final RequestKeys keys;
    private final Clock clock;

    ResponsibilityController(
            List<Responsibility> kinds, KnownPeople people, SnapshotStore store, RequestKeys keys, Clock clock) {
        this.kinds = kinds;
        this.people = people;
        this.store = store;
        this.keys = keys;
        this.clock = clock;
    }

    /**
     * @param held what can be handed over
     * @param populations names of those that they own; another owner is written on the population itself
     */
    record Responsibilities(String person, List<Held> held, List<String> populations) {}

    @GetMapping
    Responsibilities of(@RequestParam String person, Snapshot snapshot) {
        Instant now = clock.instant();
        return new Responsibilities(
                person,
                kinds.stream()
                        .flatMap(kind -> kind.of(snapshot, person, now).stream())
                        .toList(),
                snapshot.fleet().ladder().populations().stream()
                        .filter(population -> KnownPeople.areSame(population.owner(), person))
                        .map(population -> population.name())
                        .toList());
    }

    /** @param to name of somebody with an account */
    record HandOverDraft(String from, String to) {}

    /** @param undo address to which a DELETE takes all of it back, for those who may take decisions back */
    record HandOver(int handedOver, Optional<String> undo) {}

    /** Hands over all exceptions and cases of somebody, or nothing. */
    @PostMapping("/hand-overs")
    @ResponseStatus(HttpStatus.CREATED)
    HandOver handOver(
            @RequestBody HandOverDraft draft,
            @RequestHeader(name = "Idempotency-Key", required = false) String key,
            @AuthenticationPrincipal Caller.Person who) {
        String from = ProblemException.requireLine("from", draft.from(), 200, "name whose they are");
        String to = people.named(ProblemException.requireLine("to", draft.to(), 200, "name who takes over"))
                .orElseThrow(() -> ProblemException.badField(
                        "to", "nobody with an account is called '" + draft.to() + "'; choose from the list"));
        if (KnownPeople.areSame(from, to)) {
            throw ProblemException.badField("to", "they are " + to + "'s already");
        }
        return store.writeOnce(keys.of(key, who, "hand-over", draft), 0, HandOver.class, snapshot -> {
            Instant now = clock.instant();
            Snapshot next = snapshot;
            Map<Revocable.Kind, List<Long>> numbers = new EnumMap<>(Revocable.Kind.class);
            for (Responsibility kind : kinds) {
                HandedOver handed = kind.handOver(next, from, to, who, now);
                next = handed.next();
                if (!handed.numbers().isEmpty()) {
                    numbers.put(handed.kind(), handed.numbers());
                }
            }
            int handed = numbers.values().stream().mapToInt(List::size).sum();
            if (handed == 0) {
                throw ProblemException.badField("from", from + " answers for no exception and sees to no case");
            }
            return new SnapshotStore.Change<>(
                    next,
                    new HandOver(handed, Optional.of(Undo.of(numbers)).filter(undo -> who.role() == Role.ANALYST)));
        });
    }
}
