package lucid.server.access;

import java.security.Principal;
import java.util.LinkedHashMap;
import java.util.Map;
import java.util.stream.Collectors;
import lucid.server.audit.AuditEntry;
import lucid.server.audit.RecordAuthor;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.ProblemException;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.scheduling.annotation.Scheduled;
import org.springframework.stereotype.Component;

/**
 * Failed sign-ins and refused rights on their way into the record. Who tries a thousand times must not fill it: what
 * happened alike within some seconds is one sentence with a count, and what is more than a bound is one sentence
 * together.
 */
@Component
class SecurityLog {

    private static final Logger LOG = LoggerFactory.getLogger(SecurityLog.class);
    private static final int MOST_SENTENCES = 20;

    private final SnapshotStore store;
    private final Map<String, Integer> waiting = new LinkedHashMap<>();

    SecurityLog(SnapshotStore store) {
        this.store = store;
    }

    /** Who writes the sentence down; it is about somebody who may not be known. */
    private record Author(String getName) implements Principal, RecordAuthor {
        @Override
        public String recordName() {
            return getName;
        }
    }

    void failedSignIn(String name, String address) {
        note("Failed sign-in as " + (name.isEmpty() ? "nobody that can be" : name) + " from " + address);
    }

    void refused(Caller caller, String method, String path) {
        note("Refused to " + caller.recordName() + ", who may not: " + method + " "
                + (path.length() <= 200 ? path : path.substring(0, 200) + "…"));
    }

    private synchronized void note(String sentence) {
        if (waiting.size() < MOST_SENTENCES || waiting.containsKey(sentence)) {
            waiting.merge(sentence, 1, Integer::sum);
        } else {
            waiting.merge("Further failed sign-ins and refused requests of others", 1, Integer::sum);
        }
    }

    private synchronized Map<String, Integer> taken() {
        Map<String, Integer> taken = new LinkedHashMap<>(waiting);
        waiting.clear();
        return taken;
    }

    @Scheduled(fixedDelay = 5_000)
    void write() {
        Map<String, Integer> taken = taken();
        if (taken.isEmpty()) {
            return;
        }
        try {
            store.write(snapshot -> {
                taken.forEach((sentence, times) -> store.record(
                        AuditEntry.Kind.ACCESS,
                        "",
                        new Author("Lucid Verdict"),
                        sentence + (times == 1 ? "." : ", " + times + " times.")));
                return new SnapshotStore.Change<>(snapshot, true);
            });
        } catch (ProblemException e) {
            LOG.warn(
                    "Not kept in the record, since nothing can be written: {}",
                    taken.entrySet().stream()
                            .map(entry -> entry.getKey() + " x " + entry.getValue())
                            .collect(Collectors.joining("; ")));
        }
    }
}
