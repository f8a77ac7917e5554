package lucid.server.inforce;

import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.ruling.Acknowledgement;
import lucid.core.ruling.Decision;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.InForce;
import lucid.core.ruling.InForce.Stood;
import lucid.core.ruling.ReasonWord;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.server.days.KeptDays;
import lucid.server.inforce.DecisionWords.Kind;
import lucid.server.snapshot.Snapshot;
import lucid.server.views.Views;
import lucid.server.web.ListFile;
import lucid.server.web.ProblemException;
import org.springdoc.core.annotations.ParameterObject;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/**
 * What people had decided and was in force at the end of a past day, and what became of it. Which hosts it was for is
 * not kept; a force, and what was left to the rule, are told only if hosts lacked the update then or nobody knew, as
 * far as that day was kept.
 */
@RestController
@RequestMapping("/api/in-force")
class PastInForceController {

    private final KeptDays days;
    private final Clock clock;

    PastInForceController(KeptDays days, Clock clock) {
        this.days = days;
        this.clock = clock;
    }

    enum Since {
        STILL_STANDS,
        /** An exception that was renewed, or handed over: it goes on as another. */
        WENT_ON,
        ENDED,
        TAKEN_BACK
    }

    /**
     * @param populations names of those that it was for; none for an exception, and for a freeze of all
     * @param where narrowing of a verdict, or the hosts of an exception
     * @param end when it ended or would have ended; of a force, when it was due
     * @param became what became of it since
     * @param becameAt when; none for what still stands
     */
    record StoodRow(
            Kind kind,
            DecisionNumber number,
            Optional<UpdateId> update,
            String title,
            String about,
            List<String> populations,
            Optional<String> where,
            Instant since,
            String author,
            Optional<String> owner,
            String timeZone,
            Instant end,
            List<ReasonWord> reasons,
            String words,
            Since became,
            Optional<Instant> becameAt) {}

    /**
     * @param at the end of the day, in UTC
     * @param keptDay the last day until then whose states were kept; none: what depends on them is told all the same
     * @param people authors and owners of all that was in force
     */
    record StoodPage(Instant at, Optional<LocalDate> keptDay, List<StoodRow> rows, Set<String> people) {}

    private StoodPage page(LocalDate on, DecisionWords.Asked asked, Snapshot snapshot) {
        Instant now = clock.instant();
        Instant at = Views.endOfDay(on, ZoneOffset.UTC);
        if (at.isAfter(now)) {
            throw ProblemException.badField("on", on + " has not ended yet");
        }
        Optional<LocalDate> kept = days.at(on).map(KeptDays.Day::day);
        Map<UpdateId, KeptDays.Counted> counted = kept.map(days::updatesAt).orElse(Map.of());
        List<Stood> all = InForce.stoodAt(snapshot.catalogue(), snapshot.decisions(), at).stream()
                .filter(one -> kept.isEmpty() || wasLacked(one, counted))
                .toList();
        return new StoodPage(
                at,
                kept,
                all.stream()
                        .filter(one -> asked.matches(one.decision(), one.update(), snapshot))
                        .map(one -> row(one, snapshot, now))
                        .toList(),
                all.stream()
                        .flatMap(one -> DecisionWords.people(one.decision()))
                        .collect(Collectors.toCollection(TreeSet::new)));
    }

    /** Only of what depends on its hosts it is asked. */
    private static boolean wasLacked(Stood one, Map<UpdateId, KeptDays.Counted> counted) {
        boolean dependsOnHosts = one.decision() instanceof Acknowledgement
                || one.decision() instanceof Verdict verdict && verdict.type() == VerdictType.FORCE;
        return !dependsOnHosts
                || one.update()
                        .flatMap(update -> Optional.ofNullable(counted.get(update.id())))
                        .filter(then -> then.counts().entrySet().stream()
                                .anyMatch(of -> isFor(one.decision(), of.getKey())
                                        && of.getValue().partly()
                                                        + of.getValue().failed()
                                                        + of.getValue().missing()
                                                        + of.getValue().unknown()
                                                > 0))
                        .isPresent();
    }

    private static boolean isFor(Decision decision, PopulationId population) {
        return decision instanceof Verdict verdict
                ? verdict.populationId().equals(population)
                : ((Acknowledgement) decision).covers(population);
    }

    private static StoodRow row(Stood one, Snapshot snapshot, Instant now) {
        Decision decision = one.decision();
        List<Population> entries = DecisionWords.populations(decision, snapshot.fleet());
        boolean ended = !one.end().isAfter(now)
                && !(decision instanceof Verdict verdict && verdict.type() == VerdictType.FORCE);
        return new StoodRow(
                DecisionWords.kind(decision),
                decision.number(),
                one.update().map(Update::id),
                one.update().map(Update::title).orElse(""),
                DecisionWords.about(decision, one.update()),
                entries.stream().map(Population::name).toList(),
                DecisionWords.where(decision),
                decision.createdAt(),
                DecisionWords.people(decision).findFirst().orElseThrow(),
                DecisionWords.owner(decision),
                entries.size() == 1 ? entries.get(0).zone().getId() : "Z",
                one.end(),
                decision instanceof Verdict verdict
                        ? verdict.reasons().stream().sorted().toList()
                        : List.of(),
                DecisionWords.words(decision),
                became(decision, ended, snapshot),
                decision.revokedAt().or(() -> Optional.of(one.end()).filter(end -> ended)));
    }

    private static Since became(Decision decision, boolean ended, Snapshot snapshot) {
        if (decision.revokedAt().isPresent()) {
            return snapshot.decisions().exceptions().stream()
                            .anyMatch(later -> later.before().contains(decision.number()))
                    ? Since.WENT_ON
                    : Since.TAKEN_BACK;
        }
        return ended ? Since.ENDED : Since.STILL_STANDS;
    }

    @GetMapping("/past")
    StoodPage past(@RequestParam LocalDate on, @ParameterObject DecisionWords.Asked asked, Snapshot snapshot) {
        return page(on, asked, snapshot);
    }

    @GetMapping(path = "/past.csv", produces = "text/csv")
    ResponseEntity<ListFile> csv(
            @RequestParam LocalDate on, @ParameterObject DecisionWords.Asked asked, Snapshot snapshot) {
        StoodPage page = page(on, asked, snapshot);
        return ListFile.csv(
                "in-force-" + on + ".csv",
                List.of(
                        "end",
                        "kind",
                        "number",
                        "about",
                        "title",
                        "populations",
                        "where",
                        "since",
                        "author",
                        "owner",
                        "words",
                        "became",
                        "when",
                        "as of"),
                page.rows().stream()
                        .map(row -> List.of(
                                row.end(),
                                row.kind().word(),
                                row.number(),
                                row.about(),
                                row.title(),
                                String.join("; ", row.populations()),
                                row.where().orElse(""),
                                row.since(),
                                row.author(),
                                row.owner().orElse(""),
                                row.words(),
                                row.became().name().toLowerCase().replace('_', ' '),
                                row.becameAt().map(Instant::toString).orElse(""),
                                page.at())));
    }
}
