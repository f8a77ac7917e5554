package lucid.server.views;

import java.util.List;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import lucid.core.carriage.Carriages;
import lucid.core.fleet.Host;
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
                .flatMap(fix -> of(fix, update.restarts().of(fix.build()) == RestartNeed.HOST, host, carriages))
                .toList();
    }

    /** As one text: what was found. */
    public static String found(List<FoundVersion> versions) {
        return joined(versions, version -> Optional.of(version.found()));
    }

    /** As one text: what is expected, where it is known. */
    public static String expected(List<FoundVersion> versions) {
        return joined(versions, FoundVersion::expected);
    }

    private static String joined(List<FoundVersion> versions, Function<FoundVersion, Optional<String>> part) {
        return versions.stream()
                .flatMap(version -> part.apply(version).map(text -> version.product() + " " + text).stream())
                .collect(Collectors.joining("; "));
    }

    private static Stream<FoundVersion> of(Fix fix, boolean asksForStart, Host host, Carriages carriages) {
        return host.spokenOf(fix).stream().map(one -> {
            Optional<Carriages.Level> level = carriages.level(one.product());
            return new FoundVersion(
                    one.product().build().product().name(),
                    one.version(),
                    fix.trackOf(one.version()).flatMap(AffectedRange::fixed),
                    host.runningInsteadOf(one.product().build()).filter(old -> asksForStart),
                    level.map(l -> l.update().title()),
                    level.flatMap(Carriages.Level::track));
        });
    }
}
