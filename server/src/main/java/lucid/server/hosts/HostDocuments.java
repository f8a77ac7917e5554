package lucid.server.hosts;

import java.util.List;
import java.util.Optional;
import lucid.formats.document.Content;
import lucid.formats.document.Format;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;
import lucid.server.intake.Arrival;
import lucid.server.intake.ContentTaker;
import lucid.server.intake.IntakeOutcome;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import org.springframework.stereotype.Component;

/** Documents that tell of hosts: inventories, and tables of traits. */
@Component
class HostDocuments implements ContentTaker {

    private final HostIntake hosts;

    HostDocuments(HostIntake hosts) {
        this.hosts = hosts;
    }

    @Override
    public Class<? extends Content> contents() {
        return Content.OfHosts.class;
    }

    @Override
    public Taken take(Snapshot snapshot, ReadDocument document, Arrival arrival) {
        SnapshotStore.Change<HostIntake.Taken> change = document.content() instanceof Content.OfTraits traits
                ? hosts.tell(snapshot, traits.rows())
                : hosts.take(snapshot, (Content.OfInventory) document.content(), isPartial(document.format()));
        return taken(change.next(), document, change.answer(), document.problems());
    }

    /** True for a format that cannot tell everything of a host. */
    static boolean isPartial(Format format) {
        return format != Format.INVENTORY;
    }

    /** @param before what was noticed before it was stored */
    static Taken taken(Snapshot next, ReadDocument document, HostIntake.Taken taken, List<Problem> before) {
        List<Problem> problems = ContentTaker.join(before, taken.problems());
        IntakeOutcome outcome = taken.taken() > 0
                ? IntakeOutcome.ACCEPTED
                : problems.isEmpty() ? IntakeOutcome.DUPLICATE : IntakeOutcome.REJECTED;
        return new Taken(next, outcome, problems, Optional.empty(), false, number -> {});
    }
}
