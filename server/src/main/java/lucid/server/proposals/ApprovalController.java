package lucid.server.proposals;

import java.security.Principal;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.TreeMap;
import java.util.TreeSet;
import java.util.stream.Collectors;
import lucid.core.approval.ApprovalRules;
import lucid.server.audit.AuditEntry;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** What needs an approver, and what one sends back. */
@RestController
@RequestMapping("/api")
class ApprovalController {

    private final Proposals proposals;
    private final StoredApprovalRules rules;
    private final SnapshotStore store;

    ApprovalController(Proposals proposals, StoredApprovalRules rules, SnapshotStore store) {
        this.proposals = proposals;
        this.rules = rules;
        this.store = store;
    }

    /** @param words why, so that it can be worded anew */
    record ReturnDraft(String words) {}

    @PostMapping("/proposals/{number}/returns")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void sendBack(@PathVariable long number, @RequestBody ReturnDraft draft, Principal who) {
        proposals.sendBack(number, draft.words() == null ? "" : draft.words().strip(), who);
    }

    /** As {@link ApprovalRules}, each in order. */
    record ApprovalRulesView(List<Integer> forces, List<Integer> disturbs, List<Integer> excepts) {
        static ApprovalRulesView of(ApprovalRules rules) {
            return new ApprovalRulesView(
                    List.copyOf(new TreeSet<>(rules.forces())),
                    List.copyOf(new TreeSet<>(rules.disturbs())),
                    List.copyOf(new TreeSet<>(rules.excepts())));
        }

        ApprovalRules rules() {
            return new ApprovalRules(tiers("forces", forces), tiers("disturbs", disturbs), tiers("excepts", excepts));
        }

        private static Set<Integer> tiers(String field, List<Integer> tiers) {
            if (tiers == null || tiers.stream().anyMatch(tier -> tier == null || tier < 1 || tier > 4)) {
                throw ProblemException.badField(field, "name tiers from 1 to 4, or none");
            }
            return Set.copyOf(tiers);
        }

        private String words() {
            Map<String, List<Integer>> named = new TreeMap<>(
                    Map.of("forcing", forces, "disturbing in busy hours", disturbs, "excepting", excepts));
            return named.entrySet().stream()
                    .map(of -> of.getKey() + " hosts of "
                            + (of.getValue().isEmpty()
                                    ? "no tier"
                                    : "tier "
                                            + of.getValue().stream()
                                                    .map(String::valueOf)
                                                    .collect(Collectors.joining(", "))))
                    .collect(Collectors.joining("; "));
        }
    }

    @GetMapping("/approval-rules")
    ApprovalRulesView rules() {
        return ApprovalRulesView.of(rules.now());
    }

    /** What waits already goes on waiting; what is in force stays so. */
    @PutMapping("/approval-rules")
    ApprovalRulesView change(@RequestBody ApprovalRulesView next, Principal who) {
        ApprovalRules changed = next.rules();
        return store.write(snapshot -> {
            ApprovalRulesView before = ApprovalRulesView.of(rules.now());
            ApprovalRulesView after = ApprovalRulesView.of(changed);
            if (!before.equals(after)) {
                rules.keep(changed);
                store.record(
                        AuditEntry.Kind.ACCESS,
                        "",
                        who,
                        "Changed what needs an approver to " + after.words() + "; before it was " + before.words()
                                + ".");
            }
            return new SnapshotStore.Change<>(snapshot, after);
        });
    }
}
