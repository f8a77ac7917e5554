package lucid.server.verdicts;

import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Stream;
import lucid.core.ruling.Decision;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.ruling.Opening;
import lucid.core.ruling.RuleAnswer;
import lucid.core.ruling.Verdict;
import lucid.core.update.Update;
import lucid.server.state.Picture;
import lucid.server.state.State;
import lucid.server.views.Views.HostList;
import lucid.server.web.ProblemException;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** What taking decisions back would do; nothing is kept. */
@RestController
@RequestMapping("/api/decisions")
class TakingBackController {

    private static final int MOST_AT_ONCE = 1_000;

    private final State state;
    private final Clock clock;

    TakingBackController(State state, Clock clock) {
        this.state = state;
        this.clock = clock;
    }

    /** Numbers of what would be taken back together. */
    record Chosen(List<Long> verdicts, List<Long> answers, List<Long> exceptions) {
        Chosen {
            verdicts = few("verdicts", verdicts);
            answers = few("answers", answers);
            exceptions = few("exceptions", exceptions);
        }

        private static List<Long> few(String field, List<Long> numbers) {
            if (numbers != null && numbers.size() > MOST_AT_ONCE) {
                throw new IllegalArgumentException(field + ": at most " + MOST_AT_ONCE + " of them");
            }
            return numbers == null ? List.of() : List.copyOf(numbers);
        }
    }

    /**
     * @param offered hosts that would newly be offered the update
     * @param forced hosts that would newly be due to carry it
     * @param withheld hosts from which it would newly be withheld
     */
    record OpeningView(String update, String title, HostList offered, HostList forced, HostList withheld) {}

    /** The updates that would go to other hosts than now, those first that would be released. */
    @PostMapping("/taking-back/consequences")
    List<OpeningView> consequences(@RequestBody Chosen chosen) {
        Picture picture = state.picture();
        Instant now = clock.instant();
        Decisions before = picture.decisions();
        Decisions after = before;
        Set<Update> touched = new LinkedHashSet<>();
        for (long number : chosen.verdicts()) {
            Verdict verdict = found(before::verdict, number, "verdict");
            after = after.with(verdict.takenBackAt(now));
            picture.catalogue().update(verdict.updateId()).ifPresent(touched::add);
        }
        for (long number : chosen.answers()) {
            RuleAnswer answer = found(before::answer, number, "answer");
            after = after.with(answer.takenBackAt(now));
            picture.catalogue().update(answer.updateId()).ifPresent(touched::add);
        }
        for (long number : chosen.exceptions()) {
            ExceptionGrant exception = found(before::exception, number, "exception");
            after = after.with(exception.takenBackAt(now));
            picture.catalogue().updates().stream().filter(update -> exception.scope().covers(update)).forEach(touched::add);
        }
        Decisions then = after;
        List<Opening> openings = new ArrayList<>();
        // What contains a withheld update is withheld with it.
        touched.stream().flatMap(update -> Stream.concat(Stream.of(update), picture.catalogue().successorsOf(update.id()).stream())).distinct().sorted((a, b) -> a.id().compareTo(b.id()))
                .map(update -> Opening.of(update, picture.carriage(update, now), picture.fleet(), picture.catalogue(), before, then, now))
                .filter(opening -> !opening.isEmpty()).forEach(openings::add);
        openings.sort((a, b) -> Boolean.compare(b.releases(), a.releases()));
        return openings.stream().map(one -> new OpeningView(one.update().id(), one.update().title(), HostList.of(picture.fleet(), one.offered()), HostList.of(picture.fleet(), one.forced()),
                HostList.of(picture.fleet(), one.withheld()))).toList();
    }

    private static <D extends Decision> D found(Function<Long, Optional<D>> decisions, long number, String what) {
        return decisions.apply(number).orElseThrow(() -> ProblemException.notFound("there is no " + what + " " + number));
    }
}
