package lucid.server.exceptions;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.EnumMap;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import lucid.core.exceptions.ExceptionAccounts;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.HostCondition;
import lucid.core.fleet.Population;
import lucid.core.ruling.Effect;
import lucid.core.ruling.ExceptionGrant;
import lucid.server.snapshot.Snapshot;
import lucid.server.views.Views;
import lucid.server.web.ProblemException;
import org.roaringbitmap.RoaringBitmap;

/** Exceptions in the words of the record, and days as those who make them mean them. */
final class ExceptionWords {

    static final DateTimeFormatter DAY = DateTimeFormatter.ofPattern("EEE d MMM uuuu", Locale.ENGLISH);

    private static final int LONGEST_DAYS = 366;

    private ExceptionWords() {}

    static String effect(Effect effect) {
        return switch (effect) {
            case OFFERED -> "offer";
            case BY_OPERATOR -> "by operator";
            default -> "withhold";
        };
    }

    /** Identifier of the update of whose record it is; empty for one on a product or a kind. */
    static String subject(ExceptionGrant exception) {
        return exception.scope() instanceof ExceptionGrant.Scope.OfUpdate of
                ? of.updateId().value()
                : "";
    }

    /** As the record tells it. */
    static String sentence(ExceptionGrant exception, Fleet fleet) {
        return effect(exception.effect()) + " " + ExceptionMapper.wordsOf(exception.scope()) + " where "
                + exception.hosts() + " until " + lastDay(exception.until(), exception.hosts(), fleet)
                + early(exception) + ", because " + exception.reason() + "; owner " + exception.owner() + ".";
    }

    private static String early(ExceptionGrant exception) {
        return exception
                .endsWhen()
                .map(when -> switch (when.type()) {
                    case SUCCESSOR -> ", or until a successor is released";
                    case ISSUE_FIXED -> ", or until the known issue " + when.issue() + " is fixed";
                })
                .orElse("");
    }

    /** What is in force, now that it has ended, for the hosts for which it was. */
    static String since(ExceptionGrant exception, Snapshot snapshot, Instant now) {
        Map<Effect, RoaringBitmap> then = new EnumMap<>(Effect.class);
        new ExceptionAccounts(snapshot.carriages(), snapshot.decisions(), snapshot.evidence(), snapshot.weights(), now)
                .of(exception).updates().stream()
                        .flatMap(of -> of.then().stream())
                        .forEach(group -> then.computeIfAbsent(group.match().effect(), effect -> new RoaringBitmap())
                                .or(group.hosts()));
        if (then.isEmpty()) {
            return "; no host lacked what it was about";
        }
        return ": of its hosts "
                + then.entrySet().stream()
                        .map(of -> of.getValue().getCardinality() + " "
                                + switch (of.getKey()) {
                                    case OFFERED -> "now offered";
                                    case WITHHELD -> "still withheld";
                                    case BY_OPERATOR -> "by operator";
                                    case REMOVE -> "to be removed";
                                    case NOTHING_TO_DO -> "without anything to do";
                                })
                        .collect(Collectors.joining(", "));
    }

    static String lastDay(Instant end, HostCondition hosts, Fleet fleet) {
        return DAY.format(LocalDate.ofInstant(end.minusMillis(1), zone(fleet, hosts)));
    }

    /** The zone of the hosts' populations where they agree, else UTC. */
    static ZoneId zone(Fleet fleet, HostCondition hosts) {
        Set<ZoneId> zones = fleet.hosts(fleet.matching(hosts, fleet.all()))
                .map(host -> fleet.ladder().owner(host).map(Population::zone).orElse(ZoneOffset.UTC))
                .collect(Collectors.toSet());
        return zones.size() == 1 ? zones.iterator().next() : ZoneOffset.UTC;
    }

    /**
     * The end of the last day of an exception.
     *
     * @throws ProblemException if it is past, or more than a year away
     */
    static Instant end(LocalDate day, ZoneId zone, Instant now) {
        if (day == null) {
            throw ProblemException.badField("until", "choose a day: every exception ends");
        }
        LocalDate today = LocalDate.ofInstant(now, zone);
        if (day.isBefore(today) || day.isAfter(today.plusDays(LONGEST_DAYS))) {
            throw ProblemException.badField(
                    "until", DAY.format(day) + (day.isBefore(today) ? " is past" : " is more than a year away"));
        }
        return Views.endOfDay(day, zone);
    }
}
