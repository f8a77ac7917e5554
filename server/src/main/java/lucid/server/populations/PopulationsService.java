package lucid.server.populations;

import java.nio.charset.StandardCharsets;
import java.security.Principal;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.format.DateTimeFormatter;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Deque;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import lucid.core.carriage.Carriages;
import lucid.core.carriage.HostsByRelease;
import lucid.core.fleet.ConditionSyntaxException;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.HostCondition;
import lucid.core.fleet.HostConditions;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.fleet.StandingRule;
import lucid.core.fleet.TargetRelease;
import lucid.core.fleet.Timing;
import lucid.core.forecast.Hours;
import lucid.core.ruling.LadderChange;
import lucid.core.update.Cadence;
import lucid.core.update.Catalogue;
import lucid.core.update.Kind;
import lucid.core.update.Rating;
import lucid.core.update.Update;
import lucid.formats.Documents;
import lucid.formats.document.Content;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.RefusedDocumentException;
import lucid.formats.populations.PopulationsWriter;
import lucid.server.audit.AuditEntry;
import lucid.server.snapshot.RequestKey;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.Digests;
import lucid.server.web.ETags;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Service;

/** Reads a ladder as it is worded, tells what it would change, and puts it in the place of the present one. */
@Service
class PopulationsService {

    private static final int MOST_WARNINGS = 50;

    private static final Duration SHORT_WINDOW = Duration.ofMinutes(30);

    private static final int SUPPORT_ENDS_SOON_DAYS = 30;
    private static final DateTimeFormatter DAY = DateTimeFormatter.ofPattern("EEE d MMM uuuu", Locale.ENGLISH);

    private final SnapshotStore store;
    private final LadderDocuments documents;
    private final Clock clock;

    PopulationsService(SnapshotStore store, LadderDocuments documents, Clock clock) {
        this.store = store;
        this.documents = documents;
        this.clock = clock;
    }

    /** The version of a ladder: another one as soon as anything in it is. */
    static String version(Ladder ladder) {
        return ETags.of(Digests.sha256(PopulationsWriter.write(ladder)).substring(0, 16));
    }

    /**
     * @param document of the format populations-1
     * @throws ProblemException naming the place in the document
     */
    Ladder read(String document, Fleet fleet) {
        try {
            if (!(Documents.read(document.getBytes(StandardCharsets.UTF_8), ReadingHints.none(clock.instant()))
                            .content()
                    instanceof Content.OfPopulations populations)) {
                throw ProblemException.badField("format", "expected a document of the format populations-1");
            }
            requireKnownTypes(populations.ladder(), fleet);
            return populations.ladder().following(fleet.ladder(), clock.instant());
        } catch (RefusedDocumentException e) {
            Problem first = e.problems().get(0);
            throw ProblemException.badField(first.place(), first.reason());
        }
    }

    private static void requireKnownTypes(Ladder ladder, Fleet fleet) {
        requireKnownTypes("/fleetRule", ladder.fleetRule(), fleet);
        for (int i = 0; i < ladder.populations().size(); i++) {
            Population population = ladder.populations().get(i);
            requireKnownTypes("/populations/" + i + "/condition", population.condition(), fleet);
            requireKnownTypes("/populations/" + i + "/rule", population.rule(), fleet);
        }
    }

    private static void requireKnownTypes(String place, StandingRule rule, Fleet fleet) {
        for (int line = 0; line < rule.lines().size(); line++) {
            String at = place + "/lines/" + line + "/where";
            rule.lines().get(line).hosts().ifPresent(condition -> requireKnownTypes(at, condition, fleet));
        }
    }

    private static void requireKnownTypes(String place, HostCondition condition, Fleet fleet) {
        try {
            HostConditions.parse(condition.toString(), fleet.traitTypes());
        } catch (ConditionSyntaxException e) {
            throw ProblemException.badField(place, e.getMessage());
        }
    }

    LadderChange change(Snapshot snapshot, Ladder next) {
        return LadderChange.of(snapshot.carriages(), snapshot.decisions(), next, clock.instant());
    }

