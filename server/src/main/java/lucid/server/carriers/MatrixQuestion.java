package lucid.server.carriers;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.ToIntFunction;
import java.util.stream.Stream;
import lucid.core.docket.Docket;
import lucid.core.docket.DocketCase;
import lucid.core.evidence.Evidence;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.PopulationId;
import lucid.core.update.Kind;
import lucid.core.update.Rating;
import lucid.core.update.Update;
import lucid.core.update.Vulnerability;
import lucid.core.weighing.Suggestion;
import lucid.server.access.Caller;
import lucid.server.access.Role;
import lucid.server.web.ProblemException;

/** Which rows of the matrix of carriers are asked for, and in which order. */
final class MatrixQuestion {

    enum Sort {
        NEWEST,
        RATING,
        /** What most hosts lack first. */
        LACKING,
        /** What is or was due first; what is due nowhere last. */
        DUE,
        NAME
    }

    enum Due {
        OVERDUE,
        /** Due within seven days, or overdue. */
        WEEK
    }

    /** What is shown in the cells. */
    enum Face {
        STATES,
        IN_FORCE
    }

    /**
     * What to look for; everything that is named must hold.
     *
     * @param find part of an identifier, a title or a CVE, in any case
     * @param content content instead of all other kinds
     * @param population only what hosts of it lack
     * @param owner only what hosts of somebody's populations lack
     * @param lacking true: only what some host lacks
     * @param exploited true: only what closes a vulnerability that is known to be exploited
     * @param suggestion only what this is suggested for, for some population; for those who see everything
     * @param age only what was published at least so many days ago
     * @param sort by default the newest first
     * @param on a past day, at its end in UTC, as it was counted then
     */
    record Asked(
            Optional<String> find,
            Optional<Boolean> content,
            Optional<Rating> rating,
            Optional<Kind> kind,
            Optional<String> vendor,
            Optional<PopulationId> population,
            Optional<String> owner,
            Optional<Boolean> lacking,
            Optional<Boolean> exploited,
            Optional<Suggestion.Type> suggestion,
            Optional<Due> due,
            Optional<Integer> age,
            Optional<Sort> sort,
            Optional<Face> face,
            Optional<LocalDate> on) {

        Asked with(Face other) {
            return new Asked(
                    find,
                    content,
                    rating,
                    kind,
                    vendor,
                    population,
                    owner,
                    lacking,
                    exploited,
                    suggestion,
                    due,
                    age,
                    sort,
                    Optional.of(other),
                    on);
        }

        /** @throws ProblemException 422 if it asks for what they do not see */
        void requireSeenBy(Caller caller) {
            if (seesSomeAlone(caller) && suggestion.isPresent()) {
                throw ProblemException.badField(
                        "suggestion", "what is suggested is seen by those who see all populations");
            }
        }

        boolean isOfContent() {
            return content.orElse(false);
        }
    }

    /** True for those who see some populations and nothing of the others. */
    static boolean seesSomeAlone(Caller caller) {
        return caller instanceof Caller.Person person && person.role() == Role.OPERATOR;
    }

    private final Asked asked;
    private final Evidence evidence;
    private final ToIntFunction<DocketCase> lacking;
    private final Instant now;
    private final Ladder ladder;

    /** @param lacking hosts of those who ask that lack the update of a case */
    MatrixQuestion(Asked asked, Evidence evidence, ToIntFunction<DocketCase> lacking, Ladder ladder, Instant now) {
        this.ladder = ladder;
        this.asked = asked;
        this.evidence = evidence;
        this.lacking = lacking;
        this.now = now;
    }

    private static final Comparator<DocketCase> NEWEST = Comparator.comparing(
                    (DocketCase one) -> one.update().published())
            .reversed()
            .thenComparing(one -> one.update().id());

    Comparator<DocketCase> order() {
        return switch (asked.sort().orElse(Sort.NEWEST)) {
            case NEWEST -> NEWEST;
            case RATING ->
                Comparator.comparing((DocketCase one) -> one.update().rating())
                        .reversed()
                        .thenComparing(NEWEST);
            case LACKING -> Comparator.comparingInt(lacking).reversed().thenComparing(NEWEST);
            case DUE ->
                Comparator.comparing((DocketCase one) -> one.nextDue().orElse(Instant.MAX))
                        .thenComparing(NEWEST);
            case NAME ->
                Comparator.comparing((DocketCase one) -> one.update().title().toLowerCase(Locale.ROOT))
                        .thenComparing(NEWEST);
        };
    }

