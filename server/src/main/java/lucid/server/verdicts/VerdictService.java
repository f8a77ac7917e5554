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
import java.util.Set;
import java.util.stream.Collectors;
import lucid.core.carriage.Carriage;
import lucid.core.fleet.Population;
import lucid.core.fleet.Predicate;
import lucid.core.ruling.Consequence;
import lucid.core.ruling.Consequences;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.ReasonWord;
import lucid.core.ruling.RuleAnswer;
import lucid.core.ruling.Timeline;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Update;
import lucid.server.record.RecordEntry;
import lucid.server.state.Bitmaps;
import lucid.server.state.Picture;
import lucid.server.state.RequestKey;
import lucid.server.state.State;
import lucid.server.views.CaseVersions;
import lucid.server.views.Narrowings;
import lucid.server.views.Views;
import lucid.server.web.ETags;
import lucid.server.web.ProblemException;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Service;
import tools.jackson.core.type.TypeReference;

/** Checks verdicts as they are worded, tells their consequence, hands them down and takes them back. */
@Service
class VerdictService {

    /** Nothing withholds for ever; a year is as far as anybody can see. */
    private static final int LONGEST_DAYS = 366;

    /** Where the rule never offers what is left to it, the case comes back after so long. */
    private static final Duration UNTIL_LOOKED_AT_AGAIN = Duration.ofDays(30);

    private static final DateTimeFormatter DAY = DateTimeFormatter.ofPattern("EEE d MMM uuuu", Locale.ENGLISH);

    private static final TypeReference<List<HandedDown>> HANDED_DOWN = new TypeReference<>() { };

    private final State state;
    private final VerdictMapper verdicts;
    private final AnswerMapper answers;
    private final Clock clock;

    VerdictService(State state, VerdictMapper verdicts, AnswerMapper answers, Clock clock) {
        this.state = state;
        this.verdicts = verdicts;
        this.answers = answers;
        this.clock = clock;
    }

    /** A draft as the verdict for one of its populations, with what it would do. */
    record Worded(Verdict verdict, Population population, Consequence consequence) {}

    List<Worded> consequences(Picture picture, VerdictDraft draft, Principal who) {
        Instant now = clock.instant();
        List<Worded> worded = new ArrayList<>();
        Update update = picture.update(draft.update());
        Carriage carriage = picture.carriage(update, now);
        for (Verdict verdict : verdicts(picture, draft, update, who, now)) {
            worded.add(new Worded(verdict, picture.fleet().ladder().entry(verdict.populationId()).orElseThrow(),
                    Consequences.of(verdict, update, carriage, picture.fleet(), picture.decisions(), picture.catalogue(), now)));
        }
        return worded;
    }

    private static List<Verdict> verdicts(Picture picture, VerdictDraft draft, Update update, Principal who, Instant now) {
        if (draft.type() == null) {
            throw ProblemException.badField("type", "choose block, defer or force");
        }
        if (!update.revision().equals(draft.revision())) {
            throw new ProblemException(HttpStatus.CONFLICT, "revision",
                    update.id() + " is now at revision " + update.revision() + "; look at what changed before you decide");
        }
        if (draft.populations().isEmpty()) {
            throw ProblemException.badField("populations", "choose at least one population");
        }
        Optional<Predicate> where = draft.where().map(text -> Narrowings.read("where", text, picture.fleet()));
        long number = picture.decisions().nextVerdict();
        List<Verdict> verdicts = new ArrayList<>();
        for (String id : new LinkedHashSet<>(draft.populations())) {
            Population population = picture.fleet().ladder().entry(id)
                    .orElseThrow(() -> ProblemException.badField("populations", "there is no population " + id));
            verdicts.add(new Verdict(number++, update.id(), draft.revision(), id, where, draft.type(), end(draft, population, now),
                    Set.copyOf(draft.reasons()), draft.words(), who.getName(), now, Set.copyOf(draft.overrides()), Set.copyOf(draft.overriddenExceptions()), Optional.empty()));
        }
        return verdicts;
    }

