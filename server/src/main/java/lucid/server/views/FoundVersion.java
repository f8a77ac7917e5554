package lucid.server.views;

import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.core.carriage.Carriages;
import lucid.core.fleet.Host;
import lucid.core.fleet.InstalledProduct;
import lucid.core.update.AffectedRange;
import lucid.core.update.Fix;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;

/**
 * The version of a product that an update speaks of, as found on a host.
 *
 * @param expected first fixed version of the track, where one is known
 * @param running the version that still runs until the next start, where it is another one and the update asks for a
 *     start of the host
 * @param level title of the newest update of the track that this version reaches
 * @param track first version of the track, where it has one
 */
public record FoundVersion(
        String product,
        String found,
        Optional<String> expected,
        Optional<String> running,
        Optional<String> level,
        Optional<String> track) {

    /** One for each product that the update speaks of and the host has. */
    public static List<FoundVersion> all(Update update, Host host, Carriages carriages) {
        return update.fixes().stream()
                .flatMap(fix -> of(fix, update.restart() == RestartNeed.HOST, host, carriages))
                .toList();
    }

    private static Stream<FoundVersion> of(Fix fix, boolean asksForStart, Host host, Carriages carriages) {
        Comparator<InstalledProduct> byVersion = Comparator.comparing(
                InstalledProduct::version, fix.build().product().ordering());
        return host.products().stream()
                .filter(p -> fix.build().covers(p.build()))
                .max(byVersion)
                .map(product -> {
                    Optional<Carriages.Level> level = carriages.level(product);
                    return new FoundVersion(
                            fix.build().product().name(),
                            product.version(),
                            fix.trackOf(product.version()).flatMap(AffectedRange::fixed),
                            host.runningInsteadOf(product.build()).filter(old -> asksForStart),
                            level.map(l -> l.update().title()),
                            level.flatMap(Carriages.Level::track));
                })
                .stream();
    }
}
