package lucid.server.intake;

import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.LongConsumer;
import lucid.core.update.UpdateId;
import lucid.formats.document.Content;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.RefusedDocumentException;
import lucid.server.snapshot.Snapshot;

/** What a slice of the server makes of the documents of its formats; it alone knows the tables behind them. */
public interface ContentTaker {

    /** Which contents it takes; no other taker takes any of them. */
    Class<? extends Content> contents();

    default boolean takes(Content content) {
        return contents().isInstance(content);
    }

    /**
     * Works out what a document changes, and stores it; within {@link lucid.server.snapshot.SnapshotStore#write}.
     *
     * @throws RefusedDocumentException if it is refused; then nothing of it is kept
     */
    Taken take(Snapshot snapshot, ReadDocument document, Arrival arrival);

    /**
     * What became of a document.
     *
     * @param update the one that it is about, if it is about one
     * @param provesItself false if the document itself need not be kept once it is taken
     * @param kept told the number under which the document is kept
     */
    record Taken(
            Snapshot next,
            IntakeOutcome outcome,
            List<Problem> problems,
            Optional<UpdateId> update,
            boolean provesItself,
            LongConsumer kept) {

        /** Of a document that changes nothing. */
        public static Taken nothing(Snapshot snapshot, IntakeOutcome outcome, List<Problem> problems) {
            return new Taken(snapshot, outcome, problems, Optional.empty(), true, number -> {});
        }
    }

    static List<Problem> join(List<Problem> first, List<Problem> second) {
        List<Problem> all = new ArrayList<>(first);
        all.addAll(second);
        return all;
    }
}
