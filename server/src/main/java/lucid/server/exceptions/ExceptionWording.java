package lucid.server.exceptions;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import lucid.core.evidence.KnownIssue;
import lucid.core.fleet.HostCondition;
import lucid.core.ruling.Effect;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.update.Update;
import lucid.server.exceptions.ExceptionMapper.ScopeType;
import lucid.server.snapshot.Snapshot;
import lucid.server.views.ConditionParser;
import lucid.server.web.ProblemException;

/** Reads an exception as it is worded. */
final class ExceptionWording {

    /** A list of some hundred hosts by name. */
    private static final int LONGEST_HOSTS = 6_000;

    private ExceptionWording() {}

    /** @throws ProblemException for words without which nobody answers for it */
    static void requireWords(ExceptionDraft draft) {
        ProblemException.requireLine("reason", draft.reason(), 2000, "say why these hosts depart from the verdicts");
        if (!text(draft.measure()).isEmpty()) {
            ProblemException.requireLine("measure", draft.measure(), 2000, "");
        }
        ProblemException.requireLine(
                "owner", draft.owner(), 200, "name the owner: who answers for it and is asked before it ends");
    }

    static ExceptionGrant of(
            Snapshot snapshot, ExceptionDraft draft, String author, Optional<String> approver, Instant now) {
        HostCondition hosts = ConditionParser.read("hosts", text(draft.hosts()), snapshot.fleet(), LONGEST_HOSTS);
        return new ExceptionGrant(
                snapshot.decisions().nextException(),
                scope(snapshot.update(draft.update()), draft),
                hosts,
                effect(draft),
                ExceptionWords.end(draft.until().orElse(null), ExceptionWords.zone(snapshot.fleet(), hosts), now),
                text(draft.reason()),
                text(draft.owner()),
                text(draft.measure()),
                author,
                now,
                Optional.empty(),
                List.of(),
                0,
                endsWhen(snapshot, draft),
                approver);
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
