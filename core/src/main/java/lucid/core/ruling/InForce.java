package lucid.core.ruling;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Optional;
import lucid.core.carriage.Carriage;
import lucid.core.carriage.Carriages;
import lucid.core.fleet.Fleet;
import lucid.core.update.Update;
import org.roaringbitmap.RoaringBitmap;

/**
 * A decision that holds now.
 *
 * @param update on which it is; none for an exception on a product or a kind
 * @param end when it ends: of a force, when it is or was due; of what is left to the rule, when somebody looks again
 * @param hosts that lack the update and for which it is what holds; of an exception on a product or kind all that it names
 */
public record InForce(Decision decision, Optional<Update> update, Instant end, RoaringBitmap hosts) {

    /** What holds now, what ends first in front. A force that every host carries is done, and not told. */
    public static List<InForce> at(Carriages carriages, Decisions decisions, Instant at) {
        List<InForce> all = new ArrayList<>();
        for (Update update : carriages.catalogue().updates()) {
            List<Decision> standing = standingOn(update, decisions, at);
            if (!standing.isEmpty()) {
                ofUpdate(update, standing, carriages, decisions, at, all);
            }
        }
        Fleet fleet = carriages.fleet();
        decisions.exceptions().stream().filter(exception -> exception.standsAt(at) && !(exception.scope() instanceof ExceptionGrant.Scope.OfUpdate))
                .forEach(exception -> all.add(new InForce(exception, Optional.empty(), exception.until(), fleet.matching(exception.hosts(), fleet.all()))));
        all.sort(Comparator.comparing(InForce::end).thenComparing(one -> one.update().map(Update::id).orElse("")).thenComparing(one -> one.decision().number()));
        return List.copyOf(all);
    }

    private static List<Decision> standingOn(Update update, Decisions decisions, Instant at) {
        List<Decision> standing = new ArrayList<>();
        decisions.verdictsOn(update.id()).stream().filter(v -> v.type() == VerdictType.FORCE ? v.standsAt(at) : v.withholdsAt(at)).forEach(standing::add);
        decisions.exceptionsOn(update).stream().filter(e -> e.standsAt(at) && e.scope() instanceof ExceptionGrant.Scope.OfUpdate).forEach(standing::add);
        decisions.acknowledgementsOn(update.id()).stream().filter(a -> a.isMadeBy(at) && a.lookAgain().filter(day -> day.isAfter(at)).isPresent()).forEach(standing::add);
        return standing;
    }

    private static void ofUpdate(Update update, List<Decision> standing, Carriages carriages, Decisions decisions, Instant at, List<InForce> all) {
        Carriage carriage = carriages.of(update, at);
        Timeline timeline = Timeline.of(update, decisions, carriages.fleet(), carriages.catalogue());
        List<RulingGroup> groups = timeline.groups(carriage.lacking(), at);
        RoaringBitmap never = new RoaringBitmap();
        groups.stream().filter(group -> group.match().isNever()).forEach(group -> never.or(group.hosts()));
        for (Decision decision : standing) {
            if (decision instanceof Acknowledgement answer) {
                RoaringBitmap left = new RoaringBitmap();
                carriages.fleet().ladder().entries().stream().filter(entry -> answer.covers(entry.id())).forEach(entry -> left.or(RoaringBitmap.and(never, carriages.fleet().members(entry.id()))));
                if (!left.isEmpty()) {
                    all.add(new InForce(answer, Optional.of(update), answer.lookAgain().orElseThrow(), left));
                }
                continue;
            }
            boolean exception = decision instanceof ExceptionGrant;
            RoaringBitmap hosts = new RoaringBitmap();
            groups.stream().filter(group -> group.match().source().equals(Optional.of(decision.number())) && group.match().isOf(exception)).forEach(group -> hosts.or(group.hosts()));
            boolean done = decision instanceof Verdict verdict && verdict.type() == VerdictType.FORCE && hosts.isEmpty();
            if (!done) {
                all.add(new InForce(decision, Optional.of(update), exception ? ((ExceptionGrant) decision).until() : ((Verdict) decision).end(), hosts));
            }
        }
    }

    /** What would hold for its hosts once it has ended; nothing for a force, which does not end by itself. */
    public List<RulingGroup> then(Carriages carriages, Decisions decisions) {
        boolean ends = !(decision instanceof Verdict verdict && verdict.type() == VerdictType.FORCE);
        return update.filter(of -> ends).map(of -> Timeline.of(of, decisions, carriages.fleet(), carriages.catalogue()).groups(hosts, end)).orElse(List.of());
    }
}