    private static Instant end(VerdictDraft draft, Population population, Instant now) {
        LocalDate day = draft.until().orElseThrow(() -> ProblemException.badField("until", "choose a day: nothing withholds for ever"));
        LocalDate today = LocalDate.ofInstant(now, population.zone());
        if (day.isBefore(today)) {
            throw ProblemException.badField("until", DAY.format(day) + " is past");
        }
        if (day.isAfter(today.plusDays(LONGEST_DAYS))) {
            throw ProblemException.badField("until", DAY.format(day) + " is more than a year away");
        }
        boolean letGoNow = draft.type() == VerdictType.DEFER && day.equals(today);
        return letGoNow ? now : Views.endOfDay(day, population.zone());
    }

    /**
     * All at one instant.
     *
     * @param ifMatch version of the case on which it was worded, or null
     * @param request by which the same request is known again, if its sender named a key
     * @throws ProblemException 412 if the case changed since
     */
    List<HandedDown> handDown(VerdictDraft draft, String ifMatch, Optional<RequestKey> request, Principal who) {
        if (draft.reasons().isEmpty() && draft.words().isEmpty()) {
            throw ProblemException.badField("reasons", "say why: choose a reason or write one");
        }
        if (draft.words().length() > 2000) {
            throw ProblemException.badField("words", "at most 2,000 characters");
        }
        return state.writeOnce(request, 0, HANDED_DOWN, picture -> {
            List<Worded> worded = consequences(picture, draft, who);
            ETags.require(ifMatch, CaseVersions.of(picture, picture.update(draft.update())), "somebody decided on " + draft.update() + " while you were wording; look at what holds now before you hand down");
            Decisions decisions = picture.decisions();
            for (Worded one : worded) {
                Verdict verdict = one.verdict().naming(one.consequence().named());
                verdicts.add(VerdictMapper.Row.of(verdict, Bitmaps.write(one.consequence().decided())));
                state.record(RecordEntry.Kind.VERDICT, draft.update(), who, sentence(one));
                decisions = decisions.with(verdict);
            }
            return new State.Written<>(picture.with(decisions), worded.stream()
                    .map(w -> new HandedDown(w.verdict().number(), w.population().id(), w.consequence().decided().getCardinality())).toList());
        });
    }

    /** @param hosts for which it is what holds */
    record HandedDown(long number, String population, int hosts) {}

    private static String sentence(Worded worded) {
        Verdict verdict = worded.verdict();
        boolean letGo = verdict.type() == VerdictType.DEFER && !verdict.end().isAfter(verdict.handedDown());
        String day = DAY.format(LocalDate.ofInstant(verdict.end().minusMillis(1), worded.population().zone()));
        String what = switch (verdict.type()) {
            case BLOCK -> "Blocked";
            case DEFER -> letGo ? "Let go now" : "Deferred";
            case FORCE -> "Forced";
        };
        return what + " " + verdict.updateId() + " revision " + verdict.revision() + " for " + worded.population().name()
                + verdict.narrowing().map(where -> " where " + where).orElse("")
                + (letGo ? "" : (verdict.type() == VerdictType.FORCE ? ", due " : " until ") + day)
                + ", because " + because(verdict) + ": " + hosts(worded.consequence().decided().getCardinality()) + ".";
    }

    private static String because(Verdict verdict) {
        String reasons = verdict.reasons().stream().sorted().map(ReasonWord::words).collect(Collectors.joining(", "));
        return verdict.words().isEmpty() ? reasons : (reasons.isEmpty() ? "" : reasons + "; ") + verdict.words();
    }

    private static String hosts(int count) {
        return count == 1 ? "1 host" : count + " hosts";
    }