    List<DocketCase> matching(List<DocketCase> all) {
        return all.stream().filter(this::matches).sorted(order()).toList();
    }

    private boolean matches(DocketCase one) {
        Update update = one.update();
        return Docket.isNoise(update) == asked.isOfContent()
                && asked.find()
                        .map(text -> text.strip().toLowerCase(Locale.ROOT))
                        .filter(text -> names(update)
                                .noneMatch(name -> name.toLowerCase(Locale.ROOT).contains(text)))
                        .isEmpty()
                && is(asked.rating(), update.rating())
                && is(asked.kind(), update.kind())
                && is(asked.vendor(), update.vendor())
                && is(asked.exploited(), isExploited(update, evidence))
                && asked.population().filter(id -> !isLackedBy(one, id)).isEmpty()
                && asked.owner()
                        .filter(owner -> ladder.populations().stream()
                                .noneMatch(population ->
                                        population.owner().equals(owner) && isLackedBy(one, population.id())))
                        .isEmpty()
                && asked.suggestion().filter(type -> !isSuggested(one, type)).isEmpty()
                && asked.due().filter(due -> !isDue(one, due)).isEmpty()
                && asked.age()
                        .filter(days ->
                                update.published().plus(Duration.ofDays(days)).isAfter(now))
                        .isEmpty()
                && asked.lacking()
                        .filter(wanted -> wanted != (lacking.applyAsInt(one) > 0))
                        .isEmpty();
    }

    private static <T> boolean is(Optional<T> wanted, T found) {
        return wanted.filter(value -> !value.equals(found)).isEmpty();
    }

    private static Stream<String> names(Update update) {
        return Stream.concat(
                Stream.of(update.id().value(), update.title()),
                update.vulnerabilities().stream().map(Vulnerability::id));
    }

    static boolean isExploited(Update update, Evidence evidence) {
        return update.vulnerabilities().stream()
                .anyMatch(vulnerability -> evidence.exploited().containsKey(vulnerability.id()));
    }

    private static boolean isLackedBy(DocketCase one, PopulationId id) {
        return one.marks().stream().anyMatch(mark -> mark.population().equals(id) && mark.lacking() > 0);
    }

    private static boolean isSuggested(DocketCase one, Suggestion.Type type) {
        return one.weighings().stream()
                .map(of -> of.weighing().suggestion())
                .anyMatch(suggestion ->
                        suggestion.type() == type || suggestion.rest().equals(Optional.of(type)));
    }

    private boolean isDue(DocketCase one, Due due) {
        Instant until = due == Due.OVERDUE ? now : now.plus(Duration.ofDays(7));
        return one.nextDue().filter(at -> !at.isAfter(until)).isPresent();
    }

    /**
     * @param updates that some host lacks
     * @param missing hosts that lack one, each once for each update
     */
    record RatingTally(Rating rating, int updates, int missing) {}

    /** By rating, the worst first; ratings of which no host lacks anything are left out. */
    List<RatingTally> tallies(List<DocketCase> matching) {
        Map<Rating, RatingTally> tallies = new EnumMap<>(Rating.class);
        matching.forEach(one -> {
            int hosts = lacking.applyAsInt(one);
            if (hosts > 0) {
                tallies.merge(
                        one.update().rating(),
                        new RatingTally(one.update().rating(), 1, hosts),
                        (a, b) -> new RatingTally(a.rating(), a.updates() + b.updates(), a.missing() + b.missing()));
            }
        });
        return tallies.values().stream()
                .sorted(Comparator.comparing(RatingTally::rating).reversed())
                .toList();
    }

    /** Lacking hosts of some populations, of cases as the docket marks them. */
    static ToIntFunction<DocketCase> lackingOf(Set<PopulationId> populations, boolean alsoOfNone) {
        return one -> {
            int own = 0;
            int named = 0;
            for (DocketCase.Mark mark : one.marks()) {
                named += mark.lacking();
                own += populations.contains(mark.population()) ? mark.lacking() : 0;
            }
            return own + (alsoOfNone ? one.counts().lacking() - named : 0);
        };
    }
}
