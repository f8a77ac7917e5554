package lucid.core.fleet;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * What a host says of itself at one instant: its whole inventory, not a change.
 *
 * @param at instant at which the host took the inventory
 */
public record HostReport(
        String name,
        String platform,
        Instant at,
        Map<String, Trait> traits,
        List<InstalledProduct> products,
        Optional<String> supply,
        Optional<Instant> lastStart) {

    /** The host as this report shows it, under the number by which bitmaps know it. */
    public Host asHost(int number) {
        return new Host(number, name, platform, traits, products, supply, lastStart, at);
    }
}
