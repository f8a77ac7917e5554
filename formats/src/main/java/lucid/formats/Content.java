package lucid.formats;

import java.util.List;
import lucid.core.fleet.HostReport;
import lucid.core.fleet.Ladder;
import lucid.core.update.Advisory;
import lucid.core.update.UpdateNotice;

/** What a document says, in core's types. */
public sealed interface Content {

    record OfAdvisory(Advisory advisory) implements Content {}

    record OfNotice(UpdateNotice notice) implements Content {}

    record OfInventory(List<HostReport> reports) implements Content {}

    record OfPopulations(Ladder ladder) implements Content {}
}
