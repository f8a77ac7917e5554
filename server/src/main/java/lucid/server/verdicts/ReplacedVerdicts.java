package lucid.server.verdicts;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import lucid.core.fleet.Population;
import lucid.core.ruling.Consequences;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Decisions;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Update;
import lucid.server.decisions.Revocable;
import lucid.server.snapshot.Snapshot;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Component;

/**
 * How it is taken back that another verdict took the place of one: it stands again, as one of its own with the same
 * words.
 */
@Component
class ReplacedVerdicts implements Revocable {

    /** What was taken back can be put back within the day. */
    private static final Duration PUT_BACK_WITHIN = Duration.ofDays(1);

    private final VerdictMapper mapper;

    ReplacedVerdicts(VerdictMapper mapper) {
        this.mapper = mapper;
    }

    @Override
    public Kind kind() {
        return Kind.REPLACED_VERDICT;
    }

    /** @throws ProblemException 409 if it was not taken back within the day, or has ended since */
    @Override
    public Revoked revoke(Snapshot snapshot, long number, Instant now) {
        Verdict before = snapshot.decisions()
                .verdict(new DecisionNumber.OfVerdict(number))
                .orElseThrow(() -> ProblemException.notFound("there is no verdict " + number));
        Optional<Population> population = snapshot.fleet().ladder().entry(before.populationId());
        if (before.revokedAt()
                        .filter(at -> at.plus(PUT_BACK_WITHIN).isAfter(now))
                        .isEmpty()
                || before.type() == VerdictType.PILOT
                || population.isEmpty()) {
            throw cannot(number, "it was not taken back within the day, or is none that can be");
        }
        Verdict again = again(before, snapshot, now);
        if (!again.standsAt(now)) {
            throw cannot(number, "it has ended");
        }
        if (snapshot.decisions().verdictsOn(before.updateId()).stream()
                .anyMatch(one -> one.standsAt(now) && isSame(one, before))) {
            throw cannot(number, "it stands again already");
        }
        return new Revoked(
                snapshot.with(snapshot.decisions().with(again)),
                List.of(snapshot.update(before.updateId())),
                before.updateId().value(),
                "Put back the " + before.type().word() + " of " + before.updateId() + " for "
                        + population.get().name()
                        + before.narrowing().map(where -> " where " + where).orElse("") + ".");
    }

    private static boolean isSame(Verdict one, Verdict other) {
        return one.subject().equals(other.subject())
                && one.type() == other.type()
                && one.end().equals(other.end())
                && one.origin().author().equals(other.origin().author());
    }

    private static Verdict again(Verdict before, Snapshot snapshot, Instant now) {
        Decisions decisions = snapshot.decisions();
        Update update = snapshot.update(before.updateId());
        Verdict again = new Verdict(
                        decisions.nextVerdict(),
                        before.subject(),
                        before.type(),
                        before.end(),
                        new Verdict.Reason(before.reasons(), before.words()),
                        new Verdict.Origin(before.author(), now, before.origin().approver()),
                        before.goesOver(),
                        Optional.empty())
                .with(before.delivery());
        return again.at(Consequences.of(
                        again,
                        update,
                        snapshot.carriage(update, now),
                        snapshot.fleet(),
                        decisions,
                        snapshot.catalogue(),
                        now)
                .moment());
    }

    private static ProblemException cannot(long number, String why) {
        return new ProblemException(
                HttpStatus.CONFLICT, "replacedVerdict", "verdict " + number + " cannot be put back: " + why);
    }

    @Override
    public boolean keep(long number, Instant now) {
        throw new UnsupportedOperationException("what is put back is another verdict");
    }

    /** The one that was just made is the last. */
    @Override
    public boolean keep(Snapshot next, long number, Instant now) {
        long made = next.decisions().nextVerdict().value() - 1;
        mapper.add(next.decisions().verdict(new DecisionNumber.OfVerdict(made)).orElseThrow());
        return true;
    }
}
