package lucid.server.pilots;

import java.util.List;
import java.util.Optional;
import lucid.core.fleet.HostName;
import lucid.core.update.UpdateId;

/**
 * The pilot of a verdict that is worded; what is left out is what is usual.
 *
 * @param size how many hosts try it
 * @param soakDays how long a host must have had it without failure, in days
 * @param limit highest failure rate that is asked for, as a share
 * @param alsoTier1 whether hosts of tier 1 may be drawn
 * @param departments whose sign-off is asked for
 * @param without hosts that are not to be drawn
 * @param onceMet what follows by itself once the gate is met; none: somebody is asked
 * @param onceMetDays of what is forced then: in how many days it is due
 * @param hosts the sample as it was seen, and changed by hand where it was; none: it is drawn
 * @param drawnLike another update whose draw it follows, so that the same hosts try both where they lack both
 */
public record PilotDraft(
        Optional<Integer> size,
        Optional<Integer> soakDays,
        Optional<Double> limit,
        Optional<Boolean> alsoTier1,
        List<String> departments,
        List<HostName> without,
        Optional<Prepared> onceMet,
        Optional<Integer> onceMetDays,
        Optional<List<HostName>> hosts,
        Optional<UpdateId> drawnLike) {

    /** A verdict that can be prepared. */
    public enum Prepared {
        LET_GO,
        FORCE
    }

    public static final PilotDraft USUAL = new PilotDraft(null, null, null, null, null, null, null, null, null, null);

    private static final int MOST_DEPARTMENTS = 20;

    public PilotDraft {
        size = size == null ? Optional.empty() : size;
        soakDays = soakDays == null ? Optional.empty() : soakDays;
        limit = limit == null ? Optional.empty() : limit;
        alsoTier1 = alsoTier1 == null ? Optional.empty() : alsoTier1;
        without = without == null ? List.of() : List.copyOf(without);
        onceMet = onceMet == null ? Optional.empty() : onceMet;
        onceMetDays = onceMetDays == null ? Optional.empty() : onceMetDays;
        hosts = hosts == null ? Optional.empty() : hosts.map(List::copyOf);
        drawnLike = drawnLike == null ? Optional.empty() : drawnLike;
        departments = departments == null
                ? List.of()
                : departments.stream()
                        .map(String::strip)
                        .filter(name -> !name.isEmpty())
                        .distinct()
                        .toList();
        if (departments.size() > MOST_DEPARTMENTS || departments.stream().anyMatch(name -> name.length() > 200)) {
            throw new IllegalArgumentException("departments: at most " + MOST_DEPARTMENTS + ", of 200 characters each");
        }
    }
}
