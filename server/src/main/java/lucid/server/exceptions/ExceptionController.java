package lucid.server.exceptions;

import java.security.Principal;
import java.time.Clock;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import lucid.core.evidence.KnownIssue;
import lucid.core.fleet.HostCondition;
import lucid.core.ruling.Consequences;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Effect;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.server.audit.AuditEntry;
import lucid.server.decisions.Revocable;
import lucid.server.decisions.Undo;
import lucid.server.exceptions.ExceptionMapper.ScopeType;
import lucid.server.snapshot.RequestKeys;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.views.CaseVersions;
import lucid.server.views.ConditionParser;
import lucid.server.views.ConsequenceView;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Exceptions: hosts that depart from the verdicts until a day. */
@RestController
@RequestMapping("/api/exceptions")
class ExceptionController {

    /** A list of some hundred hosts by name. */
    private static final int LONGEST_HOSTS = 6_000;

    private final SnapshotStore store;
    private final ExceptionMapper mapper;
    private final RequestKeys keys;
    private final Clock clock;

    ExceptionController(SnapshotStore store, ExceptionMapper mapper, RequestKeys keys, Clock clock) {
        this.store = store;
        this.mapper = mapper;
        this.keys = keys;
        this.clock = clock;
    }

    /**
     * An exception as it is worded.
     *
     * @param update the case on which it is made; its consequence is shown for this update
     * @param scope about this update, about one product of it, or about its kind
     * @param product package URL, where the scope is a product
     * @param hosts condition
     * @param effect what holds instead; none: withheld
     * @param endsWhen what ends it before its day; only where it is about one update
     * @param endsIssue identifier of the known issue that must be fixed, where that ends it
     */
    record ExceptionDraft(
            UpdateId update,
            ScopeType scope,
            Optional<String> product,
            String hosts,
            Optional<Effect> effect,
            Optional<LocalDate> until,
            String reason,
            String owner,
            String measure,
            Optional<ExceptionGrant.EndsWhen.Type> endsWhen,
            Optional<String> endsIssue) {}

    /** @param undo address to which a DELETE takes it back */
    record MadeException(DecisionNumber.OfException number, String undo) {}

    @PostMapping("/preview")
    ConsequenceView consequence(@RequestBody ExceptionDraft draft, Principal who, Snapshot snapshot) {
        return ConsequenceView.of(
                Consequences.of(
                        exception(snapshot, draft, who),
                        update(snapshot, draft),
                        snapshot.carriage(update(snapshot, draft), clock.instant()),
                        snapshot.fleet(),
                        snapshot.decisions(),
                        snapshot.catalogue(),
                        clock.instant()),
                snapshot.fleet(),
                snapshot.decisions());
    }

    @PostMapping
    @ResponseStatus(HttpStatus.CREATED)
    MadeException make(
            @RequestBody ExceptionDraft draft,
            @RequestHeader(name = HttpHeaders.IF_MATCH, required = false) String ifMatch,
            @RequestHeader(name = "Idempotency-Key", required = false) String key,
            Principal who) {
        ProblemException.requireLine("reason", draft.reason(), 2000, "say why these hosts depart from the verdicts");
        if (!text(draft.measure()).isEmpty()) {
            ProblemException.requireLine("measure", draft.measure(), 2000, "");
        }
        ProblemException.requireLine(
                "owner", draft.owner(), 200, "name the owner: who answers for it and is asked before it ends");
        return store.writeOnce(keys.of(key, who, "exception", draft), 0, MadeException.class, snapshot -> {
            ExceptionGrant exception = exception(snapshot, draft, who);
            CaseVersions.require(ifMatch, snapshot, update(snapshot, draft));
            if (snapshot.fleet()
                    .matching(exception.hosts(), snapshot.fleet().all())
                    .isEmpty()) {
                throw ProblemException.badField("hosts", "no host matches " + exception.hosts());
            }
            mapper.add(ExceptionMapper.Row.of(exception));
            store.record(
                    AuditEntry.Kind.EXCEPTION,
                    draft.update().value(),
                    who,
                    "Made an exception: " + ExceptionWords.effect(exception.effect()) + " "
                            + ExceptionMapper.wordsOf(exception.scope())
                            + " where " + exception.hosts()
                            + " until "
                            + ExceptionWords.lastDay(exception.until(), exception.hosts(), snapshot.fleet())
                            + early(exception)
                            + ", because " + exception.reason() + "; owner " + exception.owner() + ".");
            return new SnapshotStore.Change<>(
                    snapshot.with(snapshot.decisions().with(exception)),
                    new MadeException(
                            exception.number(),
                            Undo.of(
                                    Revocable.Kind.EXCEPTION,
                                    List.of(exception.number().value()))));
        });
    }

