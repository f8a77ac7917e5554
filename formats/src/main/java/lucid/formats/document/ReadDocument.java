package lucid.formats.document;

import java.util.List;
import java.util.Optional;
import java.util.Set;
import lucid.core.update.UpdateId;

/**
 * A document that was read.
 *
 * @param problems parts of it that were left out
 */
public record ReadDocument(Format format, Content content, List<Problem> problems) {

    /** As {@link Content#subject}. */
    public String subject() {
        return content.subject();
    }

    /** As {@link Content#revision}. */
    public String revision() {
        return content.revision();
    }

    /** The one update that it is about, if it is about one. */
    public Optional<UpdateId> update() {
        Set<UpdateId> updates = content.updates();
        return updates.size() == 1 ? updates.stream().findFirst() : Optional.empty();
    }
}
