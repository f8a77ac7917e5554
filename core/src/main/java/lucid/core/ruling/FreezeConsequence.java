package lucid.core.ruling;

import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.function.Predicate;
import lucid.core.carriage.Carriages;
import lucid.core.fleet.Fleet;
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
     * @param arriving hosts to which it is offered as the freeze ends, all at once
     */
    public record OfUpdate(
            Update update, RoaringBitmap stopped, RoaringBitmap staged, RoaringBitmap due, RoaringBitmap arriving) {
        private boolean isEmpty() {
            return stopped.isEmpty() && staged.isEmpty() && due.isEmpty() && arriving.isEmpty();
        }
    }

    /** @param draft a freeze with a number that no other has */
    public static FreezeConsequence of(Freeze draft, Carriages carriages, Decisions decisions, Instant now) {
        Fleet fleet = carriages.fleet();
        RoaringBitmap hosts = InForce.hosts(draft, fleet);
        Instant begins = draft.from().isAfter(now) ? draft.from() : now;
        Decisions after = decisions.with(draft);
        List<OfUpdate> updates = new ArrayList<>();
        for (Update update : carriages.catalogue().updates()) {
            RoaringBitmap lacking = RoaringBitmap.and(carriages.of(update, now).lacking(), hosts);
            if (lacking.isEmpty()) {
                continue;
            }
            List<RulingGroup> without =
                    Timeline.of(update, decisions, fleet, carriages.catalogue()).groups(lacking, begins);
            Timeline timeline = Timeline.of(update, after, fleet, carriages.catalogue());
            RoaringBitmap frozen = hosts(
                    timeline.groups(lacking, begins), match -> match.source().equals(Optional.of(draft.number())));
            RoaringBitmap staged = carriages.outcomes().staged(update.id());
            staged.and(frozen);
            OfUpdate of = new OfUpdate(
                    update,
                    RoaringBitmap.and(hosts(without, match -> match.effect() != Effect.WITHHELD), frozen),
                    staged,
                    RoaringBitmap.and(
                            hosts(without, match -> match.due()
                                    .filter(due -> due.isBefore(draft.until()) && !due.isBefore(begins))
                                    .isPresent()),
                            frozen),
                    RoaringBitmap.and(
                            hosts(timeline.groups(lacking, draft.until()), match -> match.effect() == Effect.OFFERED),
                            frozen));
            if (!of.isEmpty()) {
                updates.add(of);
            }
        }
        return new FreezeConsequence(hosts, updates);
    }

    private static RoaringBitmap hosts(List<RulingGroup> groups, Predicate<RuleMatch> which) {
        RoaringBitmap hosts = new RoaringBitmap();
        groups.stream().filter(group -> which.test(group.match())).forEach(group -> hosts.or(group.hosts()));
        return hosts;
    }
}
