package lucid.core.order;

import java.time.Duration;
import java.time.Instant;
import java.util.EnumMap;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.core.carriage.Carriage;
import lucid.core.carriage.CarriageState;
import lucid.core.carriage.Carriages;
import lucid.core.carriage.OnSources;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Population;
import lucid.core.fleet.StartMode;
import lucid.core.forecast.Hours;
import lucid.core.order.HeardBy.Hearing;
import lucid.core.ruling.Verdict;
import lucid.core.update.Update;
import org.roaringbitmap.RoaringBitmap;

/**
 * Why hosts still lack what a force made due on them. Each host stands under the first reason that is known of it, so
 * that whoever acts on a reason acts on all of its hosts; under the last are those of which nothing is known that would
 * keep them.
 *
 * @param hosts without what keeps none
 * @param nextWindow of those that had no window since it was due: when the next one opens, if one does within 60 days
 */
public record WhyOverdue(Map<Why, RoaringBitmap> hosts, Optional<Instant> nextWindow) {

    private static final Duration AHEAD = Duration.ofDays(60);

    /** From what somebody has to look into to what passes by itself. */
    public enum Why {
        /** Nothing has been heard of it for too long. */
        SILENT("silent too long"),
        /** Its last try failed. */
        FAILED("failed when last tried"),
        /** It is not known to do as it is told: it never asked, has not since, refuses, or does something else. */
        NOT_REACHED("not known to have heard it"),
        /** Its reporter installs nothing by itself. */
        INSTALLS_NOTHING("set to install nothing"),
        /** Somebody is to install it by hand. */
        BY_OPERATOR("left to an operator"),
        /** Its sources do not have it yet. */
        NOT_ON_SOURCES("without it on their sources"),
        /** It is on battery, with less charge than it needs. */
        BATTERY("on battery"),
        /** Its line is paid by what goes over it. */
        PAID_LINE("on a paid line"),
        /** It has less room than the update needs. */
        SPACE("without the space"),
        /** No window has come since it was due. */
        NO_WINDOW("without a window since"),
        NOT_KNOWN("for no reason that is known");

        private final String words;

        Why(String words) {
            this.words = words;
        }

        /** In a few words, behind a number of hosts. */
        public String words() {
            return words;
        }
    }

    /** What hosts said of their orders. */
    public record Said(Map<Hearing, RoaringBitmap> heard, RoaringBitmap installsNothing) {

        private RoaringBitmap notReached() {
            RoaringBitmap all = new RoaringBitmap();
            Stream.of(Hearing.NEVER_ASKED, Hearing.NOT_YET, Hearing.REFUSES, Hearing.NOT_OBEYED)
                    .flatMap(hearing -> Optional.ofNullable(heard.get(hearing)).stream())
                    .forEach(all::or);
            return all;
        }
    }

    /**
     * @param force that stands
     * @param hosts that lack the update and on which the force is in force
     */
    public static WhyOverdue of(
            Verdict force, Update update, RoaringBitmap hosts, Said said, Carriages carriages, Instant now) {
        Fleet fleet = carriages.fleet();
        Carriage carriage = carriages.of(update, now);
        RoaringBitmap left = new RoaringBitmap();
        hosts.forEach((int host) -> {
            if (!force.endFor(host).isAfter(now)) {
                left.add(host);
            }
        });
        Population population = fleet.ladder().entry(force.populationId()).orElseThrow();
        Map<Why, RoaringBitmap> why = new EnumMap<>(Why.class);
        take(Why.SILENT, fleet.unknownAt(now), left, why);
        take(Why.FAILED, carriage.in(CarriageState.FAILED), left, why);
        take(Why.NOT_REACHED, said.notReached(), left, why);
        take(Why.INSTALLS_NOTHING, said.installsNothing(), left, why);
        boolean byOperator =
                force.delivery().byOperator().isPresent() || population.timing().start() == StartMode.BY_OPERATOR;
        take(Why.BY_OPERATOR, byOperator ? left.clone() : new RoaringBitmap(), left, why);
        take(Why.NOT_ON_SOURCES, OnSources.of(update, left, fleet).in(OnSources.Found.NOT_YET), left, why);
        population
                .timing()
                .restraint()
                .prevented(left.clone(), update.sizeBytes(), fleet)
                .forEach((prevention, some) -> take(Why.valueOf(prevention.name()), some, left, why));
        Hours hours = Hours.of(population, force.createdAt(), now.plus(AHEAD));
        boolean waits = !force.delivery().outsideWindows();
        RoaringBitmap noWindow = new RoaringBitmap();
        left.forEach((int host) -> {
            if (waits
                    && hours.allowedWhenDue(force.endFor(host))
                            .filter(at -> !at.isAfter(now))
                            .isEmpty()) {
                noWindow.add(host);
            }
        });
        take(Why.NO_WINDOW, noWindow, left, why);
        take(Why.NOT_KNOWN, left.clone(), left, why);
        return new WhyOverdue(why, why.containsKey(Why.NO_WINDOW) ? hours.allowedWhenDue(now) : Optional.empty());
    }

    private static void take(Why reason, RoaringBitmap some, RoaringBitmap left, Map<Why, RoaringBitmap> why) {
        RoaringBitmap taken = RoaringBitmap.and(left, some);
        if (!taken.isEmpty()) {
            left.andNot(taken);
            why.put(reason, taken);
        }
    }
}
