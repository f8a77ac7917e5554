package lucid.server.populations;

import java.security.Principal;
import java.util.List;
import java.util.Optional;
import java.util.function.UnaryOperator;
import lucid.core.fleet.Ladder;
import lucid.formats.document.Content;
import lucid.formats.document.Format;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.RefusedDocumentException;
import lucid.formats.populations.PopulationsWriter;
import lucid.server.intake.Arrival;
import lucid.server.intake.ContentTaker;
import lucid.server.intake.IntakeOutcome;
import lucid.server.intake.KeptDocuments;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotPart;
import org.springframework.stereotype.Component;

/**
 * The ladder as it is stored: as a document of its own format, whether it was changed here or came in, so that every
 * earlier one can be had again.
 */
@Component
class LadderDocuments implements ContentTaker, SnapshotPart {

    /** Further back than anything that is still to fall due. */
    private static final int MOST_BEFORE = 200;

    private final KeptDocuments documents;

    LadderDocuments(KeptDocuments documents) {
        this.documents = documents;
    }

    /**
     * Within {@link lucid.server.snapshot.SnapshotStore#write}.
     *
     * @param proposal number of the document that proposed it, which waits no longer
     * @return number of the document
     */
    long keep(Ladder ladder, Optional<Long> proposal, Principal author) {
        return documents.keepOwn(
                "populations.json",
                Format.POPULATIONS,
                ladder.populations().size() + " populations",
                PopulationsWriter.write(ladder),
                proposal,
                author);
    }

    /** The ladder that held before the present one; empty if the present one is not that of this document. */
    Optional<Ladder> before(long document) {
        List<KeptDocuments.Kept> all = all();
        if (all.isEmpty() || all.get(0).number() != document) {
            return Optional.empty();
        }
        return Optional.of(
                all.size() < 2
                        ? Ladder.EMPTY
                        : ladder(documents.content(all.get(1).number())));
    }

    private static Ladder ladder(Content content) {
        return ((Content.OfPopulations) content).ladder();
    }

    /** The newest first. */
    List<KeptDocuments.Kept> all() {
        return documents.accepted(Format.POPULATIONS);
    }

    @Override
    public Class<? extends Content> contents() {
        return Content.OfPopulations.class;
    }

    /**
     * Populations move hosts between rules: they count once somebody has seen what they would change, never as they
     * come in.
     */
    @Override
    public Taken take(Snapshot snapshot, ReadDocument document, Arrival arrival) {
        if (ladder(document.content()).saysTheSameAs(snapshot.fleet().ladder())) {
            return Taken.nothing(snapshot, IntakeOutcome.DUPLICATE, document.problems());
        }
        return Taken.nothing(
                snapshot,
                IntakeOutcome.WAITING,
                ContentTaker.join(
                        document.problems(),
                        List.of(
                                new Problem(
                                        "",
                                        "it waits for somebody to see on Populations what it would change, and to save it there"))));
    }

    /** An earlier one that cannot be read any more says nothing about since when a rule is what it is. */
    private Ladder read(KeptDocuments.Kept kept, boolean holds) {
        try {
            return ladder(documents.content(kept.number()));
        } catch (RefusedDocumentException e) {
            if (holds) {
                throw e;
            }
            return Ladder.EMPTY;
        }
    }

    /**
     * The one that holds, with what is older in it. Since when its rules are what they are is told by the ladders
     * before it, as far back as they go.
     */
    @Override
    public UnaryOperator<Snapshot> load() {
        List<KeptDocuments.Kept> kept = all();
        Optional<Ladder> ladder = Optional.empty();
        for (int place = Math.min(kept.size(), MOST_BEFORE) - 1; place >= 0; place--) {
            KeptDocuments.Kept one = kept.get(place);
            ladder = Optional.of(read(one, place == 0).following(ladder.orElse(Ladder.EMPTY), one.createdAt()));
        }
        Optional<Ladder> newest = ladder;
        return snapshot -> newest.map(snapshot::with).orElse(snapshot);
    }
}
