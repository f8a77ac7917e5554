package lucid.server.verdicts;

import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import lucid.core.fleet.Fleet;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Removable;
import lucid.core.update.Update;
import lucid.server.web.ProblemException;

/** Reads how what is worded is to reach its hosts. */
final class Deliveries {

    private static final int LONGEST_ALLOWANCE_DAYS = 90;

    private Deliveries() {}

    /**
     * How the verdicts of an answer reach their hosts; in which parts is drawn once it is known who they are.
     *
     * @throws ProblemException 422 naming the field
     */
    static Verdict.Delivery of(AnswerDraft answer, Update update, Fleet fleet, Instant now) {
        boolean offersToAll = answer.type() == VerdictType.FORCE || answer.type() == VerdictType.DEFER;
        if (!offersToAll && answer.spread().isPresent()) {
            throw ProblemException.badField("spread", "only what is deferred or forced comes in parts");
        }
        if (!offersToAll && answer.byOperator().isPresent()) {
            throw ProblemException.badField("byOperator", "only what is deferred or forced is begun by an operator");
        }
        answer.spread().ifPresent(Deliveries::requireParts);
        Verdict.Delivery delivery = forced(answer);
        if (answer.byOperator().isPresent()) {
            OperatorDraft told = answer.byOperator().get();
            told.order().stream()
                    .filter(name -> fleet.host(name).isEmpty())
                    .findFirst()
                    .ifPresent(name -> {
                        throw ProblemException.badField("byOperator.order", "there is no host " + name);
                    });
            delivery = delivery.by(new Verdict.ByOperator(told.checklist(), told.order()));
        }
        if (!answer.removes().orElse(false)) {
            return delivery;
        }
        if (answer.type() != VerdictType.BLOCK) {
            throw ProblemException.badField("removes", "what is removed is blocked: else it would come back");
        }
        if (!update.removable().isPossibleOn(LocalDate.ofInstant(now, ZoneOffset.UTC))) {
            throw ProblemException.badField(
                    "removes",
                    update.removable().until().filter(Removable.NEVER::equals).isPresent()
                            ? update.id() + " cannot be removed from a host that has it"
                            : "the last day on which " + update.id() + " could be removed is past");
        }
        return delivery.removing();
    }

    private static void requireParts(SpreadDraft spread) {
        if (spread.parts() < 1 || spread.parts() > SpreadDraft.MOST_PARTS) {
            throw ProblemException.badField("spread.parts", "choose 1 to " + SpreadDraft.MOST_PARTS + " parts");
        }
        if (spread.daysApart() < 1 || spread.daysApart() > SpreadDraft.MOST_DAYS_APART) {
            throw ProblemException.badField("spread.daysApart", "choose 1 to " + SpreadDraft.MOST_DAYS_APART + " days");
        }
    }

    private static Verdict.Delivery forced(AnswerDraft answer) {
        int days = answer.allowanceDays().orElse(0);
        boolean outsideWindows = answer.outsideWindows().orElse(false);
        if (answer.type() != VerdictType.FORCE && (days != 0 || outsideWindows)) {
            throw ProblemException.badField(
                    "allowanceDays", "only what is forced has a time for hosts that were away, and windows to go over");
        }
        if (days < 0 || days > LONGEST_ALLOWANCE_DAYS) {
            throw ProblemException.badField("allowanceDays", "choose 0 to " + LONGEST_ALLOWANCE_DAYS + " days");
        }
        return new Verdict.Delivery(Duration.ofDays(days), outsideWindows);
    }
}
