package lucid.server.reporting;

import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import lucid.core.carriage.Carriage;
import lucid.core.fleet.Outcome;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.ReasonWord;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Kind;
import lucid.core.update.Rating;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.server.audit.AuditEntry;
import lucid.server.audit.AuditLog;
import lucid.server.snapshot.Snapshot;
import lucid.server.verdicts.VerdictSheets;
import lucid.server.views.DeliveryView;
import lucid.server.views.Views.HostList;
import lucid.server.views.Views.StateCounts;
import lucid.server.web.ProblemException;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RestController;

/** A verdict on one page: the sentence, how the case stood, what was foreseen, and what then happened. */
@RestController
class SheetController {

    private static final int MOST_ENTRIES = 40;

    private final VerdictSheets sheets;
    private final AuditLog record;
    private final Clock clock;

    SheetController(VerdictSheets sheets, AuditLog record, Clock clock) {
        this.sheets = sheets;
        this.record = record;
        this.clock = clock;
    }

    /** @param present false if it is no longer known here */
    record SheetUpdate(UpdateId id, String title, String vendor, Kind kind, Rating rating, boolean present) {}

    /**
     * What became of the hosts that it was for when it was handed down.
     *
     * @param hosts all of them
     * @param states of those that are still here
     * @param gone hosts that are retired since
     * @param failedSince hosts on which an install failed after it was handed down, whatever came later
     * @param foreseen of an offer: hosts that were foreseen to have it by now
     * @param have hosts that have it
     * @param forecastWrong true if these two differ by more than a handful of hosts and more than a tenth
     */
    record WhatBecame(
            int hosts,
            StateCounts states,
            int gone,
            HostList failedSince,
            Optional<Integer> foreseen,
            int have,
            boolean forecastWrong) {}

    /**
     * @param stood how the case stood, and what was foreseen, where that was kept
     * @param became none where nobody kept whom it was for
     * @param since what was recorded of the update from then on, the earliest first
     */
    record SheetView(
            DecisionNumber.OfVerdict number,
            SheetUpdate update,
            String revision,
            VerdictType type,
            boolean letGo,
            PopulationId population,
            String populationName,
            String timeZone,
            Optional<String> where,
            Instant createdAt,
            String author,
            Optional<String> approver,
            List<ReasonWord> reasons,
            String words,
            Instant end,
            Optional<Instant> takenBack,
            boolean stands,
            DeliveryView delivery,
            Optional<VerdictSheets.Sheet> stood,
            Optional<WhatBecame> became,
            List<AuditEntry> since,
            Instant at) {}

    @GetMapping("/api/verdicts/{number}/sheet")
    SheetView sheet(@PathVariable long number, Snapshot snapshot) {
        Instant now = clock.instant();
        Verdict verdict = snapshot.decisions()
                .verdict(new DecisionNumber.OfVerdict(number))
                .orElseThrow(() -> ProblemException.notFound("there is no verdict no. " + number));
        Optional<Update> update = snapshot.catalogue().update(verdict.updateId());
        Optional<Population> population = snapshot.fleet().ladder().entry(verdict.populationId());
        Optional<VerdictSheets.Sheet> kept = sheets.find(verdict.number());
        return new SheetView(
                verdict.number(),
                update.map(one -> new SheetUpdate(one.id(), one.title(), one.vendor(), one.kind(), one.rating(), true))
                        .orElseGet(
                                () -> new SheetUpdate(verdict.updateId(), "", "", Kind.BUGFIX, Rating.UNRATED, false)),
                verdict.revision(),
                verdict.type(),
                verdict.isLetGo(),
                verdict.populationId(),
                population.map(Population::name).orElse(verdict.populationId().value()),
                population.map(entry -> entry.zone().getId()).orElse("Z"),
                verdict.narrowing().map(Object::toString),
                verdict.createdAt(),
                verdict.author(),
                verdict.origin().approver(),
                verdict.reasons().stream().sorted().toList(),
                verdict.words(),
                verdict.end(),
                verdict.revokedAt(),
                verdict.standsAt(now),
                DeliveryView.of(verdict),
                kept,
                update.filter(one -> !verdict.then().decided().isEmpty())
                        .map(one -> became(verdict, one, kept, snapshot, now)),
                record.since(verdict.updateId().value(), verdict.createdAt(), MOST_ENTRIES),
                now);
    }

    private static WhatBecame became(
            Verdict verdict, Update update, Optional<VerdictSheets.Sheet> kept, Snapshot snapshot, Instant now) {
        RoaringBitmap then = verdict.then().decided();
        RoaringBitmap here = RoaringBitmap.and(then, snapshot.fleet().all());
        Carriage carriage = snapshot.carriage(update, now);
        RoaringBitmap failed = new RoaringBitmap();
        snapshot.carriages().outcomes().failures(update.id()).forEach((host, failures) -> {
            if (then.contains(host)
                    && failures.stream().map(Outcome::at).anyMatch(at -> at.isAfter(verdict.createdAt()))) {
                failed.add(host);
            }
        });
        int have = RoaringBitmap.andCardinality(here, carriage.having());
        Optional<VerdictSheets.ForeseenThen> foreseen = kept.map(VerdictSheets.Sheet::foreseen)
                .filter(one -> !one.foresight().curve().isEmpty());
        return new WhatBecame(
                then.getCardinality(),
                StateCounts.of(carriage.counts(here)),
                then.getCardinality() - here.getCardinality(),
                HostList.of(snapshot.fleet(), failed),
                foreseen.map(one -> one.foresight().by(now)),
                have,
                foreseen.filter(one -> one.foresight().isWrong(now, have, then.getCardinality()))
                        .isPresent());
    }
}
