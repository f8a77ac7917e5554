package lucid.server.evidence;

import java.time.Instant;
import java.util.List;
import lucid.core.evidence.CaseNote;
import lucid.server.decisions.Revocable;
import lucid.server.snapshot.Snapshot;
import lucid.server.web.ProblemException;
import org.springframework.stereotype.Component;

/** How it is taken back that a case was handed over: a note goes on, seen to by whoever saw to it before. */
@Component
class RevocableCaseHandOvers implements Revocable {

    private final EvidenceMapper mapper;

    RevocableCaseHandOvers(EvidenceMapper mapper) {
        this.mapper = mapper;
    }

    @Override
    public Kind kind() {
        return Kind.CASE_HAND_OVER;
    }

    @Override
    public Revoked revoke(Snapshot snapshot, long number, Instant now) {
        CaseNote note = snapshot.evidence()
                .caseNote(number)
                .filter(one -> one.goesOnFrom().isPresent())
                .orElseThrow(() -> ProblemException.notFound("there is no note " + number + " that was handed over"));
        String earlier = snapshot.evidence()
                .caseNote(note.goesOnFrom().get())
                .flatMap(before -> before.followUp().assignee())
                .orElseThrow();
        CaseNote goesOn = note.handedTo(snapshot.evidence().nextCaseNote(), earlier);
        return new Revoked(
                snapshot.with(snapshot.evidence().with(note.revoked(now)).with(goesOn)),
                List.of(),
                note.updateId().value(),
                "Took back that the case of " + note.updateId() + " was handed over: " + earlier
                        + " sees to it again.");
    }

    @Override
    public boolean keep(long number, Instant now) {
        return mapper.revokeCaseNote(number, now) > 0;
    }

    @Override
    public boolean keep(Snapshot next, long number, Instant now) {
        CaseNote goesOn = next.evidence().caseNotes().stream()
                .filter(note -> note.goesOnFrom().filter(from -> from == number).isPresent())
                .findFirst()
                .orElseThrow();
        if (!keep(number, now)) {
            return false;
        }
        mapper.addCaseNote(EvidenceMapper.CaseNoteRow.of(goesOn));
        return true;
    }
}
