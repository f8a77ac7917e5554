package lucid.core.evidence;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.HostCondition;
import lucid.core.fleet.HostName;
import lucid.core.update.UpdateId;

/**
 * A failure that somebody tells: the service desk, another site, a vendor's forum. A report that names one of our hosts
 * is that host's failure.
 *
 * @param id its own, by which a later word on it is told
 * @param code or symptom, where told
 * @param hosts names of our hosts
 * @param others how many hosts it tells of beside those named
 * @param where traits of those others, where told
 * @param source who tells it
 */
public record FailureReport(
        String id,
        UpdateId updateId,
        Optional<String> code,
        FailureClass failureClass,
        String words,
        List<HostName> hosts,
        int others,
        Optional<HostCondition> where,
        String source,
        Instant at) {

    public FailureReport {
        hosts = List.copyOf(hosts);
        if (others < 0) {
            throw new IllegalArgumentException("a report cannot tell of " + others + " hosts");
        }
    }
}
