package lucid.server.evidence;

import java.security.Principal;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import lucid.core.evidence.CaseNote;
import lucid.server.access.KnownPeople;
import lucid.server.audit.AuditEntry;
import lucid.server.decisions.Revocable;
import lucid.server.responsibilities.Responsibility;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.Addresses;
import org.springframework.stereotype.Component;

/** Cases are given to people, who see to them. */
@Component
class AssignedCases implements Responsibility {

    private final SnapshotStore store;
    private final EvidenceMapper mapper;

    AssignedCases(SnapshotStore store, EvidenceMapper mapper) {
        this.store = store;
        this.mapper = mapper;
    }

    @Override
    public List<Held> of(Snapshot snapshot, String person, Instant now) {
        return assigned(snapshot, person).stream()
                .map(note -> new Held(
                        "The case of " + note.updateId()
                                + note.followUp()
                                        .day()
                                        .map(day -> ", looked at again on " + day)
                                        .orElse("")
                                + ": " + note.words(),
                        "/cases/" + Addresses.encoded(note.updateId().value())))
                .toList();
    }

    @Override
    public HandedOver handOver(Snapshot snapshot, String from, String to, Principal who, Instant now) {
        Snapshot next = snapshot;
        List<Long> handed = new ArrayList<>();
        for (CaseNote note : assigned(snapshot, from)) {
            CaseNote after = note.handedTo(next.evidence().nextCaseNote(), to);
            mapper.revokeCaseNote(note.number(), now);
            mapper.addCaseNote(EvidenceMapper.CaseNoteRow.of(after));
            next = next.with(next.evidence().with(note.revoked(now)).with(after));
            handed.add(after.number());
            store.record(
                    AuditEntry.Kind.EVIDENCE,
                    note.updateId().value(),
                    who,
                    "Handed the case of " + note.updateId() + " over from "
                            + note.followUp().assignee().orElseThrow() + " to " + to + ": " + note.words(),
                    Revocable.Kind.CASE_HAND_OVER.about(after.number()));
        }
        return new HandedOver(next, Revocable.Kind.CASE_HAND_OVER, handed);
    }

    private static List<CaseNote> assigned(Snapshot snapshot, String person) {
        return snapshot.evidence().caseNotes().stream()
                .filter(note -> note.stands()
                        && note.followUp()
                                .assignee()
                                .filter(name -> KnownPeople.areSame(name, person))
                                .isPresent())
                .toList();
    }
}
