package lucid.server.evidence;

import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import lucid.core.evidence.CaseNote;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.ruling.Timeline;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Update;
import lucid.server.access.Caller;
import lucid.server.access.KnownPeople;
import lucid.server.access.Role;
import lucid.server.audit.AuditEntry;
import lucid.server.decisions.Revocable;
import lucid.server.snapshot.RequestKey;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.ProblemException;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Service;

/**
 * Objections of those who answer for an exception, to a force that goes over it. One holds nothing back: it comes to
 * whoever judges the case, and stands until somebody has answered it.
 */
@Service
class Objections {

    private static final int LONGEST = 2_000;

    private final SnapshotStore store;
    private final EvidenceMapper mapper;
    private final Clock clock;

    Objections(SnapshotStore store, EvidenceMapper mapper, Clock clock) {
        this.store = store;
        this.mapper = mapper;
        this.clock = clock;
    }

    /**
     * A force and the exception that it goes over, as it is now.
     *
     * @param snapshot of all populations: an owner may own an exception on hosts that they otherwise do not see
     * @param hosts of the exception that lack the update and for which the force is what is in force
     * @param notes objections to it that stand
     */
    record Overridden(
            Snapshot snapshot, Verdict force, ExceptionGrant exception, RoaringBitmap hosts, List<CaseNote> notes) {

        boolean isOwnedBy(Caller.Person person) {
            return KnownPeople.areSame(exception.owner(), person.displayName());
        }
    }

    /** @throws ProblemException 404 if there is no such force, or it goes over no such exception that stands */
    private Overridden overridden(Snapshot snapshot, long force, long exception) {
        Set<DecisionNumber> named = Set.of(new DecisionNumber.OfException(exception));
        return snapshot.decisions()
                .verdict(new DecisionNumber.OfVerdict(force))
                .filter(verdict -> verdict.type() == VerdictType.FORCE && verdict.standsAt(clock.instant()))
                .flatMap(verdict -> snapshot.decisions().exceptions().stream()
                        .filter(one -> one.standsAt(clock.instant())
                                && one.isNamedIn(named)
                                && one.isNamedIn(verdict.overriddenExceptions()))
                        .findFirst()
                        .map(one -> overridden(snapshot, verdict, one)))
                .orElseThrow(() -> ProblemException.notFound("no force no. " + force
                        + " stands that goes over an exception no. " + exception + " that stands"));
    }

    private Overridden overridden(Snapshot snapshot, Verdict force, ExceptionGrant exception) {
        Update update = snapshot.update(force.updateId());
        Instant now = clock.instant();
        RoaringBitmap reached = new RoaringBitmap();
        Timeline.of(update, snapshot.decisions(), snapshot.fleet(), snapshot.catalogue())
                .groups(
                        RoaringBitmap.and(
                                snapshot.fleet().members(force.populationId()),
                                snapshot.carriage(update, now).lacking()),
                        now)
                .stream()
                .filter(group ->
                        group.match().source().filter(force.number()::equals).isPresent())
                .forEach(group -> reached.or(group.hosts()));
        return new Overridden(
                snapshot,
                force,
                exception,
                snapshot.fleet().matching(exception.hosts(), reached),
                snapshot.evidence().caseNotesOn(force.updateId()).stream()
                        .filter(note -> note.stands()
                                && note.objection()
                                        .filter(one ->
                                                one.force() == force.number().value()
                                                        && exception.isNamedIn(Set.of(
                                                                new DecisionNumber.OfException(one.exception()))))
                                        .isPresent())
                        .toList());
    }

    /**
     * As {@link Overridden}, of everybody's exceptions for those who read everything, else of one's own.
     *
     * @throws ProblemException 404 if there is none
     */
    Overridden find(long force, long exception, Caller.Person who) {
        Overridden over = overridden(store.snapshot(), force, exception);
        if (!readsEverything(who) && !over.isOwnedBy(who)) {
            throw ProblemException.notFound("no exception no. " + exception + " is yours");
        }
        return over;
    }

    /** Its owner, and analysts in the owner's name, until it is due. */
    boolean mayObject(Overridden over, Caller.Person who) {
        return (over.isOwnedBy(who) || who.role() == Role.ANALYST)
                && over.force().end().isAfter(clock.instant());
    }

    static boolean readsEverything(Caller.Person who) {
        return who.role() != Role.DESK && who.role() != Role.OPERATOR;
    }

    /**
     * Objects, as the owner, or as an analyst in the owner's name.
     *
     * @throws ProblemException 403 for anybody else, 409 once the force is due
     */
    EvidenceService.Numbered object(
            long force, long exception, String words, Optional<RequestKey> request, Caller.Person who) {
        String written = ProblemException.requireProse("words", words, LONGEST, "say what is against it");
        return store.writeOnce(request, 0, EvidenceService.Numbered.class, snapshot -> {
            Instant now = clock.instant();
            Overridden over = overridden(snapshot, force, exception);
            if (!over.isOwnedBy(who) && who.role() != Role.ANALYST) {
                throw new ProblemException(
                        HttpStatus.FORBIDDEN,
                        "exception",
                        "only " + over.exception().owner() + " objects to what goes over this exception");
            }
            if (!over.force().end().isAfter(now)) {
                throw new ProblemException(
                        HttpStatus.CONFLICT,
                        "force",
                        "it is due already: speak to " + over.force().author());
            }
            CaseNote note = new CaseNote(
                    snapshot.evidence().nextCaseNote(),
                    over.force().updateId(),
                    written,
                    CaseNote.FollowUp.NONE,
                    Optional.of(new CaseNote.Objection(
                            force, over.exception().number().value())),
                    Optional.empty(),
                    who.getName(),
                    now,
                    Optional.empty());
            mapper.addCaseNote(EvidenceMapper.CaseNoteRow.of(note));
            store.record(
                    AuditEntry.Kind.EVIDENCE,
                    note.updateId().value(),
                    who,
                    "Objected"
                            + (over.isOwnedBy(who)
                                    ? ""
                                    : " in the name of " + over.exception().owner())
                            + " to force no. " + force + " on " + note.updateId()
                            + ", which goes over exception no. "
                            + over.exception().number() + ": " + written,
                    Revocable.Kind.CASE_NOTE.about(note.number()));
            return new SnapshotStore.Change<>(
                    snapshot.with(snapshot.evidence().with(note)),
                    new EvidenceService.Numbered(note.number(), "/api/objections/" + note.number()));
        });
    }

    /** Whoever objected takes it back; an analyst does so on the case, as with any note. */
    void takeBack(long number, Caller.Person who) {
        store.write(snapshot -> {
            Instant now = clock.instant();
            CaseNote note = snapshot.evidence()
                    .caseNote(number)
                    .filter(one -> one.objection().isPresent() && one.author().equals(who.getName()))
                    .orElseThrow(() -> ProblemException.notFound("there is no objection " + number + " of yours"));
            if (mapper.revokeCaseNote(number, now) == 0) {
                throw new ProblemException(HttpStatus.CONFLICT, "number", "it was taken back before");
            }
            store.record(
                    AuditEntry.Kind.TAKEN_BACK,
                    note.updateId().value(),
                    who,
                    "Took back the objection to force no. "
                            + note.objection().orElseThrow().force() + " on " + note.updateId() + ": " + note.words(),
                    Revocable.Kind.CASE_NOTE.about(number));
            return new SnapshotStore.Change<>(snapshot.with(snapshot.evidence().with(note.revoked(now))), true);
        });
    }
}
