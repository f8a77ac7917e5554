package lucid.server.orders;

import java.util.Optional;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import lucid.core.fleet.Population;
import lucid.core.order.HostOrders;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.ruling.Freeze;
import lucid.core.ruling.ReasonWord;
import lucid.core.ruling.RuleMatch;
import lucid.core.ruling.Verdict;
import lucid.core.update.Requirement;

/** Why a host is told what it is told, in a line for whoever sits in front of it. */
final class OrderWords {

    private OrderWords() {}

    static String of(HostOrders.Order order, Population population, Decisions decisions) {
        RuleMatch holds = order.holds();
        Optional<DecisionNumber> source = holds.source();
        return switch (holds.clause()) {
            case CARRIED_OR_NOT_APPLICABLE -> "nothing to do";
            case CANNOT_TAKE ->
                "this host lacks what it requires: "
                        + order.lacks().stream().map(Requirement::words).collect(Collectors.joining(", "));
            case FIRST_DAY -> "no upgrade is offered to a new host on its first day";
            case OVERRIDING_FORCE, VERDICT ->
                source.map(DecisionNumber.OfVerdict.class::cast)
                        .flatMap(decisions::verdict)
                        .map(OrderWords::of)
                        .orElse("by a verdict");
            case EXCEPTION ->
                "by an exception"
                        + source.map(DecisionNumber.OfException.class::cast)
                                .flatMap(decisions::exception)
                                .map(ExceptionGrant::reason)
                                .map(OrderWords::after)
                                .orElse("");
            case FREEZE ->
                "frozen"
                        + source.map(DecisionNumber.OfFreeze.class::cast)
                                .flatMap(decisions::freeze)
                                .map(Freeze::reason)
                                .map(OrderWords::after)
                                .orElse("");
            case SUPERSEDES_BLOCKED -> "it contains an update that is withheld from this host";
            case CONTAINS_EXCEPTED -> "it contains an update that an exception withholds from this host";
            case TARGET_RELEASE -> "this host stays at its release for now";
            case CAUTION -> "nothing is offered without a verdict at present";
            case STANDING_RULE -> "by the standing rule of " + population.name();
        };
    }

    private static String of(Verdict verdict) {
        String what =
                switch (verdict.type()) {
                    case BLOCK -> verdict.delivery().removes() ? "blocked, and to be removed" : "blocked";
                    case DEFER -> "deferred";
                    case PILOT -> "in a pilot";
                    case FORCE -> "forced";
                };
        return what
                + after(Stream.concat(
                                verdict.reasons().stream().sorted().map(ReasonWord::words),
                                Stream.of(verdict.reason().words()).filter(words -> !words.isBlank()))
                        .collect(Collectors.joining(", ")));
    }

    private static String after(String words) {
        return words.isBlank() ? "" : ": " + words;
    }
}
