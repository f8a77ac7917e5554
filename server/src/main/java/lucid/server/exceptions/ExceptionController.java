package lucid.server.exceptions;

import java.security.Principal;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.Locale;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Population;
import lucid.core.fleet.Predicate;
import lucid.core.ruling.Answer;
import lucid.core.ruling.Consequences;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.update.Update;
import lucid.server.exceptions.ExceptionMapper.ScopeType;
import lucid.server.record.RecordEntry;
import lucid.server.state.Picture;
import lucid.server.state.State;
import lucid.server.views.ConsequenceView;
import lucid.server.views.Narrowings;
import lucid.server.views.Views;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Exceptions: hosts that depart from the verdicts until a day. */
@RestController
@RequestMapping("/api/exceptions")
class ExceptionController {

    private static final int LONGEST_DAYS = 366;
    private static final DateTimeFormatter DAY = DateTimeFormatter.ofPattern("EEE d MMM uuuu", Locale.ENGLISH);

    private final State state;
    private final ExceptionMapper mapper;
    private final Clock clock;

    ExceptionController(State state, ExceptionMapper mapper, Clock clock) {
        this.state = state;
        this.mapper = mapper;
        this.clock = clock;
    }

    /**
     * An exception as it is worded.
     *
     * @param update the case on which it is made; its consequence is shown for this update
     * @param scope about this update, about one product of it, or about its kind
     * @param product package URL, where the scope is a product
     * @param hosts predicate
     * @param effect what holds instead; none: withheld
     */
    record ExceptionDraft(String update, ScopeType scope, Optional<String> product, String hosts, Optional<Answer> effect, Optional<LocalDate> until, String reason,
            String owner, String measure) {}

    record MadeException(long number) {}

    @PostMapping("/consequences")
    ConsequenceView consequence(@RequestBody ExceptionDraft draft, Principal who) {
        Picture picture = state.picture();
        return ConsequenceView.of(
                Consequences.of(exception(picture, draft, who), update(picture, draft),
                        picture.carriage(update(picture, draft), clock.instant()), picture.fleet(), picture.decisions(), picture.catalogue(), clock.instant()),
                picture.fleet(), picture.decisions());
    }

    @PostMapping
    @ResponseStatus(HttpStatus.CREATED)
    MadeException make(@RequestBody ExceptionDraft draft, Principal who) {
        ProblemException.requireLine("reason", draft.reason(), 2000, "say why these hosts depart from the verdicts");
        if (!text(draft.measure()).isEmpty()) {
            ProblemException.requireLine("measure", draft.measure(), 2000, "");
        }
        ProblemException.requireLine("owner", draft.owner(), 200, "name the owner: who answers for it and is asked before it ends");
        return state.write(picture -> {
            ExceptionGrant exception = exception(picture, draft, who);
            if (picture.fleet().matching(exception.hosts(), picture.fleet().all()).isEmpty()) {
                throw ProblemException.badField("hosts", "no host matches " + exception.hosts());
            }
            mapper.add(ExceptionMapper.Row.of(exception));
            state.record(RecordEntry.Kind.EXCEPTION, draft.update(), who, "Made an exception: " + words(exception.effect()) + " " + about(exception) + " where " + exception.hosts()
                    + " until " + DAY.format(LocalDate.ofInstant(exception.until().minusMillis(1), zone(picture.fleet(), exception.hosts())))
                    + ", because " + exception.reason() + "; owner " + exception.owner() + ".");
            return new State.Written<>(picture.with(picture.decisions().with(exception)), new MadeException(exception.number()));
        });
    }

    @DeleteMapping("/{number}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void takeBack(@PathVariable long number, Principal who) {
        state.write(picture -> {
            Instant now = clock.instant();
            ExceptionGrant exception = picture.decisions().exception(number).orElseThrow(() -> ProblemException.notFound("there is no exception " + number));
            if (mapper.takeBack(number, now) == 0) {
                throw new ProblemException(HttpStatus.CONFLICT, "number", "this exception was taken back before");
            }
            String subject = exception.scope() instanceof ExceptionGrant.Scope.OfUpdate update ? update.updateId() : "";
            state.record(RecordEntry.Kind.TAKEN_BACK, subject, who, "Took back the exception on " + about(exception) + " where " + exception.hosts() + ".");
            return new State.Written<>(picture.with(picture.decisions().with(exception.takenBackAt(now))), true);
        });
    }

    private ExceptionGrant exception(Picture picture, ExceptionDraft draft, Principal who) {
        Predicate hosts = Narrowings.read("hosts", text(draft.hosts()), picture.fleet());
        long number = picture.decisions().nextException();
        return new ExceptionGrant(number, scope(update(picture, draft), draft), hosts, effect(draft), end(draft, zone(picture.fleet(), hosts)), text(draft.reason()), text(draft.owner()),
                text(draft.measure()), who.getName(), clock.instant(), Optional.empty());
    }

    private static Update update(Picture picture, ExceptionDraft draft) {
        return picture.update(text(draft.update()));
    }

    private static ExceptionGrant.Scope scope(Update update, ExceptionDraft draft) {
        if (draft.scope() == null) {
            throw ProblemException.badField("scope", "choose what it is about: the update, a product or a kind");
        }
        return switch (draft.scope()) {
            case UPDATE -> new ExceptionGrant.Scope.OfUpdate(update.id());
            case KIND -> new ExceptionGrant.Scope.OfKind(update.kind());
            case PRODUCT -> new ExceptionGrant.Scope.OfProduct(update.fixes().stream()
                    .map(fix -> fix.build().product())
                    .filter(product -> draft.product().filter(product.purl()::equals).isPresent())
                    .findFirst()
                    .orElseThrow(() -> ProblemException.badField("product", "choose one of the products of " + update.id())));
        };
    }

    private static Answer effect(ExceptionDraft draft) {
        Answer effect = draft.effect().orElse(Answer.WITHHELD);
        if (!Set.of(Answer.WITHHELD, Answer.OFFERED, Answer.BY_OPERATOR).contains(effect)) {
            throw ProblemException.badField("effect", "an exception withholds, offers, or leaves it to the operator");
        }
        return effect;
    }

    private Instant end(ExceptionDraft draft, ZoneId zone) {
        LocalDate day = draft.until().orElseThrow(() -> ProblemException.badField("until", "choose a day: every exception ends"));
        LocalDate today = LocalDate.ofInstant(clock.instant(), zone);
        if (day.isBefore(today) || day.isAfter(today.plusDays(LONGEST_DAYS))) {
            throw ProblemException.badField("until", DAY.format(day) + (day.isBefore(today) ? " is past" : " is more than a year away"));
        }
        return Views.endOfDay(day, zone);
    }

    /** The zone of the hosts' populations where they agree, else UTC. */
    private static ZoneId zone(Fleet fleet, Predicate hosts) {
        Set<ZoneId> zones = fleet.hosts(fleet.matching(hosts, fleet.all()))
                .map(host -> fleet.ladder().owner(host).map(Population::zone).orElse(ZoneOffset.UTC))
                .collect(Collectors.toSet());
        return zones.size() == 1 ? zones.iterator().next() : ZoneOffset.UTC;
    }

    private static String words(Answer effect) {
        return switch (effect) {
            case OFFERED -> "offer";
            case BY_OPERATOR -> "by operator";
            default -> "withhold";
        };
    }

    private static String about(ExceptionGrant exception) {
        return (exception.scope() instanceof ExceptionGrant.Scope.OfKind ? "every update of kind " : "") + ExceptionMapper.textOf(exception.scope());
    }

    private static String text(String text) {
        return text == null ? "" : text.strip();
    }
}