    /**
     * Names in the ladder that no host has, populations that own nobody, and settings that do more, or less, than they
     * seem to; none of them is wrong for sure.
     */
    static List<String> warnings(Ladder ladder, Fleet after, Carriages carriages, Instant now) {
        List<String> warnings = new ArrayList<>();
        for (Population population : ladder.populations()) {
            Stream.of(population.includes(), population.excludes(), population.protectedHosts())
                    .flatMap(names -> names.stream().sorted())
                    .filter(name -> after.host(name).isEmpty())
                    .forEach(name -> warnings.add(population.name() + " names " + name + ", which has not reported."));
            if (after.members(population.id()).isEmpty()) {
                warnings.add(population.name() + " owns no host.");
            }
            warnings.addAll(dangers(population, now));
            warnings.addAll(overtaken(population, carriages.catalogue(), now));
            if (waitsForItself(population, ladder)) {
                warnings.add(
                        population.name()
                                + " waits for the tries of a population that waits for its own: nobody begins before the latest day.");
            }
            population
                    .staysAt()
                    .forEach(target -> warnings.addAll(dangers(
                            population,
                            HostsByRelease.of(target, after.members(population.id()), carriages.installed()),
                            now)));
        }
        return warnings.size() <= MOST_WARNINGS ? warnings : List.copyOf(warnings.subList(0, MOST_WARNINGS));
    }

    private static List<String> dangers(Population population, HostsByRelease hosts, Instant now) {
        TargetRelease target = hosts.target();
        String release = target.product().name() + " " + target.release();
        List<String> dangers = new ArrayList<>();
        LocalDate today = LocalDate.ofInstant(now, population.zone());
        target.supportEnds()
                .filter(day -> day.isBefore(today.plusDays(SUPPORT_ENDS_SOON_DAYS)))
                .ifPresent(day -> dangers.add(population.name() + " stays at " + release + ", whose support "
                        + (day.isBefore(today) ? "has ended" : "ends") + " on " + DAY.format(day) + "."));
        if (hosts.below().isEmpty() && hosts.at().isEmpty() && hosts.above().isEmpty()) {
            dangers.add("No host of " + population.name() + " has " + target.product() + ", at whose release "
                    + target.release() + " it is to stay.");
        } else if (hosts.at().isEmpty() && hosts.below().isEmpty()) {
            dangers.add("Every host of " + population.name() + " is above " + release + " already.");
        }
        return dangers;
    }

    /**
     * What follows updates of a kind comes before they are due, or before they are offered where they never are due.
     */
    private static List<String> overtaken(Population population, Catalogue catalogue, Instant now) {
        StandingRule.Offer offer = population.rule().usualOffer(Kind.CUMULATIVE, Rating.HIGH);
        Optional<Duration> takes = offer.after()
                .map(StandingRule.AfterTries::latest)
                .or(offer::delay)
                .map(delay -> delay.plus(offer.deadline().orElse(Duration.ZERO)));
        return takes.stream()
                .flatMap(days -> catalogue.updates().stream()
                        .filter(update -> update.kind() == Kind.CUMULATIVE)
                        .map(Update::vendor)
                        .distinct()
                        .sorted()
                        .flatMap(vendor -> Cadence.of(vendor, Kind.CUMULATIVE, catalogue, now).stream())
                        .filter(cadence -> cadence.between().compareTo(days) < 0)
                        .map(cadence -> population.name() + " takes " + days.toDays()
                                + " days for a cumulative update rated High; " + cadence.vendor()
                                + " releases one every " + cadence.between().toDays()
                                + ": the next one comes first."))
                .toList();
    }

    private static boolean waitsForItself(Population population, Ladder ladder) {
        Set<PopulationId> waitedFor = new HashSet<>();
        Deque<PopulationId> next = new ArrayDeque<>(List.of(population.id()));
        while (!next.isEmpty()) {
            for (PopulationId id : waitsFor(ladder.find(next.remove()))) {
                if (id.equals(population.id())) {
                    return true;
                }
                if (waitedFor.add(id)) {
                    next.add(id);
                }
            }
        }
        return false;
    }

    private static List<PopulationId> waitsFor(Optional<Population> population) {
        return population.stream()
                .flatMap(one -> one.rule().lines().stream())
                .flatMap(line -> line.offer().after().stream())
                .map(StandingRule.AfterTries::population)
                .toList();
    }

