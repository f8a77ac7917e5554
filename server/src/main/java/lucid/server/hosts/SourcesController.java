package lucid.server.hosts;

import java.time.Clock;
import java.util.Comparator;
import java.util.List;
import lucid.core.carriage.OnSources;
import lucid.core.carriage.OnSources.Found;
import lucid.core.fleet.Fleet;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.server.snapshot.Snapshot;
import lucid.server.views.Views.HostList;
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
     * @param notFetched they fetched their lists last before it was published
     * @param judgedByName of all hosts, those that tell no source packages, where the update speaks of some: only what
     *     bears the name of its source is judged on them
     */
    record SourcesOfUpdate(
            HostList there, List<NotOnSource> notYet, HostList notFetched, HostList notTold, HostList judgedByName) {}

    @GetMapping("/api/cases/{id}/sources")
    SourcesOfUpdate ofCase(@PathVariable UpdateId id, Snapshot snapshot) {
        Update update = snapshot.update(id);
        Fleet fleet = snapshot.fleet();
        OnSources sources =
                OnSources.of(update, snapshot.carriage(update, clock.instant()).lacking(), fleet);
        return new SourcesOfUpdate(
                HostList.of(fleet, sources.in(Found.THERE)),
                sources.notYet().entrySet().stream()
                        .map(entry -> new NotOnSource(entry.getKey(), HostList.of(fleet, entry.getValue())))
                        .sorted(Comparator.comparingInt(
                                        (NotOnSource one) -> one.hosts().count())
                                .reversed())
                        .toList(),
                HostList.of(fleet, sources.in(Found.NOT_FETCHED_SINCE)),
                HostList.of(fleet, sources.in(Found.NOT_TOLD)),
                HostList.of(fleet, snapshot.carriages().judgedByNameAlone(update)));
    }
}
