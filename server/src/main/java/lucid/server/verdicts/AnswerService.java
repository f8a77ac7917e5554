package lucid.server.verdicts;

import java.security.Principal;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Collectors;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.ruling.Acknowledgement;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.Timeline;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.server.audit.AuditEntry;
import lucid.server.decisions.Revocable;
import lucid.server.decisions.Undo;
import lucid.server.snapshot.RequestKey;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.views.CaseVersions;
import lucid.server.views.Views;
import lucid.server.web.ProblemException;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.stereotype.Service;

/** Leaves updates to the rule. */
@Service
class AnswerService {

    /** Where the rule never offers what is left to it, the case comes back after so long. */
    private static final Duration UNTIL_LOOKED_AT_AGAIN = Duration.ofDays(30);

    private static final DateTimeFormatter DAY = DateTimeFormatter.ofPattern("EEE d MMM uuuu", Locale.ENGLISH);

    private final SnapshotStore store;
    private final AcknowledgementMapper answers;
    private final Clock clock;

    AnswerService(SnapshotStore store, AcknowledgementMapper answers, Clock clock) {
        this.store = store;
        this.answers = answers;
        this.clock = clock;
    }

    record GivenAnswer(DecisionNumber.OfAcknowledgement number, UpdateId update) {}

    /** @param undo address to which a DELETE takes all of them back */
    record GivenAnswers(List<GivenAnswer> acknowledgements, String undo) {}

    /**
     * Leaves updates to the rule.
     *
     * @param populations entries of the ladder for which each is left to it; empty: all that have hosts which lack it
     * @param ifMatch versions of the cases as they were seen
     */
    GivenAnswers leaveToTheRule(
            List<UpdateId> updates,
            List<PopulationId> populations,
            String ifMatch,
            Optional<RequestKey> request,
            Principal who) {
        return store.writeOnce(request, 0, GivenAnswers.class, snapshot -> {
            Instant now = clock.instant();
            List<Population> chosen = populations.stream()
                    .distinct()
                    .map(id -> snapshot.fleet()
                            .ladder()
                            .entry(id)
                            .orElseThrow(
                                    () -> ProblemException.badField("populations", "there is no population " + id)))
                    .toList();
            Decisions decisions = snapshot.decisions();
            List<GivenAnswer> given = new ArrayList<>();
            for (UpdateId id : new LinkedHashSet<>(updates)) {
                Update update = snapshot.update(id);
                CaseVersions.require(ifMatch, snapshot, update);
                RoaringBitmap lacking = snapshot.carriage(update, now).lacking();
                List<Population> entries = chosen.isEmpty() ? with(lacking, snapshot.fleet()) : chosen;
                Timeline timeline = Timeline.of(update, decisions, snapshot.fleet(), snapshot.catalogue());
                RoaringBitmap hosts = RoaringBitmap.and(
                        lacking,
                        Views.members(
                                snapshot.fleet(),
                                entries.stream().map(Population::id).toList()));
                boolean never = timeline.offeredByRule(hosts, now).stream()
                        .anyMatch(of -> of.at().isEmpty());
                Acknowledgement answer = new Acknowledgement(
                        decisions.nextAcknowledgement(),
                        update.id(),
                        entries.stream().map(Population::id).collect(Collectors.toSet()),
                        never ? Optional.of(now.plus(UNTIL_LOOKED_AT_AGAIN)) : Optional.empty(),
                        who.getName(),
                        now,
                        Optional.empty(),
                        Optional.of(lacking));
                answers.add(answer);
                store.record(
                        AuditEntry.Kind.ANSWER,
                        id.value(),
                        who,
                        "Left " + id + " to the rule"
                                + (entries.isEmpty()
                                        ? ""
                                        : " for "
                                                + entries.stream()
                                                        .map(Population::name)
                                                        .collect(Collectors.joining(", ")))
                                + answer.lookAgain()
                                        .map(day -> "; where the rule never offers it, it comes back on "
                                                + DAY.format(LocalDate.ofInstant(day, ZoneOffset.UTC)))
                                        .orElse("")
                                + ".",
                        Revocable.Kind.ACKNOWLEDGEMENT.about(answer.number().value()));
                decisions = decisions.with(answer);
                given.add(new GivenAnswer(answer.number(), id));
            }
            return new SnapshotStore.Change<>(
                    snapshot.with(decisions),
                    new GivenAnswers(
                            given,
                            Undo.of(
                                    Revocable.Kind.ACKNOWLEDGEMENT,
                                    given.stream()
                                            .map(one -> one.number().value())
                                            .toList())));
        });
    }

    private static List<Population> with(RoaringBitmap hosts, Fleet fleet) {
        return fleet.ladder().entries().stream()
                .filter(entry -> RoaringBitmap.intersects(fleet.members(entry.id()), hosts))
                .toList();
    }
}
