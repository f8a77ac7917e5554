package lucid.server.cautions;

import java.time.Instant;
import java.util.List;
import java.util.Locale;
import lucid.core.ruling.Caution;
import lucid.core.ruling.DecisionNumber;
import lucid.server.decisions.Revocable;
import lucid.server.snapshot.Snapshot;
import lucid.server.web.ProblemException;
import org.springframework.stereotype.Component;

/** How caution is taken back: what standing rules offer, they offer at once. */
@Component
class RevocableCautions implements Revocable {

    private final CautionMapper mapper;

    RevocableCautions(CautionMapper mapper) {
        this.mapper = mapper;
    }

    /** "watchful", "judged only". */
    static String words(Caution.Level level) {
        return level.name().toLowerCase(Locale.ROOT).replace('_', ' ');
    }

    @Override
    public Kind kind() {
        return Kind.CAUTION;
    }

    @Override
    public Revoked revoke(Snapshot snapshot, long number, Instant now) {
        Caution caution = snapshot.decisions()
                .caution(new DecisionNumber.OfCaution(number))
                .orElseThrow(() -> ProblemException.notFound("there is no caution " + number));
        return new Revoked(
                snapshot.with(snapshot.decisions().with(caution.revoked(now))),
                List.copyOf(snapshot.catalogue().updates()),
                "",
                "Took back that the fleet is " + words(caution.level()) + ".");
    }

    @Override
    public boolean keep(long number, Instant now) {
        return mapper.takeBack(number, now) > 0;
    }
}
