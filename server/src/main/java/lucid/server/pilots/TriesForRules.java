package lucid.server.pilots;

import java.security.Principal;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import java.util.stream.Stream;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.fleet.StandingRule;
import lucid.core.pilot.PopulationTries;
import lucid.core.ruling.TriesShown;
import lucid.core.update.Update;
import lucid.server.audit.AuditEntry;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.stereotype.Component;

/**
 * Where the rule of one population waits for the tries of another: notes when these have shown enough of an update, or
 * that it fails too often.
 */
@Component
class TriesForRules {

    private final SnapshotStore store;
    private final TriesMapper mapper;

    TriesForRules(SnapshotStore store, TriesMapper mapper) {
        this.store = store;
        this.mapper = mapper;
    }

    /** @param author in whose name it stands in the record */
    void look(Snapshot snapshot, Principal author, Instant now) {
        Map<PopulationId, List<Update>> waitedFor = waitedFor(snapshot, now);
        List<TriesShown> news = new ArrayList<>();
        waitedFor.forEach((population, updates) -> updates.forEach(
                update -> news(update, population, snapshot, now).ifPresent(news::add)));
        if (news.isEmpty()) {
            return;
        }
        store.write(latest -> {
            for (TriesShown one : news) {
                mapper.put(one);
                store.record(AuditEntry.Kind.VERDICT, one.updateId().value(), author, sentence(one, latest.fleet()));
            }
            return new SnapshotStore.Change<>(latest.with(latest.decisions().withShown(news)), true);
        });
    }

    /** Of which updates the tries of a population may still let others go. */
    private static Map<PopulationId, List<Update>> waitedFor(Snapshot snapshot, Instant now) {
        Map<PopulationId, List<Update>> waitedFor = new TreeMap<>();
        List<Population> entries = snapshot.fleet().ladder().entries();
        for (Update update : snapshot.catalogue().updates()) {
            entries.stream()
                    .flatMap(entry -> entry.rule().offersOf(update.kind(), update.rating()).stream())
                    .flatMap(offer -> offer.after().stream())
                    .filter(after -> isOpen(update, after, now))
                    .map(StandingRule.AfterTries::population)
                    .distinct()
                    .forEach(population -> waitedFor
                            .computeIfAbsent(population, id -> new ArrayList<>())
                            .add(update));
        }
        return waitedFor;
    }

    /** While the fleet is watchful its latest day is twice as far away. */
    private static boolean isOpen(Update update, StandingRule.AfterTries after, Instant now) {
        Duration longest = after.latest().multipliedBy(2);
        return Stream.of(update.published(), update.firstRead())
                .anyMatch(since -> since.plus(longest).isAfter(now));
    }

    private static Optional<TriesShown> news(Update update, PopulationId population, Snapshot snapshot, Instant now) {
        if (snapshot.fleet().ladder().entry(population).isEmpty()) {
            return Optional.empty();
        }
        TriesShown before = snapshot.decisions().shownOf(update.id()).stream()
                .filter(one -> one.population().equals(population))
                .filter(one -> Stream.concat(one.metAt().stream(), one.failedAt().stream())
                        .allMatch(at -> update.newFixesAfter(at).isEmpty()))
                .findFirst()
                .orElseGet(() -> TriesShown.nothing(update.id(), population));
        if (before.failedAt().isPresent()) {
            return Optional.empty();
        }
        RoaringBitmap members = RoaringBitmap.and(
                snapshot.fleet().members(population),
                snapshot.carriage(update, now).applicable());
        PopulationTries tries = PopulationTries.of(members, DrawnPilot.tried(update, snapshot, now));
        return tries.haveFailed()
                ? Optional.of(before.failed(now))
                : tries.areEnough() && before.metAt().isEmpty() ? Optional.of(before.met(now)) : Optional.empty();
    }

    private static String sentence(TriesShown shown, Fleet fleet) {
        String population = fleet.ladder()
                .entry(shown.population())
                .map(Population::name)
                .orElse(shown.population().value());
        return shown.failedAt().isPresent()
                ? "The tries of " + shown.updateId() + " on " + population
                        + " failed too often: populations whose rule waits for them are not offered it until somebody judges."
                : "The tries of " + shown.updateId() + " on " + population
                        + " have shown enough: populations whose rule waits for them go on.";
    }
}
