package lucid.server.inforce;

import java.util.List;
import java.util.Set;
import java.util.stream.Collectors;
import lucid.core.fleet.Population;
import lucid.core.ruling.Caution;
import lucid.core.ruling.Decision;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.ruling.Freeze;
import lucid.core.ruling.InForce;
import lucid.core.ruling.Verdict;
import lucid.server.snapshot.Snapshot;
import lucid.server.views.Views.ExceptionView;

/** What ends, in a few words: "Block ends: LNT-1107 (Ticket kiosks)". */
public final class EndWords {

    private EndWords() {}

    public static String of(InForce one, Snapshot snapshot) {
        return of(one, entries(one, snapshot));
    }

    /** Populations with hosts that it is for. */
    static List<Population> entries(InForce one, Snapshot snapshot) {
        Set<?> with = snapshot.fleet().byEntry(one.hosts()).keySet();
        return snapshot.fleet().ladder().entries().stream()
                .filter(entry -> with.contains(entry.id()))
                .toList();
    }

    static String of(InForce one, List<Population> entries) {
        String populations = entries.size() > 3
                ? entries.size() + " populations"
                : entries.stream().map(Population::name).collect(Collectors.joining(", "));
        String about = one.update().map(update -> update.id().value()).orElseGet(() -> about(one.decision()));
        return verb(one.decision()) + ": " + about + (populations.isEmpty() ? "" : " (" + populations + ")");
    }

    private static String verb(Decision decision) {
        if (decision instanceof Verdict verdict) {
            return switch (verdict.type()) {
                case BLOCK -> "Block ends";
                case DEFER -> "Deferral ends";
                case PILOT -> "Pilot: answer";
                case FORCE -> "Due";
            };
        }
        if (decision instanceof ExceptionGrant) {
            return "Exception ends";
        }
        return decision instanceof Freeze ? "Frozen" : decision instanceof Caution ? "Caution ends" : "Look again";
    }

    private static String about(Decision decision) {
        return decision instanceof ExceptionGrant exception
                ? ExceptionView.about(exception)
                : decision instanceof Freeze ? "everything" : "standing rules";
    }
}
