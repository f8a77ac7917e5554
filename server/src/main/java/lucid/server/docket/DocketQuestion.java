package lucid.server.docket;

import java.time.Duration;
import java.time.Instant;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Function;
import java.util.function.Predicate;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import lucid.core.docket.Cue;
import lucid.core.docket.Docket;
import lucid.core.docket.DocketCase;
import lucid.core.evidence.CaseNote;
import lucid.core.evidence.Evidence;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.update.Kind;
import lucid.core.update.Rating;
import lucid.core.update.UpdateId;
import lucid.core.weighing.Suggestion;

/** Which cases of the docket are asked for, and in which order. */
final class DocketQuestion {

    /** What of the docket is asked for. */
    enum Show {
        /** What is to be judged. */
        OPEN(c -> c.needsJudgement() && !c.routine() && !Docket.isNoise(c.update())),
        /** What needs judgement, but nothing speaks for anything but leaving it to the rule. */
        ROUTINE(c -> c.needsJudgement() && c.routine() && !Docket.isNoise(c.update())),
        ANSWERED(c -> !c.needsJudgement() && !Docket.isNoise(c.update())),
        /** Content, which changes every day. */
        CONTENT(c -> Docket.isNoise(c.update())),
        ALL(c -> true);

        private final Predicate<DocketCase> belongs;

        Show(Predicate<DocketCase> belongs) {
            this.belongs = belongs;
        }

        boolean has(DocketCase docketCase) {
            return belongs.test(docketCase);
        }
    }

    enum Sort {
        /** What is at stake now. */
        STAKE,
        /** What has waited longest first. */
        WAITING,
        RATING
    }

    /**
     * What to look for; everything that is named must hold.
     *
     * @param update only these cases
     * @param population only cases that hosts of it lack
     * @param owner only cases that hosts of somebody's populations lack
     * @param assignee only cases that somebody sees to, by a note on them
     * @param exploited true: only cases that close a vulnerability which is known to be exploited
     * @param suggestion only cases for which this is suggested for some population
     * @param waiting only cases first read at least so many days ago
     * @param sort by default what is at stake
     */
    record Asked(
            Optional<Show> show,
            Optional<List<UpdateId>> update,
            Optional<PopulationId> population,
            Optional<Kind> kind,
            Optional<Rating> rating,
            Optional<String> vendor,
            Optional<Boolean> exploited,
            Optional<Suggestion.Type> suggestion,
            Optional<String> owner,
            Optional<String> assignee,
            Optional<Integer> waiting,
            Optional<Sort> sort) {}

    private final Asked asked;
    private final Ladder ladder;
    private final Evidence evidence;
    private final Instant now;

    DocketQuestion(Asked asked, Ladder ladder, Evidence evidence, Instant now) {
        this.asked = asked;
        this.ladder = ladder;
        this.evidence = evidence;
        this.now = now;
    }

    /** @param inOrder cases as the docket orders them */
    List<DocketCase> cases(List<DocketCase> inOrder) {
        List<DocketCase> matching = inOrder.stream().filter(this::matches).toList();
        return switch (asked.sort().orElse(Sort.STAKE)) {
            case STAKE -> matching;
            case WAITING ->
                sorted(matching, Comparator.comparing(one -> one.update().firstRead()));
            case RATING ->
                sorted(
                        matching,
                        Comparator.comparing((DocketCase one) -> one.update().rating())
                                .reversed());
        };
    }

    private static List<DocketCase> sorted(List<DocketCase> cases, Comparator<DocketCase> order) {
        return cases.stream().sorted(order).toList();
    }

    private boolean matches(DocketCase c) {
        return asked.show().orElse(Show.ALL).has(c)
                && asked.update()
                        .filter(only -> !only.contains(c.update().id()))
                        .isEmpty()
                && is(asked.kind(), c.update().kind())
                && is(asked.rating(), c.update().rating())
                && is(asked.vendor(), c.update().vendor())
                && asked.population().filter(id -> !isLackedBy(c, id)).isEmpty()
                && asked.owner()
                        .filter(owner -> owned(owner).noneMatch(id -> isLackedBy(c, id)))
                        .isEmpty()
                && asked.assignee()
                        .filter(name -> assignees(c.update().id(), evidence).noneMatch(name::equals))
                        .isEmpty()
                && is(asked.exploited(), isExploited(c))
                && asked.suggestion().filter(type -> !isSuggested(c, type)).isEmpty()
                && asked.waiting()
                        .filter(days -> c.update()
                                .firstRead()
                                .plus(Duration.ofDays(days))
                                .isAfter(now))
                        .isEmpty();
    }

    private static <T> boolean is(Optional<T> wanted, T found) {
        return wanted.filter(value -> !value.equals(found)).isEmpty();
    }

    private static boolean isLackedBy(DocketCase c, PopulationId id) {
        return c.marks().stream().anyMatch(mark -> mark.population().equals(id) && mark.lacking() > 0);
    }

    private Stream<PopulationId> owned(String owner) {
        return ladder.populations().stream()
                .filter(population -> population.owner().equals(owner))
                .map(Population::id);
    }

    /** Who sees to a case, each once. */
    static Stream<String> assignees(UpdateId update, Evidence evidence) {
        return evidence.caseNotesOn(update).stream()
                .filter(CaseNote::stands)
                .flatMap(note -> note.followUp().assignee().stream())
                .distinct();
    }

    private boolean isExploited(DocketCase c) {
        return c.update().vulnerabilities().stream()
                        .anyMatch(vulnerability -> evidence.exploited().containsKey(vulnerability.id()))
                || c.cues().stream().anyMatch(cue -> cue.type() == Cue.Type.KNOWN_EXPLOITED);
    }

    private static boolean isSuggested(DocketCase c, Suggestion.Type type) {
        return c.weighings().stream()
                .map(one -> one.weighing().suggestion())
                .anyMatch(suggestion ->
                        suggestion.type() == type || suggestion.rest().equals(Optional.of(type)));
    }

    /**
     * What there is to choose among the cases that are shown, and how many are of each rating.
     *
     * @param ratings cases by rating, whichever is chosen
     */
    record Choices(
            Set<Kind> kinds,
            Map<Rating, Integer> ratings,
            Set<String> vendors,
            Set<Suggestion.Type> suggestions,
            Set<String> owners,
            Set<String> assignees) {}

    Choices choices(List<DocketCase> inOrder) {
        List<DocketCase> shown =
                inOrder.stream().filter(asked.show().orElse(Show.ALL)::has).toList();
        Map<Rating, Integer> ratings = new EnumMap<>(Rating.class);
        shown.forEach(one -> ratings.merge(one.update().rating(), 1, Integer::sum));
        return new Choices(
                each(shown, one -> Stream.of(one.update().kind())),
                ratings,
                each(shown, one -> Stream.of(one.update().vendor()).filter(vendor -> !vendor.isEmpty())),
                each(shown, one -> one.weighings().stream()
                        .map(of -> of.weighing().suggestion().type())
                        .filter(Suggestion.Type::isSuggestion)),
                ladder.populations().stream()
                        .map(Population::owner)
                        .filter(owner -> !owner.isEmpty())
                        .collect(Collectors.toCollection(TreeSet::new)),
                each(shown, one -> assignees(one.update().id(), evidence)));
    }

    private static <T> Set<T> each(List<DocketCase> cases, Function<DocketCase, Stream<T>> of) {
        return cases.stream().flatMap(of).collect(Collectors.toCollection(TreeSet::new));
    }
}
