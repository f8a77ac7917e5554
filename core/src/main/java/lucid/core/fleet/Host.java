package lucid.core.fleet;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Map;
import java.util.Optional;

/**
 * A machine, as it last reported itself.
 *
 * @param number a small number of its own, by which bitmaps know it; 0 and up, never reused
 * @param platform name and release of its operating system, for example "Fathom OS 31"
 * @param traits typed facts by name
 * @param supply the source from which it really takes updates, where told
 * @param lastReport instant at which the host took this inventory
 */
public record Host(
        int number,
        String name,
        String platform,
        Map<String, Trait> traits,
        List<InstalledProduct> products,
        Optional<String> supply,
        Optional<Instant> lastStart,
        Instant lastReport) {

    /** The rhythm in which a host reports where its population says nothing else. */
    public static final Duration DEFAULT_RHYTHM = Duration.ofDays(1);

    private static final Duration SHORTEST_SILENCE = Duration.ofDays(3);

    public Host {
        traits = Map.copyOf(traits);
        products = List.copyOf(products);
    }

    /** From this instant on the host's state is unknown: its last report is older than three rhythms and older than three days. */
    public Instant unknownFrom(Duration rhythm) {
        Duration silence = rhythm.multipliedBy(3);
        return lastReport.plus(silence.compareTo(SHORTEST_SILENCE) > 0 ? silence : SHORTEST_SILENCE);
    }

    /** The trait of that name; {@code name}, {@code platform} and {@code supply} are facts of every host. */
    public Optional<Trait> trait(String traitName) {
        return switch (traitName) {
            case "name" -> Optional.of(new Trait.Text(name));
            case "platform" -> Optional.of(new Trait.Text(platform));
            case "supply" -> supply.map(Trait.Text::new);
            default -> Optional.ofNullable(traits.get(traitName));
        };
    }
}
