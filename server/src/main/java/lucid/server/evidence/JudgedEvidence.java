package lucid.server.evidence;

import java.util.List;
import java.util.function.UnaryOperator;
import lucid.core.evidence.CaseNote;
import lucid.core.evidence.DismissedFailure;
import lucid.core.evidence.Evidence;
import lucid.core.evidence.NotAffectedNote;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotPart;
import org.springframework.stereotype.Component;

/** The part of the snapshot that people's own judgements of evidence are: notes, and failures that were dismissed. */
@Component
class JudgedEvidence implements SnapshotPart {

    private final EvidenceMapper mapper;

    JudgedEvidence(EvidenceMapper mapper) {
        this.mapper = mapper;
    }

    @Override
    public UnaryOperator<Snapshot> load() {
        List<NotAffectedNote> notes =
                mapper.notes().stream().map(EvidenceMapper.NoteRow::note).toList();
        List<DismissedFailure> dismissed = mapper.dismissedFailures().stream()
                .map(EvidenceMapper.DismissedFailureRow::dismissedFailure)
                .toList();
        List<CaseNote> caseNotes = mapper.caseNotes().stream()
                .map(EvidenceMapper.CaseNoteRow::caseNote)
                .toList();
        return snapshot ->
                snapshot.with(snapshot.evidence().judged(new Evidence.Judgements(notes, dismissed, caseNotes)));
    }
}
