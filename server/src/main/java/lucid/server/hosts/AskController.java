package lucid.server.hosts;

import java.security.Principal;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.fleet.Host;
import lucid.core.fleet.HostName;
import lucid.core.fleet.Outcome;
import lucid.core.update.UpdateId;
import lucid.server.orders.Asks;
import lucid.server.snapshot.Snapshot;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Asks hosts to report at once, and tells what came of it. */
@RestController
class AskController {

    private static final int MOST = 2_000;
    /** What was asked longer ago is history. */
    private static final Duration SHOWN = Duration.ofDays(3);

    private final Asks asks;
    private final HostHistoryMapper history;
    private final Clock clock;

    AskController(Asks asks, HostHistoryMapper history, Clock clock) {
        this.asks = asks;
        this.history = history;
        this.clock = clock;
    }

    record AskDraft(List<HostName> hosts) {}

    /** @param unknown names that no host has */
    record AskResult(int asked, List<HostName> unknown) {}

    @PostMapping("/api/asks")
    @ResponseStatus(HttpStatus.CREATED)
    AskResult ask(@RequestBody AskDraft draft, Principal who, Snapshot snapshot) {
        if (draft.hosts() == null || draft.hosts().isEmpty() || draft.hosts().size() > MOST) {
            throw ProblemException.badField("hosts", "name 1 to 2,000 hosts that are to report");
        }
        List<Host> known = new ArrayList<>();
        List<HostName> unknown = new ArrayList<>();
        draft.hosts().stream()
                .distinct()
                .forEach(name -> snapshot.fleet().host(name).ifPresentOrElse(known::add, () -> unknown.add(name)));
        if (!known.isEmpty()) {
            asks.ask(known, who);
        }
        return new AskResult(known.size(), unknown);
    }

    record SinceAsked(UpdateId update, Outcome.What what, Instant at, Optional<String> code) {}

    /**
     * @param answeredAt its newest report since it was asked, by its own clock
     * @param startedAt when it was started anew after it was asked
     * @param happened what it told since, the earliest first; some of it may have happened before it was asked
     */
    record AskedHost(
            HostName host,
            Instant askedAt,
            String askedBy,
            Optional<Instant> answeredAt,
            Optional<Instant> startedAt,
            List<SinceAsked> happened) {}

    /** The hosts that were asked within three days; first those that have not answered. */
    @GetMapping("/api/asks")
    List<AskedHost> asked(Snapshot snapshot) {
        Instant since = clock.instant().minus(SHOWN);
        Map<Integer, List<SinceAsked>> happened = new HashMap<>();
        history.outcomesSince(since).forEach(one -> happened.computeIfAbsent(one.host(), host -> new ArrayList<>())
                .add(new SinceAsked(
                        new UpdateId(one.update()), one.what(), one.at(), Optional.ofNullable(one.code()))));
        return snapshot.fleet()
                .hosts(snapshot.fleet().all())
                .flatMap(host -> asks.of(host).filter(ask -> ask.at().isAfter(since)).stream()
                        .map(ask -> view(host, ask, happened.getOrDefault(host.number(), List.of()))))
                .sorted(Comparator.comparing((AskedHost one) -> one.answeredAt().isPresent())
                        .thenComparing(AskedHost::host))
                .toList();
    }

    private static AskedHost view(Host host, Asks.Ask ask, List<SinceAsked> happened) {
        return new AskedHost(
                host.name(),
                ask.at(),
                ask.by(),
                Optional.of(host.lastReport()).filter(at -> ask.isAnsweredBy(host)),
                host.lastStart().filter(at -> at.isAfter(ask.at())),
                happened.stream().filter(one -> one.at().isAfter(ask.before())).toList());
    }
}
