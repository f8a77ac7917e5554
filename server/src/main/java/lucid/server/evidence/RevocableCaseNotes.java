package lucid.server.evidence;

import java.time.Instant;
import java.util.List;
import lucid.core.evidence.CaseNote;
import lucid.server.decisions.Revocable;
import lucid.server.snapshot.Snapshot;
import lucid.server.web.ProblemException;
import org.springframework.stereotype.Component;

/** How a note on a case is taken back. */
@Component
class RevocableCaseNotes implements Revocable {

    private final EvidenceMapper mapper;

    RevocableCaseNotes(EvidenceMapper mapper) {
        this.mapper = mapper;
    }

    @Override
    public Kind kind() {
        return Kind.CASE_NOTE;
    }

    @Override
    public Revoked revoke(Snapshot snapshot, long number, Instant now) {
        CaseNote note = snapshot.evidence()
                .caseNote(number)
                .orElseThrow(() -> ProblemException.notFound("there is no note on a case with the number " + number));
        return new Revoked(
                snapshot.with(snapshot.evidence().with(note.revoked(now))),
                List.of(),
                note.updateId().value(),
                "Took back the note on " + note.updateId() + ": " + note.words());
    }

    @Override
    public boolean keep(long number, Instant now) {
        return mapper.revokeCaseNote(number, now) > 0;
    }
}
