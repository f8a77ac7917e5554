package lucid.server.operators;

import java.security.Principal;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.util.List;
import java.util.Optional;
import lucid.core.fleet.HostName;
import lucid.core.fleet.PopulationId;
import lucid.core.forecast.Hours;
import lucid.core.operators.OperatorEntry;
import lucid.core.operators.OperatorWork;
import lucid.core.update.Rating;
import lucid.core.update.RestartNeed;
import lucid.core.update.UpdateId;
import lucid.server.operators.Operators.OperatorSaid;
import lucid.server.snapshot.RequestKeys;
import lucid.server.snapshot.Snapshot;
import lucid.server.views.DeliveryView.OperatorView;
import lucid.server.views.Views.RuleMatchView;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** What operators are to install, and what they say of it: the agreed slot, or that it is done. */
@RestController
@RequestMapping("/api/operator-work")
class OperatorController {

    /** So far ahead hours are looked for in which something may be installed. */
    private static final Duration HOURS_AHEAD = Duration.ofDays(35);

    private static final int MOST_STRETCHES = 3;

    private final Operators operators;
    private final RequestKeys keys;
    private final Clock clock;

    OperatorController(Operators operators, RequestKeys keys, Clock clock) {
        this.operators = operators;
        this.keys = keys;
        this.clock = clock;
    }

    /** @param slot none: it is done */
    record OperatorEntryView(long number, Optional<OperatorEntry.Slot> slot, String words, String author, Instant at) {
        static OperatorEntryView of(OperatorEntry entry) {
            return new OperatorEntryView(entry.number(), entry.slot(), entry.words(), entry.author(), entry.at());
        }
    }

    /**
     * @param due by when it is asked for on this host
     * @param late whether that is past
     * @param said what its operator last said
     */
    record HostWorkView(
            HostName host,
            OperatorWork.Standing standing,
            Optional<Instant> due,
            boolean late,
            Instant lastReport,
            Optional<OperatorEntryView> said) {
        static HostWorkView of(OperatorWork.HostWork one, Instant now) {
            return new HostWorkView(
                    one.host().name(),
                    one.standing(),
                    one.due(),
                    one.isLate(now),
                    one.host().lastReport(),
                    one.entry().map(OperatorEntryView::of));
        }
    }

    /**
     * One update that the operator of a population is to install.
     *
     * @param owner of the population
     * @param zone in which its hours are told
     * @param words why it was decided; empty where nobody did
     * @param author who decided it
     * @param allowed the next stretches in which something may be installed there
     * @param hosts those that lack it, in the order in which they are to follow
     * @param concerned how many hosts of the population it speaks of, also those that have it
     */
    record OperatorWorkView(
            UpdateId update,
            String title,
            Rating rating,
            String revision,
            RestartNeed restart,
            PopulationId populationId,
            String population,
            String owner,
            ZoneId zone,
            RuleMatchView match,
            OperatorView told,
            String words,
            Optional<String> author,
            List<Hours.Span> allowed,
            List<HostWorkView> hosts,
            int concerned) {}

    /** What is due first comes first. @param update only what is to be done for this one */
    @GetMapping
    List<OperatorWorkView> all(@RequestParam Optional<UpdateId> update, Snapshot snapshot) {
        Instant now = clock.instant();
        return update
                .map(id -> operators.work(List.of(snapshot.update(id)), snapshot))
                .orElseGet(() -> operators.work(snapshot))
                .stream()
                .map(work -> view(work, snapshot, now))
                .toList();
    }

    private static OperatorWorkView view(OperatorWork work, Snapshot snapshot, Instant now) {
        return new OperatorWorkView(
                work.update().id(),
                work.update().title(),
                work.update().rating(),
                work.update().revision(),
                work.update().restart(),
                work.population().id(),
                work.population().name(),
                work.population().owner(),
                work.population().zone(),
                RuleMatchView.of(work.match(), snapshot.decisions()),
                new OperatorView(work.told().checklist(), work.told().order()),
                work.verdict().map(one -> one.reason().words()).orElse(""),
                work.verdict().map(one -> one.origin().author()),
                Hours.of(work.population(), now, now.plus(HOURS_AHEAD)).nextAllowed(now, MOST_STRETCHES),
                work.hosts().stream().map(host -> HostWorkView.of(host, now)).toList(),
                work.concerned());
    }

    /** Only of what there is to do can be said that it is agreed or done. */
    @PostMapping("/entries")
    @ResponseStatus(HttpStatus.CREATED)
    OperatorSaid say(
            @RequestBody OperatorEntryDraft draft,
            @RequestHeader(name = "Idempotency-Key", required = false) String key,
            Principal who,
            Snapshot snapshot) {
        return operators.say(draft, keys.of(key, who, "operator entry", draft), who, snapshot);
    }

    @DeleteMapping("/entries/{number}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void takeBack(@PathVariable long number, Principal who, Snapshot snapshot) {
        operators.takeBack(number, who, snapshot);
    }
}
