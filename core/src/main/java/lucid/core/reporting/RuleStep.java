package lucid.core.reporting;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.core.carriage.Carriages;
import lucid.core.fleet.Population;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.Effect;
import lucid.core.ruling.RuleMatch;
import lucid.core.ruling.RulingGroup;
import lucid.core.ruling.Timeline;
import lucid.core.update.Update;
import org.roaringbitmap.RoaringBitmap;

/**
 * What a standing rule will do on the hosts of one population, if nobody decides anything: the day that most often
 * passes unnoticed.
 *
 * @param hosts those that lack the update as it looks now
 */
public record RuleStep(Update update, Population population, What what, Instant at, RoaringBitmap hosts) {

    /** What happens then. */
    public enum What {
        OFFERED,
        /** Offered to whoever operates the hosts: nothing begins by itself. */
        OFFERED_TO_OPERATOR,
        DUE
    }

    /** What rules will do after one instant and until another, the earliest first. */
    public static List<RuleStep> between(Carriages carriages, Decisions decisions, Instant now, Instant until) {
        List<Population> entries = carriages.fleet().ladder().entries();
        List<RoaringBitmap> members = entries.stream()
                .map(entry -> carriages.fleet().members(entry.id()))
                .toList();
        List<RuleStep> steps = new ArrayList<>();
        for (Update update : carriages.catalogue().updates()) {
            RoaringBitmap lacking = carriages.of(update, now).lacking();
            if (!lacking.isEmpty()) {
                Timeline timeline = Timeline.of(update, decisions, carriages.fleet(), carriages.catalogue());
                boolean changes = timeline.changes(lacking).anyMatch(at -> at.isAfter(now) && !at.isAfter(until));
                for (int place = 0; place < entries.size(); place++) {
                    Window window = new Window(update, entries.get(place), timeline, now, until);
                    // Most updates were offered long ago, and nobody set a day for them.
                    if (changes || window.hasDeadline()) {
                        timeline.groups(entries.get(place), RoaringBitmap.and(lacking, members.get(place)), now)
                                .forEach(group -> window.steps(group).forEach(steps::add));
                    }
                }
            }
        }
        steps.sort(Comparator.comparing(RuleStep::at)
                .thenComparing(step -> step.update().id().value())
                .thenComparing(step -> step.population().name()));
        return List.copyOf(steps);
    }

    private record Window(Update update, Population entry, Timeline timeline, Instant now, Instant until) {

        private boolean hasDeadline() {
            return entry.rule().offersOf(update.kind(), update.rating()).stream()
                    .anyMatch(offer -> offer.deadline().isPresent());
        }

        private Stream<RuleStep> steps(RulingGroup group) {
            RuleMatch match = group.match();
            if (!match.isRule()) {
                return Stream.empty();
            }
            if (match.effect().isOffer()) {
                return due(group).stream();
            }
            // Something else may be in force by then than what the rule says.
            return match.end().filter(this::within).stream()
                    .flatMap(end -> timeline.groups(entry, group.hosts(), end).stream()
                            .filter(next -> next.match().isRule()
                                    && next.match().effect().isOffer())
                            .flatMap(next -> Stream.concat(Stream.of(offered(next, end)), due(next).stream())));
        }

        private RuleStep offered(RulingGroup group, Instant at) {
            What what = group.match().effect() == Effect.BY_OPERATOR ? What.OFFERED_TO_OPERATOR : What.OFFERED;
            return new RuleStep(update, entry, what, at, group.hosts());
        }

        private Optional<RuleStep> due(RulingGroup group) {
            return group.match()
                    .due()
                    .filter(this::within)
                    .map(due -> new RuleStep(update, entry, What.DUE, due, group.hosts()));
        }

        private boolean within(Instant at) {
            return at.isAfter(now) && !at.isAfter(until);
        }
    }
}
