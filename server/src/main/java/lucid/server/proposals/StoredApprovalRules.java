package lucid.server.proposals;

import java.util.Optional;
import java.util.Set;
import lucid.core.approval.ApprovalRules;
import lucid.server.storage.Settings;
import org.springframework.stereotype.Component;
import tools.jackson.databind.json.JsonMapper;

/** What needs an approver, as it is set. */
@Component
public class StoredApprovalRules {

    private static final String NAME = "approval-rules";

    private final Settings settings;
    private final JsonMapper json;

    StoredApprovalRules(Settings settings, JsonMapper json) {
        this.settings = settings;
        this.json = json;
    }

    /** What an earlier version did not know is as usual. */
    private record Stored(
            Optional<Set<Integer>> forces, Optional<Set<Integer>> disturbs, Optional<Set<Integer>> excepts) {}

    public ApprovalRules now() {
        return settings.find(NAME)
                .map(text -> json.readValue(text, Stored.class))
                .map(stored -> new ApprovalRules(
                        stored.forces().orElse(ApprovalRules.USUAL.forces()),
                        stored.disturbs().orElse(ApprovalRules.USUAL.disturbs()),
                        stored.excepts().orElse(ApprovalRules.USUAL.excepts())))
                .orElse(ApprovalRules.USUAL);
    }

    /** Within {@link lucid.server.snapshot.SnapshotStore#write}. */
    void keep(ApprovalRules rules) {
        settings.keep(NAME, json.writeValueAsString(rules));
    }
}
