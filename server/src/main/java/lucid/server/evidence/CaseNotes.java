package lucid.server.evidence;

import java.security.Principal;
import java.time.Clock;
import java.time.temporal.ChronoUnit;
import java.util.Optional;
import lucid.core.evidence.CaseNote;
import lucid.core.update.UpdateId;
import lucid.server.access.KnownPeople;
import lucid.server.audit.AuditEntry;
import lucid.server.decisions.Revocable;
import lucid.server.snapshot.RequestKey;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.ProblemException;
import org.springframework.stereotype.Service;

/** Notes on cases: for whoever looks at one next, or for one person, and until a day on which it is looked at again. */
@Service
class CaseNotes {

    private static final int LONGEST = 4_000;

    private final SnapshotStore store;
    private final EvidenceMapper mapper;
    private final KnownPeople people;
    private final Clock clock;

    CaseNotes(SnapshotStore store, EvidenceMapper mapper, KnownPeople people, Clock clock) {
        this.store = store;
        this.mapper = mapper;
        this.people = people;
        this.clock = clock;
    }

    /** Two people may write at the same moment: a note asks for no version of the case. */
    EvidenceService.Numbered write(
            UpdateId updateId, String words, CaseNote.FollowUp followUp, Optional<RequestKey> request, Principal who) {
        String written =
                ProblemException.requireProse("words", words, LONGEST, "write a note of at most 4,000 characters");
        CaseNote.FollowUp next = requireFollowUp(followUp);
        return store.writeOnce(request, 0, EvidenceService.Numbered.class, snapshot -> {
            snapshot.update(updateId);
            long number = snapshot.evidence().nextCaseNote();
            CaseNote note =
                    new CaseNote(number, updateId, written, next, who.getName(), clock.instant(), Optional.empty());
            mapper.addCaseNote(EvidenceMapper.CaseNoteRow.of(note));
            store.record(
                    AuditEntry.Kind.EVIDENCE,
                    updateId.value(),
                    who,
                    "Wrote on " + updateId
                            + next.assignee().map(name -> " for " + name).orElse("")
                            + next.day()
                                    .map(day -> ", to be looked at again on " + day)
                                    .orElse("")
                            + ": " + written,
                    Revocable.Kind.CASE_NOTE.about(number));
            return new SnapshotStore.Change<>(
                    snapshot.with(snapshot.evidence().with(note)),
                    EvidenceService.Numbered.of(Revocable.Kind.CASE_NOTE, number));
        });
    }

    private CaseNote.FollowUp requireFollowUp(CaseNote.FollowUp followUp) {
        followUp.from()
                .filter(from -> from.plus(1, ChronoUnit.DAYS).isBefore(clock.instant()))
                .ifPresent(past -> {
                    throw ProblemException.badField(
                            "lookAgain", followUp.day().orElseThrow() + " has passed; choose today or a later day");
                });
        return new CaseNote.FollowUp(
                followUp.assignee().map(name -> people.named(name)
                        .orElseThrow(() -> ProblemException.badField(
                                "assignee", "nobody with an account is called '" + name + "'; choose from the list"))),
                followUp.day());
    }
}