    private ExceptionGrant exception(Snapshot snapshot, ExceptionDraft draft, Principal who) {
        HostCondition hosts = ConditionParser.read("hosts", text(draft.hosts()), snapshot.fleet(), LONGEST_HOSTS);
        return new ExceptionGrant(
                snapshot.decisions().nextException(),
                scope(update(snapshot, draft), draft),
                hosts,
                effect(draft),
                ExceptionWords.end(
                        draft.until().orElse(null), ExceptionWords.zone(snapshot.fleet(), hosts), clock.instant()),
                text(draft.reason()),
                text(draft.owner()),
                text(draft.measure()),
                who.getName(),
                clock.instant(),
                Optional.empty(),
                List.of(),
                0,
                endsWhen(snapshot, draft));
    }

    private static Optional<ExceptionGrant.EndsWhen> endsWhen(Snapshot snapshot, ExceptionDraft draft) {
        if (draft.endsWhen().isEmpty()) {
            return Optional.empty();
        }
        if (draft.scope() != ScopeType.UPDATE) {
            throw ProblemException.badField(
                    "endsWhen", "only an exception on one update ends with a successor or an issue");
        }
        ExceptionGrant.EndsWhen.Type type = draft.endsWhen().get();
        List<Update> successors = snapshot.catalogue().successorsOf(draft.update()).stream()
                .filter(Update::canBeOffered)
                .toList();
        if (type == ExceptionGrant.EndsWhen.Type.SUCCESSOR && !successors.isEmpty()) {
            throw ProblemException.badField("endsWhen", successors.get(0).id() + " supersedes it already");
        }
        String issue = draft.endsIssue().map(String::strip).orElse("");
        if (type == ExceptionGrant.EndsWhen.Type.ISSUE_FIXED
                && snapshot.evidence().issuesOf(draft.update()).stream()
                        .noneMatch(known -> known.id().equals(issue) && known.state() != KnownIssue.State.FIXED)) {
            throw ProblemException.badField(
                    "endsIssue", "choose a known issue of " + draft.update() + " that is not fixed");
        }
        return Optional.of(new ExceptionGrant.EndsWhen(
                type, type == ExceptionGrant.EndsWhen.Type.SUCCESSOR ? "" : issue, Optional.empty()));
    }

    private static String early(ExceptionGrant exception) {
        return exception
                .endsWhen()
                .map(when -> switch (when.type()) {
                    case SUCCESSOR -> ", or until a successor is released";
                    case ISSUE_FIXED -> ", or until the known issue " + when.issue() + " is fixed";
                })
                .orElse("");
    }

    private static Update update(Snapshot snapshot, ExceptionDraft draft) {
        return snapshot.update(draft.update());
    }

    private static ExceptionGrant.Scope scope(Update update, ExceptionDraft draft) {
        if (draft.scope() == null) {
            throw ProblemException.badField("scope", "choose what it is about: the update, a product or a kind");
        }
        return switch (draft.scope()) {
            case UPDATE -> new ExceptionGrant.Scope.OfUpdate(update.id());
            case KIND -> new ExceptionGrant.Scope.OfKind(update.kind());
            case PRODUCT ->
                new ExceptionGrant.Scope.OfProduct(update.fixes().stream()
                        .map(fix -> fix.build().product())
                        .filter(product ->
                                draft.product().filter(product.purl()::equals).isPresent())
                        .findFirst()
                        .orElseThrow(() ->
                                ProblemException.badField("product", "choose one of the products of " + update.id())));
        };
    }

    private static Effect effect(ExceptionDraft draft) {
        Effect effect = draft.effect().orElse(Effect.WITHHELD);
        if (!Set.of(Effect.WITHHELD, Effect.OFFERED, Effect.BY_OPERATOR).contains(effect)) {
            throw ProblemException.badField("effect", "an exception withholds, offers, or leaves it to the operator");
        }
        return effect;
    }

    private static String text(String text) {
        return text == null ? "" : text.strip();
    }
}
