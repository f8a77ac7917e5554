package lucid.server.populations;

import java.nio.charset.StandardCharsets;
import java.security.Principal;
import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.stream.Collectors;
import lucid.core.fleet.ConditionSyntaxException;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.HostCondition;
import lucid.core.fleet.HostConditions;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Population;
import lucid.core.fleet.StandingRule;
import lucid.core.ruling.LadderChange;
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
        List<String> differences = LadderWords.differences(before, next);
        if (!differences.isEmpty()) {
            parts.add("changed " + String.join("; ", differences));
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
