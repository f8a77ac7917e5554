package lucid.formats.document;

import java.util.List;
import lucid.core.fleet.HostName;
import lucid.core.fleet.HostReport;

/** What a host tells of updates without a report of all that it has. */
public record HostEvents(HostName host, List<HostReport.Event> events) {}
