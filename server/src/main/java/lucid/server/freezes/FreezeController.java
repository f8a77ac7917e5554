package lucid.server.freezes;

import java.security.Principal;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Stream;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.fleet.Spread;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Freeze;
import lucid.core.ruling.FreezeConsequence;
import lucid.core.update.UpdateId;
import lucid.server.audit.AuditEntry;
import lucid.server.decisions.Revocable;
import lucid.server.decisions.Undo;
import lucid.server.snapshot.RequestKeys;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.views.DeliveryView.PartView;
import lucid.server.views.Views.HostList;
import lucid.server.web.ProblemException;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Freezes: between two instants nothing is offered, installed or restarted. */
@RestController
@RequestMapping("/api/freezes")
class FreezeController {

    private static final int LONGEST_REASON = 2_000;
    private static final int MOST_PARTS = 30;
    private static final int MOST_HOURS_APART = 7 * 24;
    private static final Duration FARTHEST = Duration.ofDays(366);
    private static final DateTimeFormatter INSTANT =
            DateTimeFormatter.ofPattern("EEE d MMM uuuu HH:mm", Locale.ENGLISH).withZone(ZoneOffset.UTC);

    private final SnapshotStore store;
    private final FreezeMapper mapper;
    private final RequestKeys keys;
    private final Clock clock;

    FreezeController(SnapshotStore store, FreezeMapper mapper, RequestKeys keys, Clock clock) {
        this.store = store;
        this.mapper = mapper;
        this.keys = keys;
        this.clock = clock;
    }

    /**
     * A freeze as it is worded.
     *
     * @param populations none: all
     * @param from none: now
     * @param until when it ends; where its end is spread, for the first part
     * @param parts in how many parts it ends; none: 1, for all hosts at once
     * @param hoursApart between two parts; none: a day
     */
    record FreezeDraft(
            List<PopulationId> populations,
            Optional<Instant> from,
            Instant until,
            Optional<Integer> parts,
            Optional<Integer> hoursApart,
            String reason) {
        FreezeDraft {
            parts = parts == null ? Optional.empty() : parts;
            hoursApart = hoursApart == null ? Optional.empty() : hoursApart;
            populations = populations == null ? List.of() : List.copyOf(populations);
            from = from == null ? Optional.empty() : from;
            reason = reason == null ? "" : reason.strip();
        }
    }

    /** @param ends in which parts it ends; one, unless its end is spread */
    record FreezeView(
            DecisionNumber.OfFreeze number,
            List<PopulationId> populations,
            List<String> populationNames,
            Instant from,
            Instant until,
            String reason,
            String author,
            Instant createdAt,
            boolean stands,
            List<PartView> ends,
            String undo) {
        static FreezeView of(Freeze freeze, Fleet fleet, Instant now) {
            List<Population> entries = freeze.isOfAll()
                    ? List.of()
                    : fleet.ladder().entries().stream()
                            .filter(entry -> freeze.covers(entry.id()))
                            .toList();
            return new FreezeView(
                    freeze.number(),
                    entries.stream().map(Population::id).toList(),
                    entries.stream().map(Population::name).toList(),
                    freeze.from(),
                    freeze.until(),
                    freeze.reason(),
                    freeze.author(),
                    freeze.createdAt(),
                    freeze.standsAt(now),
                    PartView.all(freeze.parts(hosts(freeze, fleet)), fleet),
                    Undo.of(Revocable.Kind.FREEZE, List.of(freeze.number().value())));
        }
    }

    /** Those that hold now or are still to come, what begins first in front. */
    @GetMapping
    List<FreezeView> all(Snapshot snapshot) {
        Instant now = clock.instant();
        return snapshot.decisions().freezes().stream()
                .filter(freeze -> freeze.isMadeBy(now) && freeze.until().isAfter(now))
                .sorted(Comparator.comparing(Freeze::from).thenComparing(Freeze::number))
                .map(freeze -> FreezeView.of(freeze, snapshot.fleet(), now))
                .toList();
    }

    record FrozenUpdate(UpdateId update, String title, HostList hosts) {}

    /**
     * What a freeze would do, by update, where it is most first.
     *
     * @param hosts that it is for
     * @param stopped updates that are offered as it begins, and would not be
     * @param staged updates that hosts have downloaded: a freeze alone may not stop those
     * @param due updates that would fall due meanwhile, and wait
     * @param arriving updates that are offered as it ends
     * @param ends in which parts it ends; one, unless its end is spread
     */
    record FreezeConsequenceView(
            Instant from,
            Instant until,
            int hosts,
            List<FrozenUpdate> stopped,
            List<FrozenUpdate> staged,
            List<FrozenUpdate> due,
            List<FrozenUpdate> arriving,
            List<PartView> ends) {}

    @PostMapping("/preview")
    FreezeConsequenceView preview(@RequestBody FreezeDraft draft, Principal who, Snapshot snapshot) {
        Instant now = clock.instant();
        Freeze freeze = freeze(draft, snapshot, who, now);
        FreezeConsequence consequence = FreezeConsequence.of(freeze, snapshot.carriages(), snapshot.decisions(), now);
        return new FreezeConsequenceView(
                freeze.from(),
                freeze.until(),
                consequence.hosts().getCardinality(),
                updates(consequence, FreezeConsequence.OfUpdate::stopped, snapshot.fleet()),
                updates(consequence, FreezeConsequence.OfUpdate::staged, snapshot.fleet()),
                updates(consequence, FreezeConsequence.OfUpdate::due, snapshot.fleet()),
                updates(consequence, FreezeConsequence.OfUpdate::arriving, snapshot.fleet()),
                PartView.all(freeze.parts(consequence.hosts()), snapshot.fleet()));
    }

