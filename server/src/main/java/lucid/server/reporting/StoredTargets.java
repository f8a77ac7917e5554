package lucid.server.reporting;

import java.security.Principal;
import java.util.Comparator;
import java.util.Map;
import java.util.stream.Collectors;
import lucid.core.reporting.CarryTargets;
import lucid.core.update.Rating;
import lucid.server.audit.AuditEntry;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.storage.Settings;
import org.springframework.stereotype.Component;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.json.JsonMapper;

/** Within how many days updates are to be carried, as somebody set it. */
@Component
class StoredTargets {

    private static final String SETTING = "carry-targets";
    private static final TypeReference<Map<Rating, Integer>> DAYS = new TypeReference<>() {};

    private final Settings settings;
    private final SnapshotStore store;
    private final JsonMapper json;

    StoredTargets(Settings settings, SnapshotStore store, JsonMapper json) {
        this.settings = settings;
        this.store = store;
        this.json = json;
    }

    CarryTargets targets() {
        return settings.find(SETTING)
                .map(text -> new CarryTargets(json.readValue(text, DAYS)))
                .orElse(CarryTargets.USUAL);
    }

    void set(CarryTargets targets, Principal who) {
        store.write(snapshot -> {
            CarryTargets before = targets();
            settings.keep(SETTING, json.writeValueAsString(targets.days()));
            store.record(
                    AuditEntry.Kind.WEIGHTS,
                    "",
                    who,
                    "Set when nine tenths of the hosts of a population are to carry an update: " + words(targets)
                            + "; before it was " + words(before) + ".");
            return new SnapshotStore.Change<>(snapshot, true);
        });
    }

    private static String words(CarryTargets targets) {
        return targets.days().isEmpty()
                ? "no targets"
                : targets.days().entrySet().stream()
                        .sorted(Map.Entry.comparingByKey(Comparator.reverseOrder()))
                        .map(one -> one.getKey().name().toLowerCase() + " within " + one.getValue() + " days")
                        .collect(Collectors.joining(", "));
    }
}
