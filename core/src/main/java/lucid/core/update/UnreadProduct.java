package lucid.core.update;

import java.util.List;
import java.util.Optional;

/**
 * A product that an advisory speaks of as affected or fixed, of which nobody here can tell which hosts have it: it has
 * no package URL and no mapping, or a version that cannot be ordered. That hosts lack its fix is then unknown, which is
 * not the same as that none does.
 *
 * @param vendor under which a {@link ProductMapping} may know it: the publisher, or the ecosystem
 * @param name as the document calls it
 * @param names other names by which it may be known there: of its branches, the nearest first
 * @param cpe its CPE name, where the document gives one
 * @param place where it stands in the document: a JSON pointer (RFC 6901)
 * @param reason why it could not be read, in words
 */
public record UnreadProduct(
        String vendor, String name, List<String> names, Optional<String> cpe, String place, String reason) {

    /** The name that it shares with its other versions: of the branch that it stands in, else its own. */
    public String family() {
        return names.size() > 1 ? names.get(1) : name;
    }
}