    private static RoaringBitmap hosts(Freeze freeze, Fleet fleet) {
        RoaringBitmap hosts = new RoaringBitmap();
        fleet.ladder().entries().stream()
                .filter(entry -> freeze.covers(entry.id()))
                .forEach(entry -> hosts.or(fleet.members(entry.id())));
        return hosts;
    }

    private static List<FrozenUpdate> updates(
            FreezeConsequence consequence, Function<FreezeConsequence.OfUpdate, RoaringBitmap> which, Fleet fleet) {
        return consequence.updates().stream()
                .filter(of -> !which.apply(of).isEmpty())
                .map(of -> new FrozenUpdate(of.update().id(), of.update().title(), HostList.of(fleet, which.apply(of))))
                .sorted(Comparator.comparing((FrozenUpdate of) -> -of.hosts().count())
                        .thenComparing(FrozenUpdate::update))
                .toList();
    }

    private static Freeze freeze(FreezeDraft draft, Snapshot snapshot, Principal who, Instant now) {
        for (PopulationId population : draft.populations()) {
            if (snapshot.fleet().ladder().entry(population).isEmpty()) {
                throw ProblemException.badField("populations", "there is no population " + population);
            }
        }
        if (draft.until() == null) {
            throw ProblemException.badField("until", "choose when it ends: nothing is frozen for ever");
        }
        Instant from = draft.from().filter(now::isBefore).orElse(now);
        if (from.isAfter(now.plus(FARTHEST))) {
            throw ProblemException.badField("from", "more than a year away");
        }
        if (!draft.until().isAfter(from)) {
            throw ProblemException.badField("until", "it ends before it begins");
        }
        int parts = draft.parts().orElse(1);
        int hoursApart = draft.hoursApart().orElse(24);
        if (parts < 1 || parts > MOST_PARTS) {
            throw ProblemException.badField("parts", "choose 1 to " + MOST_PARTS + " parts");
        }
        if (hoursApart < 1 || hoursApart > MOST_HOURS_APART) {
            throw ProblemException.badField("hoursApart", "choose 1 to " + MOST_HOURS_APART + " hours");
        }
        Instant last = draft.until().plus(Duration.ofHours((long) hoursApart * (parts - 1)));
        if (last.isAfter(from.plus(Freeze.LONGEST))) {
            throw ProblemException.badField("until", "a freeze lasts at most " + Freeze.LONGEST.toDays() + " days");
        }
        Freeze freeze = new Freeze(
                snapshot.decisions().nextFreeze(),
                Set.copyOf(draft.populations()),
                from,
                last,
                draft.reason(),
                who.getName(),
                now,
                Optional.empty());
        return parts == 1
                ? freeze
                : freeze.spreadOver(Spread.of(
                        hosts(freeze, snapshot.fleet()),
                        Stream.iterate(draft.until(), end -> end.plus(Duration.ofHours(hoursApart)))
                                .limit(parts)
                                .toList(),
                        "freeze " + freeze.number(),
                        snapshot.fleet()));
    }

    /** @param undo address to which a DELETE takes it back */
    record Frozen(DecisionNumber.OfFreeze number, int hosts, String undo) {}

    @PostMapping
    @ResponseStatus(HttpStatus.CREATED)
    Frozen freeze(
            @RequestBody FreezeDraft draft,
            @RequestHeader(name = "Idempotency-Key", required = false) String key,
            Principal who) {
        ProblemException.requireProse("reason", draft.reason(), LONGEST_REASON, "say why");
        return store.writeOnce(keys.of(key, who, "freeze", draft), 0, Frozen.class, snapshot -> {
            Freeze freeze = freeze(draft, snapshot, who, clock.instant());
            mapper.add(freeze);
            store.record(
                    AuditEntry.Kind.VERDICT,
                    "",
                    who,
                    (freeze.isOfAll()
                                    ? "Stopped everything"
                                    : "Froze " + FreezeWords.populations(freeze, snapshot.fleet()))
                            + " from " + INSTANT.format(freeze.from()) + " to "
                            + INSTANT.format(freeze.until()) + " (UTC)"
                            + freeze.spread()
                                    .map(spread -> ", its end spread over "
                                            + spread.parts().size() + " parts from "
                                            + INSTANT.format(
                                                    spread.parts().get(0).at()) + " on")
                                    .orElse("")
                            + ", because " + freeze.reason() + ".",
                    Revocable.Kind.FREEZE.about(freeze.number().value()));
            int hosts = hosts(freeze, snapshot.fleet()).getCardinality();
            return new SnapshotStore.Change<>(
                    snapshot.with(snapshot.decisions().with(freeze)),
                    new Frozen(
                            freeze.number(),
                            hosts,
                            Undo.of(
                                    Revocable.Kind.FREEZE,
                                    List.of(freeze.number().value()))));
        });
    }
}
