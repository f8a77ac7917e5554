package lucid.core.operators;

import java.util.ArrayList;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;

/** All that operators said and did not take back. Of one host and update the newest counts. Never changes. */
public final class OperatorEntries {

    public static final OperatorEntries NONE = new OperatorEntries(List.of());

    /** The newest first. */
    private final Map<UpdateId, List<OperatorEntry>> byUpdate = new HashMap<>();

    public OperatorEntries(Collection<OperatorEntry> entries) {
        entries.stream()
                .sorted(Comparator.comparing(OperatorEntry::number).reversed())
                .forEach(entry -> byUpdate.computeIfAbsent(entry.updateId(), id -> new ArrayList<>())
                        .add(entry));
    }

    /** What was last said of this revision of an update on a host. */
    public Optional<OperatorEntry> of(Update update, int host) {
        return byUpdate.getOrDefault(update.id(), List.of()).stream()
                .filter(entry -> entry.revision().equals(update.revision())
                        && entry.hosts().contains(host))
                .findFirst();
    }

    /** When this revision of an update is to be installed on a host, as was last said. */
    public Optional<OperatorEntry.Slot> slot(Update update, int host) {
        return of(update, host).flatMap(OperatorEntry::slot);
    }

    public Optional<OperatorEntry> entry(long number) {
        return all().stream().filter(entry -> entry.number() == number).findFirst();
    }

    public Collection<OperatorEntry> all() {
        return byUpdate.values().stream().flatMap(List::stream).toList();
    }
}
