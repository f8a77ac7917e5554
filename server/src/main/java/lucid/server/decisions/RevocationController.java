package lucid.server.decisions;

import java.security.Principal;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.stream.Stream;
import lucid.core.ruling.Opening;
import lucid.core.update.Update;
import lucid.server.audit.AuditEntry;
import lucid.server.decisions.Revocable.Kind;
import lucid.server.decisions.Revocable.Revoked;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.views.OpeningView;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.util.MultiValueMap;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Takes back what was decided, whatever it is: first what that would do, then all of it together or nothing. */
@RestController
@RequestMapping("/api/decisions")
class RevocationController {

    private static final int MOST_AT_ONCE = 1_000;

    private final SnapshotStore store;
    private final Map<Kind, Revocable> kinds = new EnumMap<>(Kind.class);
    private final Clock clock;

    RevocationController(SnapshotStore store, List<Revocable> revocables, Clock clock) {
        this.store = store;
        this.clock = clock;
        revocables.forEach(one -> kinds.put(one.kind(), one));
    }

    static String parameter(Kind kind) {
        return switch (kind) {
            case VERDICT -> "verdict";
            case REPLACED_VERDICT -> "replacedVerdict";
            case ACKNOWLEDGEMENT -> "acknowledgement";
            case EXCEPTION -> "exception";
            case RENEWAL -> "renewal";
            case FREEZE -> "freeze";
            case CAUTION -> "caution";
            case PROPOSAL -> "proposal";
            case NOTE -> "note";
            case DISMISSED_FAILURE -> "dismissedFailure";
            case CASE_NOTE -> "caseNote";
            case CASE_HAND_OVER -> "caseHandOver";
        };
    }

    private record Chosen(Kind kind, long number) {
        String words() {
            return kind.name().toLowerCase().replace('_', ' ') + " " + number;
        }
    }

    /** @param named the numbers by parameter, each with commas */
    private static List<Chosen> chosen(MultiValueMap<String, String> named) {
        List<Chosen> all = Stream.of(Kind.values())
                .flatMap(kind -> named.getOrDefault(parameter(kind), List.of()).stream()
                        .flatMap(numbers -> Stream.of(numbers.split(",")))
                        .map(String::strip)
                        .filter(number -> !number.isEmpty())
                        .map(number -> new Chosen(kind, number(kind, number))))
                .distinct()
                .toList();
        if (all.isEmpty() || all.size() > MOST_AT_ONCE) {
            throw ProblemException.badField("number", "1 to " + MOST_AT_ONCE + " decisions are taken back at once");
        }
        return all;
    }

    private static long number(Kind kind, String text) {
        try {
            return Long.parseLong(text);
        } catch (NumberFormatException e) {
            throw ProblemException.badField(parameter(kind), "these are no numbers");
        }
    }

    /** Takes decisions back as one act: all of them, or none if one cannot be. */
    @DeleteMapping
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void revoke(@RequestParam MultiValueMap<String, String> named, Principal who) {
        List<Chosen> chosen = chosen(named);
        store.write(snapshot -> {
            Instant now = clock.instant();
            Snapshot next = snapshot;
            for (Chosen one : chosen) {
                Revocable kind = kinds.get(one.kind());
                Revoked revoked = kind.revoke(next, one.number(), now);
                if (!kind.keep(revoked.next(), one.number(), now)) {
                    throw new ProblemException(
                            HttpStatus.CONFLICT,
                            parameter(one.kind()),
                            one.words() + " was taken back before; nothing was changed now");
                }
                store.record(
                        AuditEntry.Kind.TAKEN_BACK,
                        revoked.subject(),
                        who,
                        revoked.sentence(),
                        one.kind().about(one.number()));
                next = revoked.next();
            }
            return new SnapshotStore.Change<>(next, true);
        });
    }

    /**
     * What taking these back would do: the updates that would go to other hosts than now, those first that would be
     * released. Nothing is kept.
     */
    @GetMapping("/revocation")
    List<OpeningView> preview(@RequestParam MultiValueMap<String, String> named, Snapshot snapshot) {
        Instant now = clock.instant();
        Snapshot next = snapshot;
        Set<Update> touched = new LinkedHashSet<>();
        for (Chosen one : chosen(named)) {
            Revoked revoked = kinds.get(one.kind()).revoke(next, one.number(), now);
            touched.addAll(revoked.touched());
            next = revoked.next();
        }
        Snapshot then = next;
        List<Opening> openings = new ArrayList<>();
        // What contains a withheld update is withheld with it.
        touched.stream()
                .flatMap(update ->
                        Stream.concat(Stream.of(update), snapshot.catalogue().containing(update.id()).stream()))
                .distinct()
                .sorted(Comparator.comparing(Update::id))
                .map(update -> Opening.of(
                        update,
                        snapshot.carriage(update, now),
                        snapshot.fleet(),
                        snapshot.catalogue(),
                        snapshot.decisions(),
                        then.decisions(),
                        now))
                .filter(opening -> !opening.isEmpty())
                .forEach(openings::add);
        openings.sort(Comparator.comparing(Opening::releases).reversed());
        return openings.stream()
                .map(one -> OpeningView.of(one, snapshot.fleet()))
                .toList();
    }
}
