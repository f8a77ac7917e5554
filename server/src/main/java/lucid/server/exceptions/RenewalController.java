package lucid.server.exceptions;

import java.security.Principal;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.util.ArrayList;
import java.util.List;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.ExceptionGrant;
import lucid.server.audit.AuditEntry;
import lucid.server.decisions.Revocable;
import lucid.server.decisions.Undo;
import lucid.server.snapshot.RequestKeys;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Exceptions that go on after their day: several at once with one reason, all of them or none. */
@RestController
@RequestMapping("/api/exceptions/renewals")
class RenewalController {

    private static final int MOST_AT_ONCE = 100;

    private final SnapshotStore store;
    private final ExceptionMapper mapper;
    private final RequestKeys keys;
    private final Clock clock;

    RenewalController(SnapshotStore store, ExceptionMapper mapper, RequestKeys keys, Clock clock) {
        this.store = store;
        this.mapper = mapper;
        this.keys = keys;
        this.clock = clock;
    }

    /**
     * @param exceptions numbers of those that are renewed
     * @param until their new last day, in the zone of the hosts of each; after the day that it has now
     * @param reason why they go on; the reason of the first time is not enough
     */
    record RenewalDraft(List<Long> exceptions, LocalDate until, String reason) {}

    /** @param undo address to which a DELETE takes all of them back */
    record Renewed(List<DecisionNumber.OfException> exceptions, String undo) {}

    @PostMapping
    @ResponseStatus(HttpStatus.CREATED)
    Renewed renew(
            @RequestBody RenewalDraft draft,
            @RequestHeader(name = "Idempotency-Key", required = false) String key,
            Principal who) {
        ProblemException.requireLine("reason", draft.reason(), 2000, "say why they go on");
        if (draft.exceptions() == null
                || draft.exceptions().isEmpty()
                || draft.exceptions().size() > MOST_AT_ONCE) {
            throw ProblemException.badField("exceptions", "1 to " + MOST_AT_ONCE + " exceptions are renewed at once");
        }
        return store.writeOnce(keys.of(key, who, "renewal", draft), 0, Renewed.class, snapshot -> {
            Instant now = clock.instant();
            Snapshot next = snapshot;
            List<DecisionNumber.OfException> renewed = new ArrayList<>();
            for (long number : draft.exceptions().stream().distinct().toList()) {
                ExceptionGrant before = standing(next.decisions(), number, now);
                Instant until =
                        ExceptionWords.end(draft.until(), ExceptionWords.zone(snapshot.fleet(), before.hosts()), now);
                if (!until.isAfter(before.until())) {
                    throw ProblemException.badField(
                            "until",
                            "exception " + number + " goes on until "
                                    + ExceptionWords.lastDay(before.until(), before.hosts(), snapshot.fleet())
                                    + " already; a renewal ends later");
                }
                ExceptionGrant after = before.renewed(
                        next.decisions().nextException(), until, draft.reason().strip(), who.getName(), now);
                mapper.takeBack(number, now);
                mapper.add(ExceptionMapper.Row.of(after));
                next = next.with(next.decisions().withAll(List.of(before.revoked(now), after)));
                renewed.add(after.number());
                store.record(
                        AuditEntry.Kind.EXCEPTION,
                        ExceptionWords.subject(after),
                        who,
                        words(after, snapshot),
                        Revocable.Kind.RENEWAL.about(after.number().value()));
            }
            return new SnapshotStore.Change<>(
                    next,
                    new Renewed(
                            renewed,
                            Undo.of(
                                    Revocable.Kind.RENEWAL,
                                    renewed.stream()
                                            .map(DecisionNumber.OfException::value)
                                            .toList())));
        });
    }

    private static ExceptionGrant standing(Decisions decisions, long number, Instant now) {
        ExceptionGrant exception = decisions
                .exception(new DecisionNumber.OfException(number))
                .orElseThrow(() -> ProblemException.notFound("there is no exception " + number));
        if (!exception.standsAt(now)) {
            throw new ProblemException(
                    HttpStatus.CONFLICT,
                    "exceptions",
                    "exception " + number
                            + " does not stand any more: it was renewed, taken back, or has lapsed; make another one on the case");
        }
        return exception;
    }

    private static String words(ExceptionGrant after, Snapshot snapshot) {
        return "Renewed the exception on " + ExceptionMapper.wordsOf(after.scope()) + " where " + after.hosts()
                + ", the "
                + (after.renewals() == 1 ? "first" : after.renewals() == 2 ? "second" : after.renewals() + "th")
                + " time, until " + ExceptionWords.lastDay(after.until(), after.hosts(), snapshot.fleet())
                + ", because " + after.reason() + "; owner " + after.owner() + ".";
    }
}
