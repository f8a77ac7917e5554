package lucid.formats.document;

import java.time.Instant;
import java.util.Map;
import java.util.Optional;
import lucid.core.update.ProductMappings;

/**
 * What the sender of a document knows that does not stand in it.
 *
 * @param namespace namespace of the package URLs of an rpm repository, as its hosts report them
 * @param distro {@code distro} qualifier of those package URLs; none: of every release
 * @param columns of a table of hosts: what each column is, by its heading; empty: as the headings suggest
 * @param mappings what vendors' product names mean here
 * @param received when it came in; what tells no instant of its own is taken for true then
 */
public record ReadingHints(
        Optional<String> namespace,
        Optional<String> distro,
        Map<String, String> columns,
        ProductMappings mappings,
        Instant received) {

    public static ReadingHints none(Instant received) {
        return new ReadingHints(Optional.empty(), Optional.empty(), Map.of(), ProductMappings.NONE, received);
    }
}
