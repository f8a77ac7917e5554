package lucid.core.ruling;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.core.update.Update;

/**
 * Everything that people have decided, also what has ended or was taken back, each list in the order in which it was decided.
 */
public record Decisions(List<Verdict> verdicts, List<ExceptionGrant> exceptions, List<RuleAnswer> answers) {

    public static final Decisions NONE = new Decisions(List.of(), List.of(), List.of());

    public Decisions {
        verdicts = List.copyOf(verdicts);
        exceptions = List.copyOf(exceptions);
        answers = List.copyOf(answers);
    }

    public List<Verdict> verdictsOn(String updateId) {
        return verdicts.stream().filter(v -> v.updateId().equals(updateId)).toList();
    }

    public List<RuleAnswer> answersOn(String updateId) {
        return answers.stream().filter(a -> a.updateId().equals(updateId)).toList();
    }

    /** When a verdict or an answer on an update was last given, by {@code at}, that has not been taken back; none from before the update was read counts. */
    public Optional<Instant> lastAnswer(Update update, Instant at) {
        return Stream.concat(
                        verdictsOn(update.id()).stream().filter(v -> v.takenBack().filter(t -> !t.isAfter(at)).isEmpty()).map(Verdict::handedDown),
                        answersOn(update.id()).stream().filter(a -> a.takenBack().filter(t -> !t.isAfter(at)).isEmpty()).map(RuleAnswer::given))
                .filter(given -> !given.isBefore(update.firstRead()) && !given.isAfter(at))
                .max(Comparator.naturalOrder());
    }

    public Optional<Verdict> verdict(long number) {
        return verdicts.stream().filter(v -> v.number() == number).findFirst();
    }

    public Optional<ExceptionGrant> exception(long number) {
        return exceptions.stream().filter(e -> e.number() == number).findFirst();
    }

    public Optional<RuleAnswer> answer(long number) {
        return answers.stream().filter(a -> a.number() == number).findFirst();
    }

    /** With this verdict added, or put in the place of the one with its number. */
    public Decisions with(Verdict verdict) {
        List<Verdict> next = new ArrayList<>(verdicts);
        next.removeIf(v -> v.number() == verdict.number());
        next.add(verdict);
        next.sort(Comparator.comparingLong(Verdict::number));
        return new Decisions(next, exceptions, answers);
    }

    public Decisions with(ExceptionGrant exception) {
        List<ExceptionGrant> next = new ArrayList<>(exceptions);
        next.removeIf(e -> e.number() == exception.number());
        next.add(exception);
        next.sort(Comparator.comparingLong(ExceptionGrant::number));
        return new Decisions(verdicts, next, answers);
    }

    public Decisions with(RuleAnswer answer) {
        List<RuleAnswer> next = new ArrayList<>(answers);
        next.removeIf(a -> a.number() == answer.number());
        next.add(answer);
        next.sort(Comparator.comparingLong(RuleAnswer::number));
        return new Decisions(verdicts, exceptions, next);
    }
}
