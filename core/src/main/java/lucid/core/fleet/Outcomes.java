package lucid.core.fleet;

import java.util.Collection;
import java.util.Collections;
import java.util.HashMap;
import java.util.Map;

/**
 * The last outcome of every update on every host that tells whether it is there: installed, failed or removed. Never changes;
 * {@link #with} makes the next one and copies only the updates that are touched.
 */
public final class Outcomes {

    public static final Outcomes NONE = new Outcomes(Map.of());

    private final Map<String, Map<Integer, Outcome>> lastByUpdate;

    private Outcomes(Map<String, Map<Integer, Outcome>> lastByUpdate) {
        this.lastByUpdate = lastByUpdate;
    }

    public Outcomes with(Collection<Outcome> happened) {
        Map<String, Map<Integer, Outcome>> next = new HashMap<>(lastByUpdate);
        Map<String, Map<Integer, Outcome>> copied = new HashMap<>();
        for (Outcome outcome : happened) {
            if (outcome.what().tellsState()) {
                Map<Integer, Outcome> hosts = copied.computeIfAbsent(outcome.updateId(), id -> new HashMap<>(lastByUpdate.getOrDefault(id, Map.of())));
                hosts.merge(outcome.host(), outcome, (known, other) -> other.at().isBefore(known.at()) ? known : other);
                next.put(outcome.updateId(), hosts);
            }
        }
        return new Outcomes(next);
    }

    /** Those of one host. */
    public Outcomes only(int host) {
        Map<String, Map<Integer, Outcome>> of = new HashMap<>();
        lastByUpdate.forEach((update, hosts) -> {
            if (hosts.containsKey(host)) {
                of.put(update, Map.of(host, hosts.get(host)));
            }
        });
        return new Outcomes(of);
    }

    /** By host number. */
    public Map<Integer, Outcome> last(String updateId) {
        return Collections.unmodifiableMap(lastByUpdate.getOrDefault(updateId, Map.of()));
    }
}
