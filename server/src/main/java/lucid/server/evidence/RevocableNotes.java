package lucid.server.evidence;

import java.time.Instant;
import java.util.List;
import lucid.core.evidence.NotAffectedNote;
import lucid.server.decisions.Revocable;
import lucid.server.snapshot.Snapshot;
import lucid.server.web.ProblemException;
import org.springframework.stereotype.Component;

/** How a note of hosts that are not affected is taken back. */
@Component
class RevocableNotes implements Revocable {

    private final EvidenceMapper mapper;

    RevocableNotes(EvidenceMapper mapper) {
        this.mapper = mapper;
    }

    @Override
    public Kind kind() {
        return Kind.NOTE;
    }

    @Override
    public Revoked revoke(Snapshot snapshot, long number, Instant now) {
        NotAffectedNote note = snapshot.evidence().notes().stream()
                .filter(n -> n.number() == number)
                .findFirst()
                .orElseThrow(() -> ProblemException.notFound("there is no note " + number));
        return new Revoked(
                snapshot.with(snapshot.evidence().with(note.revoked(now))),
                List.of(),
                note.updateId().value(),
                "Took back that hosts where " + note.hosts() + " are not affected by what " + note.updateId()
                        + " closes.");
    }

    @Override
    public boolean keep(long number, Instant now) {
        return mapper.takeBackNote(number, now) > 0;
    }
}
