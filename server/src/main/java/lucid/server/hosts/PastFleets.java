package lucid.server.hosts;

import com.github.benmanes.caffeine.cache.Cache;
import com.github.benmanes.caffeine.cache.Caffeine;
import java.time.Duration;
import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import lucid.core.carriage.Carriages;
import lucid.core.carriage.PastCarriages;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Outcome;
import lucid.core.update.Fix;
import lucid.core.update.ProductBuild;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.server.snapshot.Snapshot;
import org.springframework.stereotype.Component;

/** The fleet as it was at a past instant, from what is stored of its history. */
@Component
public class PastFleets {

    /** A day is looked at from several sides, one request after the other. */
    private static final int KEPT = 4;

    private static final Duration KEPT_FOR = Duration.ofMinutes(5);

    private final HostHistoryMapper history;
    private final HostMapper hosts;
    private final ProductDictionary dictionary;
    private final Cache<Moment, Known> kept =
            Caffeine.newBuilder().maximumSize(KEPT).expireAfterAccess(KEPT_FOR).build();

    private record Moment(UpdateId update, Instant at) {}

    /** @param now from which it was made */
    private record Known(Carriages now, Carriages then) {}

    PastFleets(HostHistoryMapper history, HostMapper hosts, ProductDictionary dictionary) {
        this.history = history;
        this.hosts = hosts;
        this.dictionary = dictionary;
    }

    /** With the outcomes of one update: of others only versions are told. */
    public Carriages at(Snapshot snapshot, Update update, Instant at) {
        Carriages now = snapshot.carriages();
        Moment moment = new Moment(update.id(), at);
        Known known = kept.getIfPresent(moment);
        if (known == null || known.now() != now) {
            known = new Known(now, read(now, update, at));
            kept.put(moment, known);
        }
        return known.then();
    }

    private Carriages read(Carriages now, Update update, Instant at) {
        Map<String, ProductBuild> builds = new HashMap<>();
        Set<ProductBuild> named = Stream.concat(Stream.of(update), now.catalogue().successorsOf(update.id()).stream())
                .flatMap(one -> one.fixes().stream())
                .map(Fix::build)
                .collect(Collectors.toSet());
        Map<ProductBuild, Map<String, InstalledProduct>> withSources =
                named.stream().anyMatch(ProductBuild::isSource) ? dictionary.withSources() : Map.of();
        Set<String> products = Stream.concat(named.stream(), builtFrom(named, withSources))
                .map(build -> build.product().purl())
                .collect(Collectors.toSet());
        List<PastCarriages.Change> changes = history.changesAfter(at, products).stream()
                .map(change -> new PastCarriages.Change(
                        change.host(),
                        builds.computeIfAbsent(change.build(), ProductBuild::parse),
                        versions(change.fromVersion()),
                        change.at()))
                .toList();
        Map<Integer, Instant> begun = new HashMap<>();
        history.begunAfter(at).forEach(first -> begun.put(first.number(), first.firstReport()));
        Map<Integer, Instant> retired = new HashMap<>();
        hosts.retired().forEach(one -> retired.put(one.host(), one.createdAt()));
        List<Outcome> outcomes = hosts.outcomeRowsUntil(update.id(), at).stream()
                .map(HostMapper.OutcomeRow::outcome)
                .toList();
        return PastCarriages.at(
                at,
                now,
                new PastCarriages.History(changes, outcomes, begun, retired),
                (build, version) -> Optional.ofNullable(
                                withSources.getOrDefault(build, Map.of()).get(version))
                        .orElseGet(() -> new InstalledProduct(build, version)));
    }

    /** Which packages are built from a source that is named, their own names do not tell. */
    private static Stream<ProductBuild> builtFrom(
            Set<ProductBuild> named, Map<ProductBuild, Map<String, InstalledProduct>> withSources) {
        return withSources.values().stream()
                .flatMap(versions -> versions.values().stream())
                .filter(installed ->
                        named.stream().anyMatch(source -> source.isSource() && source.covers(installed.sourceBuild())))
                .map(InstalledProduct::build);
    }

    /** Several side by side are written as one. */
    private static List<String> versions(String written) {
        return Stream.ofNullable(written)
                .flatMap(text -> Stream.of(text.split(" ")))
                .toList();
    }
}
