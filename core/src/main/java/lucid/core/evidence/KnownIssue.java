package lucid.core.evidence;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.HostCondition;
import lucid.core.update.UpdateId;

/**
 * Something that is wrong with updates.
 *
 * @param id its own, by which a later word on it is told
 * @param updates identifiers of the updates that have it
 * @param fixedBy identifiers of updates that do not have it any more
 * @param failureClass how bad it is, where told
 * @param hosts which hosts it touches; none: nobody can tell
 * @param since when this was first told here
 * @param changed when its state was last told anew
 */
public record KnownIssue(
        String id,
        List<UpdateId> updates,
        List<UpdateId> fixedBy,
        String words,
        State state,
        Optional<FailureClass> failureClass,
        Optional<HostCondition> hosts,
        String source,
        Instant since,
        Instant changed) {

    public enum State {
        OPEN,
        WORKED_AROUND,
        FIXED
    }

    public KnownIssue {
        updates = List.copyOf(updates);
        fixedBy = List.copyOf(fixedBy);
    }

    public boolean isOpen() {
        return state == State.OPEN;
    }

    /** The class that counts; one that is not told counts as degraded. */
    public FailureClass countedClass() {
        return failureClass.orElse(FailureClass.DEGRADED);
    }

    /** This word, told of an issue that was known before. */
    public KnownIssue after(KnownIssue before) {
        return new KnownIssue(
                id,
                updates,
                fixedBy,
                words,
                state,
                failureClass,
                hosts,
                source,
                before.since(),
                state == before.state() ? before.changed() : changed);
    }
}
