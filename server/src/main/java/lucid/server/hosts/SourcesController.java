package lucid.server.hosts;

import java.time.Clock;
import java.time.Instant;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import lucid.core.carriage.OnSources;
import lucid.core.fleet.PackageLists;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.server.snapshot.Snapshot;
import lucid.server.views.Views.HostList;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;

/** Whether an update has come to the sources from which hosts take their packages. */
@RestController
class SourcesController {

    private final Clock clock;

    SourcesController(Clock clock) {
        this.clock = clock;
    }

    /** @param source addresses that the hosts are set to; empty where they do not tell */
    record NotOnSource(String source, HostList hosts) {}

    /**
     * Of the hosts that lack the update.
     *
     * @param notYet by source, those with most hosts first
     * @param oldest when the first of those that tell anything fetched its lists
     * @param judgedByName of all hosts, those that tell no source packages, where the update speaks of some: only what
     *     bears the name of its source is judged on them
     */
    record SourcesOfUpdate(
            HostList there,
            List<NotOnSource> notYet,
            HostList notTold,
            Optional<Instant> oldest,
            HostList judgedByName) {}

    @GetMapping("/api/cases/{id}/sources")
    SourcesOfUpdate ofCase(@PathVariable UpdateId id, Snapshot snapshot) {
        Update update = snapshot.update(id);
        RoaringBitmap lacking = snapshot.carriage(update, clock.instant()).lacking();
        OnSources sources = OnSources.of(update, lacking, snapshot.fleet());
        return new SourcesOfUpdate(
                HostList.of(snapshot.fleet(), sources.there()),
                sources.notYet().entrySet().stream()
                        .map(entry -> new NotOnSource(entry.getKey(), HostList.of(snapshot.fleet(), entry.getValue())))
                        .sorted(Comparator.comparingInt(
                                        (NotOnSource one) -> one.hosts().count())
                                .reversed())
                        .toList(),
                HostList.of(snapshot.fleet(), sources.notTold()),
                snapshot.fleet()
                        .hosts(lacking)
                        .flatMap(host -> host.lists().stream())
                        .map(PackageLists::fetched)
                        .min(Comparator.naturalOrder()),
                HostList.of(snapshot.fleet(), snapshot.carriages().judgedByNameAlone(update)));
    }
}
