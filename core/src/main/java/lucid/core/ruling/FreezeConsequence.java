package lucid.core.ruling;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.function.Predicate;
import lucid.core.carriage.Carriages;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Spread;
import lucid.core.update.Update;
import org.roaringbitmap.RoaringBitmap;

/**
 * What a freeze that is still being worded would do.
 *
 * @param hosts that it is for
 * @param updates those of which it would stop, or later release, something
 */
public record FreezeConsequence(RoaringBitmap hosts, List<OfUpdate> updates) {

    /**
     * What it would do to one update.
     *
     * @param stopped hosts to which it is offered as the freeze begins, and would not be
     * @param staged hosts that have downloaded it: a freeze alone may not stop them
     * @param due hosts on which it would fall due meanwhile, and waits
     * @param arriving hosts to which it is offered as the freeze ends for them unless its end is spread
     */
    public record OfUpdate(
            Update update, RoaringBitmap stopped, RoaringBitmap staged, RoaringBitmap due, RoaringBitmap arriving) {
        private boolean isEmpty() {
            return stopped.isEmpty() && staged.isEmpty() && due.isEmpty() && arriving.isEmpty();
        }
    }

    /**
     * Exceptions stand before a freeze; whatever else holds, the freeze holds instead.
     *
     * @param draft a freeze that is not among the decisions
     */
    public static FreezeConsequence of(Freeze draft, Carriages carriages, Decisions decisions, Instant now) {
        Fleet fleet = carriages.fleet();
        RoaringBitmap hosts = InForce.hosts(draft, fleet);
        Instant begins = draft.from().isAfter(now) ? draft.from() : now;
        List<OfUpdate> updates = new ArrayList<>();
        for (Update update : carriages.catalogue().updates()) {
            RoaringBitmap lacking = RoaringBitmap.and(carriages.of(update, now).lacking(), hosts);
            if (lacking.isEmpty()) {
                continue;
            }
            Timeline timeline = Timeline.of(update, decisions, fleet, carriages.catalogue());
            List<RulingGroup> begun = timeline.groups(lacking, begins);
            RoaringBitmap frozen =
                    RoaringBitmap.andNot(lacking, hosts(begun, match -> match.clause() == RuleMatch.Clause.EXCEPTION));
            RoaringBitmap staged = carriages.outcomes().staged(update.id());
            staged.and(frozen);
            OfUpdate of = new OfUpdate(
                    update,
                    RoaringBitmap.and(hosts(begun, match -> match.effect() != Effect.WITHHELD), frozen),
                    staged,
                    RoaringBitmap.and(
                            hosts(begun, match -> match.due()
                                    .filter(due -> due.isBefore(draft.until()) && !due.isBefore(begins))
                                    .isPresent()),
                            frozen),
                    arriving(draft, timeline, frozen, begins));
            if (!of.isEmpty()) {
                updates.add(of);
            }
        }
        return new FreezeConsequence(hosts, updates);
    }

    /** Of each part of its end, what is offered as that comes. */
    private static RoaringBitmap arriving(Freeze draft, Timeline timeline, RoaringBitmap frozen, Instant begins) {
        RoaringBitmap arriving = new RoaringBitmap();
        for (Spread.Part part : draft.parts(frozen)) {
            Instant at = changesBetween(timeline, frozen, begins, part.at()) ? part.at() : begins;
            arriving.or(hosts(
                    timeline.groups(part.hosts(), at), match -> match.effect().isOffer()));
        }
        return arriving;
    }

    /** Where nothing begins or ends while it is frozen, what holds at the end is what held as it began. */
    private static boolean changesBetween(Timeline timeline, RoaringBitmap frozen, Instant from, Instant until) {
        return timeline.changes(frozen).anyMatch(change -> change.isAfter(from) && !change.isAfter(until));
    }

    private static RoaringBitmap hosts(List<RulingGroup> groups, Predicate<RuleMatch> which) {
        RoaringBitmap hosts = new RoaringBitmap();
        groups.stream().filter(group -> which.test(group.match())).forEach(group -> hosts.or(group.hosts()));
        return hosts;
    }
}
