package lucid.server.hosts;

import java.util.List;
import lucid.server.access.Caller;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PutMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Each person's own filters of the list of hosts. */
@RestController
@RequestMapping("/api/host-filters")
class HostFilterController {

    private static final int MOST = 50;

    private final HostFilterMapper mapper;
    private final SnapshotStore store;

    HostFilterController(HostFilterMapper mapper, SnapshotStore store) {
        this.mapper = mapper;
        this.store = store;
    }

    @GetMapping
    List<HostFilterMapper.Filter> filters(@AuthenticationPrincipal Caller.Person who) {
        return mapper.of(who.login());
    }

    /** @param query parameters of the page's address, such as {@code show=UNKNOWN&population=kiosks} */
    record FilterDraft(String query) {}

    @PutMapping("/{name}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void keep(@PathVariable String name, @RequestBody FilterDraft draft, @AuthenticationPrincipal Caller.Person who) {
        if (name.isBlank() || name.length() > 100) {
            throw ProblemException.badField("name", "a name has 1 to 100 characters");
        }
        if (draft.query() == null || draft.query().length() > 4000) {
            throw ProblemException.badField("query", "a filter has up to 4,000 characters");
        }
        store.write(snapshot -> {
            List<HostFilterMapper.Filter> known = mapper.of(who.login());
            if (known.size() >= MOST && known.stream().noneMatch(f -> f.name().equals(name))) {
                throw ProblemException.badField("name", "there are " + MOST + " filters already; remove one first");
            }
            mapper.keep(who.login(), new HostFilterMapper.Filter(name.strip(), draft.query()));
            return new SnapshotStore.Change<>(snapshot, true);
        });
    }

    @DeleteMapping("/{name}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void remove(@PathVariable String name, @AuthenticationPrincipal Caller.Person who) {
        store.write(snapshot -> {
            if (mapper.remove(who.login(), name) == 0) {
                throw ProblemException.notFound("there is no filter " + name);
            }
            return new SnapshotStore.Change<>(snapshot, true);
        });
    }
}
