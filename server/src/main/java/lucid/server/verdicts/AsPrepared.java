package lucid.server.verdicts;

import java.security.Principal;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import lucid.core.fleet.Population;
import lucid.core.forecast.Hours;
import lucid.core.pilot.Pilot;
import lucid.core.ruling.Consequence;
import lucid.core.ruling.Consequences;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Update;
import lucid.server.audit.AuditEntry;
import lucid.server.pilots.PreparedVerdicts;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.verdicts.Wording.Worded;
import org.springframework.stereotype.Component;

/** What was prepared for when a pilot has answered, handed down in the name of who prepared it. */
@Component
class AsPrepared implements PreparedVerdicts {

    private final SnapshotStore store;
    private final VerdictMapper verdicts;

    AsPrepared(SnapshotStore store, VerdictMapper verdicts) {
        this.store = store;
        this.verdicts = verdicts;
    }

    private record Author(String getName) implements Principal {}

    /**
     * Where the update is another by now, or its population is gone, somebody is asked instead: its case has the cue.
     */
    @Override
    public Snapshot handDown(Snapshot snapshot, List<Verdict> pilots, Pilot.Then then, Instant now) {
        Snapshot next = snapshot;
        for (Verdict pilot : pilots) {
            Optional<Population> population = next.fleet().ladder().entry(pilot.populationId());
            Update update = next.update(pilot.updateId());
            if (population.isEmpty()
                    || !update.revision().equals(pilot.revision())
                    || !update.canBeOffered()
                    || !pilot.standsAt(now)) {
                continue;
            }
            Verdict draft = new Verdict(
                    next.decisions().nextVerdict(),
                    pilot.subject(),
                    then.forcedWithin().isPresent() ? VerdictType.FORCE : VerdictType.DEFER,
                    then.forcedWithin()
                            .map(days -> Hours.dueOn(
                                    LocalDate.ofInstant(now, population.get().zone())
                                            .plusDays(days),
                                    population.get(),
                                    now))
                            .orElse(now),
                    new Verdict.Reason(pilot.reasons(), "as prepared: its pilot was met"),
                    new Verdict.Origin(pilot.author(), now, pilot.origin().approver()),
                    pilot.goesOver(),
                    Optional.empty());
            Consequence consequence = Consequences.of(
                    draft, update, next.carriage(update, now), next.fleet(), next.decisions(), next.catalogue(), now);
            Verdict verdict = draft.at(consequence.moment());
            verdicts.add(verdict);
            store.record(
                    AuditEntry.Kind.VERDICT,
                    update.id().value(),
                    new Author(pilot.author()),
                    VerdictService.sentence(Worded.plainly(verdict, population.get(), consequence)));
            next = next.with(next.decisions().with(verdict));
        }
        return next;
    }
}
