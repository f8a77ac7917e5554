package lucid.formats.vex;

import java.time.Instant;
import java.util.List;
import lucid.core.fleet.HostName;
import lucid.core.update.PackageReference;

/**
 * What somebody here says: some hosts are not affected by vulnerabilities that an update closes.
 *
 * @param vulnerabilities identifiers of those
 * @param reason in the author's words
 * @param where the condition that names the hosts
 * @param hosts those of which it is true now, with what they have of the update's products
 */
public record OwnNote(
        long number,
        List<String> vulnerabilities,
        String reason,
        String where,
        String author,
        Instant written,
        List<OnHost> hosts) {

    public record OnHost(HostName host, List<PackageReference> installed) {}

    /** Identifier of a host as a product. */
    static String id(HostName host) {
        return "urn:lucid-verdict:host:" + host.value();
    }

    /** The reason, and of which hosts it is said. */
    String impact() {
        return reason + " (hosts where " + where + ")";
    }
}