    private static List<String> dangers(Population population, Instant now) {
        List<String> dangers = new ArrayList<>();
        boolean upgradesAtOnce = Stream.of(Rating.values())
                .flatMap(rating -> population.rule().offersOf(Kind.UPGRADE, rating).stream())
                .anyMatch(offer -> offer.delay().filter(Duration::isZero).isPresent()
                        && offer.after().isEmpty());
        if (upgradesAtOnce) {
            dangers.add(population.name() + " is offered platform upgrades on the day of their release.");
        }
        Timing timing = population.timing();
        Hours hours = Hours.of(population, now, now.plus(Duration.ofDays(60)));
        if (hours.allowed(now).isEmpty()) {
            dangers.add(population.name() + " is busy around the clock: nothing is installed there before it is due.");
        }
        if (!timing.windows().isEmpty()
                && hours.nextAllowed(now, 10).stream().allMatch(span -> span.until()
                        .filter(end -> Duration.between(span.from(), end).compareTo(SHORT_WINDOW) < 0)
                        .isPresent())) {
            dangers.add("No window of " + population.name()
                    + " lasts half an hour: an install or a restart may not fit into it.");
        }
        return dangers;
    }

    /**
     * @param ifMatch version of the ladder from which this one was made, or null
     * @param proposal number of the document on Intake that proposed it
     */
    SavedLadder save(
            String document, String ifMatch, Optional<Long> proposal, Optional<RequestKey> request, Principal who) {
        return store.writeOnce(request, 0, SavedLadder.class, snapshot -> {
            Ladder next = read(document, snapshot.fleet());
            ETags.require(
                    ifMatch,
                    version(snapshot.fleet().ladder()),
                    "somebody else changed the populations meanwhile; look at them again before you save");
            LadderChange change = change(snapshot, next);
            long number = documents.keep(next, proposal, who);
            store.record(
                    AuditEntry.Kind.POPULATIONS,
                    "",
                    who,
                    "Populations: " + sentence(snapshot.fleet().ladder(), next, change));
            int moved = change.moves().stream()
                    .mapToInt(move -> move.hosts().getCardinality())
                    .sum();
            return new SnapshotStore.Change<>(
                    snapshot.with(next), new SavedLadder(version(next), moved, "/api/populations/versions/" + number));
        });
    }

    /**
     * @param moved number of hosts that went from one population to another
     * @param undo address to which a DELETE puts the ladder before in its place again
     */
    record SavedLadder(String version, int moved, String undo) {}

    /** The ladder that held before that of this document, which must be the present one. */
    Ladder before(long document) {
        return documents
                .before(document)
                .orElseThrow(() -> new ProblemException(
                        HttpStatus.CONFLICT, "number", "the populations were changed since; nothing was taken back"));
    }

    void takeBack(long document, Principal who) {
        store.write(snapshot -> {
            Ladder before = before(document).following(snapshot.fleet().ladder(), clock.instant());
            documents.keep(before, Optional.empty(), who);
            store.record(
                    AuditEntry.Kind.POPULATIONS,
                    "",
                    who,
                    "Took back the change of populations: "
                            + sentence(snapshot.fleet().ladder(), before, change(snapshot, before)));
            return new SnapshotStore.Change<>(snapshot.with(before), true);
        });
    }

    private static String sentence(Ladder before, Ladder next, LadderChange change) {
        List<String> parts = new ArrayList<>();
        named(next, before).ifPresent(names -> parts.add("added " + names));
        named(before, next).ifPresent(names -> parts.add("removed " + names));
        String changed = next.populations().stream()
                .filter(p ->
                        before.find(p.id()).filter(other -> !other.equals(p)).isPresent())
                .map(Population::name)
                .collect(Collectors.joining(", "));
        if (!changed.isEmpty()) {
            parts.add("changed " + changed);
        }
        if (!next.fleetRule().equals(before.fleetRule())) {
            parts.add("changed the fleet's rule");
        }
        if (parts.isEmpty()) {
            parts.add("put in another order");
        }
        String moves = change.moves().stream()
                .map(m -> m.hosts().getCardinality() + " from "
                        + m.from().map(Population::name).orElse("none") + " to "
                        + m.to().map(Population::name).orElse("none"))
                .collect(Collectors.joining(", "));
        return String.join(", ", parts) + "; " + (moves.isEmpty() ? "no host moved." : "hosts moved: " + moves + ".");
    }

    /** Names of the populations that are in one ladder and not in the other. */
    private static Optional<String> named(Ladder in, Ladder notIn) {
        return Optional.of(in.populations().stream()
                        .filter(p -> notIn.find(p.id()).isEmpty())
                        .map(Population::name)
                        .collect(Collectors.joining(", ")))
                .filter(names -> !names.isEmpty());
    }
}
