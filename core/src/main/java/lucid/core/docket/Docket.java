package lucid.core.docket;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.core.carriage.Carriage;
import lucid.core.carriage.Carriages;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.RuleAnswer;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Kind;
import lucid.core.update.RevisionNote;
import lucid.core.update.Update;
import org.roaringbitmap.RoaringBitmap;

/**
 * All cases in the order in which they want judgement.
 *
 * <p><b>Newest only.</b> A case folds under its newest successor if that is released for all the hosts which lack it, so that nobody
 * judges what the next update brings anyway. It unfolds while that successor is blocked or withdrawn.
 */
public record Docket(Carriages carriages, Decisions decisions) {

    /** Until exposure and hazard are weighed: the worse rating, then the more hosts that lack it, then the newer, then by identifier. */
    public static final Comparator<DocketCase> ORDER = Comparator
            .comparing((DocketCase c) -> c.update().rating()).reversed()
            .thenComparing(Comparator.comparingInt(DocketCase::lacking).reversed())
            .thenComparing(Comparator.comparing((DocketCase c) -> c.update().published()).reversed())
            .thenComparing(c -> c.update().id());

    /** Every case at {@code now}. */
    public List<DocketCase> cases(Instant now) {
        States states = new States(now);
        return carriages.catalogue().updates().stream().map(update -> docketCase(update, states)).sorted(ORDER).toList();
    }

    /** The case of one update. */
    public DocketCase docketCase(Update update, Instant now) {
        return docketCase(update, new States(now));
    }

    private DocketCase docketCase(Update update, States states) {
        List<String> contains = carriages.catalogue().predecessorsOf(update.id()).stream()
                .filter(earlier -> foldedUnder(earlier, states).filter(update.id()::equals).isPresent())
                .sorted(Comparator.comparing(Update::published).reversed().thenComparing(Update::id))
                .map(Update::id).toList();
        return new DocketCase(update, states.of(update), cues(update, states.of(update)), foldedUnder(update, states), contains);
    }

    private Optional<String> foldedUnder(Update update, States states) {
        RoaringBitmap lacking = states.of(update).lacking();
        return carriages.catalogue().successorsOf(update.id()).stream()
                .filter(successor -> !successor.isWithdrawn() && !isBlocked(successor, states.now))
                .filter(successor -> !lacking.isEmpty() && states.of(successor).applicable().contains(lacking))
                .max(Comparator.comparing(Update::published).thenComparing(Update::id))
                .map(Update::id);
    }

    /** The carriage of each update at one instant, computed once. */
    private final class States {
        private final Instant now;
        private final Map<String, Carriage> known = new HashMap<>();

        States(Instant now) {
            this.now = now;
        }

        Carriage of(Update update) {
            return known.computeIfAbsent(update.id(), id -> carriages.of(update, now));
        }
    }

    private boolean isBlocked(Update update, Instant now) {
        return decisions.verdictsOn(update.id()).stream().anyMatch(v -> v.type() == VerdictType.BLOCK && v.standsAt(now));
    }

    private List<Cue> cues(Update update, Carriage carriage) {
        Optional<Instant> answered = lastAnswer(update);
        List<Cue> cues = new ArrayList<>();
        if (answered.isEmpty() && !carriage.lacking().isEmpty()) {
            cues.add(new Cue(Cue.Type.NEW, update.firstRead()));
        }
        Optional<RevisionNote> revised = answered.flatMap(update::revisedAfter);
        if (update.isWithdrawn() && (revised.isPresent() || answered.isEmpty() && !carriage.applicable().isEmpty())) {
            cues.add(new Cue(Cue.Type.WITHDRAWN, update.revisions().get(update.revisions().size() - 1).read()));
        } else if (revised.isPresent() && !carriage.lacking().isEmpty()) {
            boolean newFixes = update.newFixesAfter(answered.get()).isPresent();
            cues.add(new Cue(newFixes ? Cue.Type.REVISED_FIXES : Cue.Type.REVISED_TEXT, revised.get().read()));
        }
        return List.copyOf(cues);
    }

    /** When a verdict or an answer was last given that has not been taken back. */
    private Optional<Instant> lastAnswer(Update update) {
        return Stream.concat(
                        decisions.verdictsOn(update.id()).stream().filter(v -> v.takenBack().isEmpty()).map(Verdict::handedDown),
                        decisions.answersOn(update.id()).stream().filter(a -> a.takenBack().isEmpty()).map(RuleAnswer::given))
                .filter(given -> !given.isBefore(update.firstRead()))
                .max(Comparator.naturalOrder());
    }

    /** Content changes every day; it is counted apart. */
    public static boolean isNoise(Update update) {
        return update.kind() == Kind.CONTENT;
    }
}