    /** Takes verdicts back together: all of them, or none if one cannot be. */
    void takeBackVerdicts(List<Long> numbers, Principal who) {
        state.write(picture -> {
            Instant now = clock.instant();
            Decisions decisions = picture.decisions();
            for (long number : new LinkedHashSet<>(numbers)) {
                Verdict verdict = decisions.verdict(number).orElseThrow(() -> ProblemException.notFound("there is no verdict " + number));
                if (verdicts.takeBack(number, now) == 0) {
                    throw new ProblemException(HttpStatus.CONFLICT, "number", "verdict " + number + " was taken back before; nothing was changed now");
                }
                String population = picture.fleet().ladder().entry(verdict.populationId()).map(Population::name).orElse(verdict.populationId());
                state.record(RecordEntry.Kind.TAKEN_BACK, verdict.updateId(), who, "Took back the " + verdict.type().word() + " of " + verdict.updateId() + " for " + population
                        + verdict.narrowing().map(where -> " where " + where).orElse("") + ".");
                decisions = decisions.with(verdict.takenBackAt(now));
            }
            return new State.Written<>(picture.with(decisions), true);
        });
    }

    /**
     * Leaves updates to the rule.
     *
     * @param populations entries of the ladder for which each is left to it; empty: all that have hosts which lack it
     */
    List<RuleAnswer> leaveToTheRule(List<String> updates, List<String> populations, Principal who) {
        return state.write(picture -> {
            Instant now = clock.instant();
            List<Population> chosen = populations.stream().distinct()
                    .map(id -> picture.fleet().ladder().entry(id).orElseThrow(() -> ProblemException.badField("populations", "there is no population " + id))).toList();
            Decisions decisions = picture.decisions();
            List<RuleAnswer> given = new ArrayList<>();
            for (String id : new LinkedHashSet<>(updates)) {
                Update update = picture.update(id);
                List<Population> entries = chosen.isEmpty() ? lacking(picture, update, now) : chosen;
                Timeline timeline = Timeline.of(update, decisions, picture.fleet(), picture.catalogue());
                boolean never = entries.stream().anyMatch(entry -> timeline.offeredByRule(entry).isEmpty());
                RuleAnswer answer = new RuleAnswer(decisions.nextAnswer(), update.id(), entries.stream().map(Population::id).collect(Collectors.toSet()),
                        never ? Optional.of(now.plus(UNTIL_LOOKED_AT_AGAIN)) : Optional.empty(), who.getName(), now, Optional.empty());
                answers.add(answer);
                state.record(RecordEntry.Kind.ANSWER, id, who, "Left " + id + " to the rule" + (entries.isEmpty() ? "" : " for " + entries.stream().map(Population::name).collect(Collectors.joining(", ")))
                        + answer.lookAgain().map(day -> "; where the rule never offers it, it comes back on " + DAY.format(LocalDate.ofInstant(day, ZoneOffset.UTC))).orElse("") + ".");
                decisions = decisions.with(answer);
                given.add(answer);
            }
            return new State.Written<>(picture.with(decisions), given);
        });
    }

    private static List<Population> lacking(Picture picture, Update update, Instant now) {
        RoaringBitmap lacking = picture.carriage(update, now).lacking();
        return picture.fleet().ladder().entries().stream().filter(entry -> RoaringBitmap.intersects(picture.fleet().members(entry.id()), lacking)).toList();
    }

    /** Takes answers back together: all of them, or none if one cannot be. */
    void takeBackAnswers(List<Long> numbers, Principal who) {
        state.write(picture -> {
            Instant now = clock.instant();
            Decisions decisions = picture.decisions();
            for (long number : new LinkedHashSet<>(numbers)) {
                RuleAnswer answer = decisions.answer(number).orElseThrow(() -> ProblemException.notFound("there is no answer " + number));
                if (answers.takeBack(number, now) == 0) {
                    throw new ProblemException(HttpStatus.CONFLICT, "number", "answer " + number + " was taken back before; nothing was changed now");
                }
                state.record(RecordEntry.Kind.TAKEN_BACK, answer.updateId(), who, "Took back that " + answer.updateId() + " is left to the rule.");
                decisions = decisions.with(answer.takenBackAt(now));
            }
            return new State.Written<>(picture.with(decisions), true);
        });
    }
}
