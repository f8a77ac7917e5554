package lucid.server.cautions;

import java.security.Principal;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Optional;
import lucid.core.ruling.Caution;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.Opening;
import lucid.server.audit.AuditEntry;
import lucid.server.decisions.Revocable;
import lucid.server.decisions.Undo;
import lucid.server.snapshot.RequestKeys;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.views.OpeningView;
import lucid.server.views.Views;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** The fleet's declared caution. */
@RestController
@RequestMapping("/api/cautions")
class CautionController {

    private static final int LONGEST_REASON = 2_000;
    private static final int LONGEST_OWNER = 200;
    private static final int LONGEST_DAYS = 92;
    private static final DateTimeFormatter DAY = DateTimeFormatter.ofPattern("EEE d MMM uuuu", Locale.ENGLISH);

    private final SnapshotStore store;
    private final CautionMapper mapper;
    private final RequestKeys keys;
    private final Clock clock;

    CautionController(SnapshotStore store, CautionMapper mapper, RequestKeys keys, Clock clock) {
        this.store = store;
        this.mapper = mapper;
        this.keys = keys;
        this.clock = clock;
    }

    /** @param until last day on which it holds, in UTC */
    record CautionDraft(Caution.Level level, Optional<LocalDate> until, String reason, String owner) {
        CautionDraft {
            until = until == null ? Optional.empty() : until;
            reason = reason == null ? "" : reason.strip();
            owner = owner == null ? "" : owner.strip();
        }
    }

    record CautionView(
            DecisionNumber.OfCaution number,
            Caution.Level level,
            Instant until,
            String reason,
            String owner,
            String author,
            Instant createdAt,
            String undo) {}

    /** Those that stand; the first is the one that counts. */
    @GetMapping
    List<CautionView> all(Snapshot snapshot) {
        Instant now = clock.instant();
        return snapshot.decisions().cautions().stream()
                .filter(caution -> caution.standsAt(now))
                .sorted(Comparator.comparing(Caution::number).reversed())
                .map(caution -> new CautionView(
                        caution.number(),
                        caution.level(),
                        caution.until(),
                        caution.reason(),
                        caution.owner(),
                        caution.author(),
                        caution.createdAt(),
                        Undo.of(Revocable.Kind.CAUTION, List.of(caution.number().value()))))
                .toList();
    }

    /** The updates that would go to other hosts than now if it were declared; nothing is kept. */
    @PostMapping("/preview")
    List<OpeningView> preview(@RequestBody CautionDraft draft, Principal who, Snapshot snapshot) {
        Instant now = clock.instant();
        Decisions after = snapshot.decisions().with(caution(draft, snapshot, who, now));
        return snapshot.catalogue().updates().stream()
                .map(update -> Opening.of(
                        update,
                        snapshot.carriage(update, now),
                        snapshot.fleet(),
                        snapshot.catalogue(),
                        snapshot.decisions(),
                        after,
                        now))
                .filter(opening -> !opening.isEmpty())
                .sorted(Comparator.comparing(
                                (Opening opening) -> -opening.withheld().getCardinality())
                        .thenComparing(opening -> opening.update().id()))
                .map(opening -> OpeningView.of(opening, snapshot.fleet()))
                .toList();
    }

    private static Caution caution(CautionDraft draft, Snapshot snapshot, Principal who, Instant now) {
        if (draft.level() == null) {
            throw ProblemException.badField("level", "choose watchful or judged only");
        }
        LocalDate day = draft.until()
                .orElseThrow(() -> ProblemException.badField("until", "choose a day: nothing withholds for ever"));
        LocalDate today = LocalDate.ofInstant(now, ZoneOffset.UTC);
        if (day.isBefore(today)) {
            throw ProblemException.badField("until", DAY.format(day) + " is past");
        }
        if (day.isAfter(today.plusDays(LONGEST_DAYS))) {
            throw ProblemException.badField("until", "caution lasts at most " + LONGEST_DAYS + " days");
        }
        return new Caution(
                snapshot.decisions().nextCaution(),
                draft.level(),
                Views.endOfDay(day, ZoneOffset.UTC),
                draft.reason(),
                draft.owner().isEmpty() ? who.getName() : draft.owner(),
                who.getName(),
                now,
                Optional.empty());
    }

    /** @param undo address to which a DELETE takes it back */
    record DeclaredCaution(DecisionNumber.OfCaution number, String undo) {}

    @PostMapping
    @ResponseStatus(HttpStatus.CREATED)
    DeclaredCaution declare(
            @RequestBody CautionDraft draft,
            @RequestHeader(name = "Idempotency-Key", required = false) String key,
            Principal who) {
        ProblemException.requireProse("reason", draft.reason(), LONGEST_REASON, "say why");
        if (draft.owner().length() > LONGEST_OWNER) {
            throw ProblemException.badField("owner", "at most " + LONGEST_OWNER + " characters");
        }
        return store.writeOnce(keys.of(key, who, "caution", draft), 0, DeclaredCaution.class, snapshot -> {
            Caution caution = caution(draft, snapshot, who, clock.instant());
            mapper.add(caution);
            store.record(
                    AuditEntry.Kind.VERDICT,
                    "",
                    who,
                    "Declared the fleet " + RevocableCautions.words(caution.level()) + " until the end of "
                            + DAY.format(draft.until().orElseThrow()) + ", owner " + caution.owner() + ", because "
                            + caution.reason() + ".",
                    Revocable.Kind.CAUTION.about(caution.number().value()));
            return new SnapshotStore.Change<>(
                    snapshot.with(snapshot.decisions().with(caution)),
                    new DeclaredCaution(
                            caution.number(),
                            Undo.of(
                                    Revocable.Kind.CAUTION,
                                    List.of(caution.number().value()))));
        });
    }
}
