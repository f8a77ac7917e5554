package lucid.core.docket;

import java.time.Instant;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Stream;
import lucid.core.carriage.Carriage;
import lucid.core.carriage.Carriages;
import lucid.core.carriage.CarrierIndex;
import lucid.core.fleet.Fleet;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.RuleAnswer;
import lucid.core.ruling.Verdict;
import lucid.core.update.Kind;
import lucid.core.update.Update;

/** All cases in the order in which they want judgement. */
public final class Docket {

    /** Until exposure and hazard are weighed: the worse rating, then the more hosts that lack it, then the newer, then by identifier. */
    public static final Comparator<DocketCase> ORDER = Comparator
            .comparing((DocketCase c) -> c.update().rating()).reversed()
            .thenComparing(Comparator.comparingInt(DocketCase::lacking).reversed())
            .thenComparing(Comparator.comparing((DocketCase c) -> c.update().published()).reversed())
            .thenComparing(c -> c.update().id());

    private Docket() {}

    public static List<DocketCase> cases(
            Collection<Update> updates, Fleet fleet, CarrierIndex index, Decisions decisions, Instant now) {
        return updates.stream()
                .map(update -> docketCase(update, fleet, index, decisions, now))
                .sorted(ORDER)
                .toList();
    }

    public static DocketCase docketCase(Update update, Fleet fleet, CarrierIndex index, Decisions decisions, Instant now) {
        Carriage carriage = Carriages.of(update, fleet, index, now);
        boolean isNew = !carriage.lacking().isEmpty() && answersAfterFirstReading(update, decisions).findAny().isEmpty();
        return new DocketCase(update, carriage, isNew ? List.of(new Cue(Cue.Type.NEW, update.firstRead())) : List.of());
    }

    /** Content changes every day; it is counted apart. */
    public static boolean isNoise(Update update) {
        return update.kind() == Kind.CONTENT;
    }

    private static Stream<Instant> answersAfterFirstReading(Update update, Decisions decisions) {
        return Stream.concat(
                        decisions.verdictsOn(update.id()).stream().filter(v -> v.takenBack().isEmpty()).map(Verdict::handedDown),
                        decisions.answersOn(update.id()).stream().filter(a -> a.takenBack().isEmpty()).map(RuleAnswer::given))
                .filter(given -> !given.isBefore(update.firstRead()));
    }
}
