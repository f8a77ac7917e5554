package lucid.server.intake;

import java.util.Optional;
import lucid.formats.document.ReadingHints;
import lucid.server.access.Bringer;
import lucid.server.snapshot.RequestKey;
import lucid.server.web.Digests;

/**
 * A document as it comes in: who brings it, and by which key the same request is known again.
 *
 * @param refusedBefore number under which the same document was refused before, if it is tried again
 */
public record Arrival(
        Incoming incoming, ReadingHints hints, Bringer sender, Optional<RequestKey> key, Optional<Long> refusedBefore) {

    String digest() {
        return Digests.sha256(incoming.content());
    }

    long length() {
        return incoming.content().length;
    }
}
