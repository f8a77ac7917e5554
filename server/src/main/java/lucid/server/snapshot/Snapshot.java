package lucid.server.snapshot;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Collection;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import lucid.core.carriage.Carriage;
import lucid.core.carriage.Carriages;
import lucid.core.carriage.CarrierIndex;
import lucid.core.docket.Docket;
import lucid.core.evidence.Evidence;
import lucid.core.evidence.ExploitScores;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostName;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.Outcomes;
import lucid.core.fleet.PopulationId;
import lucid.core.fleet.Trait;
import lucid.core.ruling.Decisions;
import lucid.core.update.Advisory;
import lucid.core.update.Catalogue;
import lucid.core.update.Update;
import lucid.core.update.UpdateDocument;
import lucid.core.update.UpdateId;
import lucid.core.update.UpdateNotice;
import lucid.core.update.Vulnerability;
import lucid.core.weighing.Weights;
import lucid.server.web.ProblemException;
import org.roaringbitmap.RoaringBitmap;

/**
 * Everything that is known, at one moment, and never changing: readers compute on the snapshot that they took while the
 * one writer makes the next.
 *
 * @param documents what is known of an update, by its identifier: the newest document of each source
 * @param told traits that a table tells, by the name of the host
 */
public record Snapshot(
        Map<UpdateId, List<UpdateDocument>> documents,
        Map<HostName, Map<String, Trait>> told,
        Carriages carriages,
        Evidence evidence,
        Weights weights,
        Decisions decisions) {

    public static final Snapshot EMPTY = new Snapshot(
            Map.of(),
            Map.of(),
            new Carriages(Catalogue.EMPTY, Fleet.EMPTY, CarrierIndex.EMPTY, CarrierIndex.EMPTY, Outcomes.NONE),
            Evidence.NONE,
            Weights.USUAL,
            Decisions.NONE);

    /**
     * With what a document says of an update, in the place of an earlier one of its source.
     *
     * @param read when it was read
     * @throws IllegalArgumentException if the documents of this update contradict each other
     */
    public Snapshot with(UpdateDocument document, Instant read) {
        return withReadings(Map.of(document.id(), List.of(new Reading(document, read))), this);
    }

    /** A document of an update, and when it was read. */
    public record Reading(UpdateDocument document, Instant read) {}

    /**
     * These updates as all their readings tell them, in the order in which they were read; what was known of them
     * counts no more.
     *
     * @throws IllegalArgumentException as {@link #with(UpdateDocument, Instant)}
     */
    public Snapshot withUpdates(Map<UpdateId, List<Reading>> readings) {
        return withReadings(readings, EMPTY);
    }

    /** @param before where the histories of the updates go on */
    private Snapshot withReadings(Map<UpdateId, List<Reading>> readings, Snapshot before) {
        Map<UpdateId, List<UpdateDocument>> next = new HashMap<>(documents);
        List<Update> updates = new ArrayList<>();
        readings.forEach((id, ofUpdate) -> {
            List<UpdateDocument> known = new ArrayList<>(before.documents.getOrDefault(id, List.of()));
            Optional<Update> update = before.catalogue().update(id);
            for (Reading reading : ofUpdate) {
                known.removeIf(reading.document()::takesThePlaceOf);
                known.add(reading.document());
                update = Optional.of(joined(known, update, reading.read()));
            }
            next.put(id, List.copyOf(known));
            update.ifPresent(updates::add);
        });
        return new Snapshot(next, told, carriages, evidence, weights, decisions)
                .with(new Carriages(
                        catalogue().with(updates),
                        fleet(),
                        carriages.installed(),
                        carriages.running(),
                        carriages.outcomes()));
    }

    private static Update joined(List<UpdateDocument> known, Optional<Update> before, Instant read) {
        return Update.join(
                known.stream()
                        .filter(document -> document instanceof Advisory)
                        .map(document -> (Advisory) document)
                        .toList(),
                known.stream()
                        .filter(document -> document instanceof UpdateNotice)
                        .map(document -> (UpdateNotice) document)
                        .findFirst(),
                before,
                read);
    }

    /** With other hosts retired than before: what they have counts nowhere, until they are back. */
    public Snapshot withRetired(RoaringBitmap retired) {
        return with(carriages.retiring(retired));
    }

    /** With hosts as they newly are; of retired ones only what is told of them. */
    public Snapshot withHosts(List<Host> hosts) {
        List<CarrierIndex.Change> installed = new ArrayList<>();
        List<CarrierIndex.Change> running = new ArrayList<>();
        for (Host host : hosts) {
            Optional<Host> before = fleet().host(host.name());
            if (before.filter(known -> fleet().isRetired(known.number())).isPresent()) {
                continue;
            }
            installed.add(new CarrierIndex.Change(
                    host.number(), before.map(Host::products).orElse(List.of()), host.products()));
            List<InstalledProduct> ran = before.map(Host::running).orElse(List.of());
            if (!ran.equals(host.running())) {
                running.add(new CarrierIndex.Change(host.number(), ran, host.running()));
            }
        }
        return with(new Carriages(
                catalogue(),
                fleet().with(hosts),
                carriages.installed().with(installed),
                carriages.running().with(running),
                carriages.outcomes()));
    }

    /** With the hosts of a snapshot that was made beside this one, which knows none of them. */
    public Snapshot withHostsOf(Snapshot other) {
        return with(new Carriages(
                catalogue(),
                fleet().with(other.fleet().hosts(other.fleet().all()).toList()),
                carriages.installed().joined(other.carriages.installed()),
                carriages.running().joined(other.carriages.running()),
                carriages.outcomes()));
    }

    public Snapshot withOutcomes(Collection<Outcome> outcomes) {
        return with(new Carriages(
                catalogue(),
                fleet(),
                carriages.installed(),
                carriages.running(),
                carriages.outcomes().with(outcomes)));
    }

    /** With traits that a table tells of hosts, whether or not these have reported yet. */
    public Snapshot withImportedTraits(Map<HostName, Map<String, Trait>> traits) {
        Map<HostName, Map<String, Trait>> next = new HashMap<>(told);
        next.putAll(traits);
        return new Snapshot(documents, next, carriages, evidence, weights, decisions);
    }

    public Snapshot with(Ladder ladder) {
        return with(new Carriages(
                catalogue(), fleet().with(ladder), carriages.installed(), carriages.running(), carriages.outcomes()));
    }

    private Snapshot with(Carriages next) {
        return new Snapshot(documents, told, next, evidence, weights, decisions);
    }

    public Snapshot with(Decisions next) {
        return new Snapshot(documents, told, carriages, evidence, weights, next);
    }

    public Snapshot with(Evidence next) {
        return new Snapshot(documents, told, carriages, next, weights, decisions);
    }

    public Snapshot with(Weights next) {
        return new Snapshot(documents, told, carriages, evidence, next, decisions);
    }

    /** With a day's exploit probabilities. */
    public Snapshot with(ExploitScores scores) {
        return with(evidence.with(
                scores,
                catalogue().updates().stream()
                        .flatMap(u -> u.vulnerabilities().stream())
                        .map(Vulnerability::id)
                        .distinct()
                        .toList()));
    }

    /**
     * What somebody sees who knows of these populations and their hosts only: of updates everything, of evidence, which
     * names hosts, nothing.
     */
    public Snapshot only(Set<PopulationId> populations) {
        return new Snapshot(documents, Map.of(), carriages.only(populations), Evidence.NONE, weights, decisions);
    }

    public Fleet fleet() {
        return carriages.fleet();
    }

    public Catalogue catalogue() {
        return carriages.catalogue();
    }

    /** @throws ProblemException if none is named or there is no such update */
    public Update update(UpdateId id) {
        if (id == null) {
            throw ProblemException.badField("update", "name the update");
        }
        return catalogue().update(id).orElseThrow(() -> ProblemException.notFound("there is no update " + id));
    }

    public Carriage carriage(Update update, Instant now) {
        return carriages.of(update, now);
    }

    /** What a docket rests on. */
    public Docket.Facts facts() {
        return new Docket.Facts(carriages, evidence, weights, decisions);
    }
}
