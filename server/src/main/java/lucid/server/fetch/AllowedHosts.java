package lucid.server.fetch;

import java.security.Principal;
import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Locale;
import lucid.server.audit.AuditEntry;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.ProblemException;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Select;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Component;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Hosts that an administrator allows to be fetched from although they are not public. */
@Component
class AllowedHosts {

    record AllowedHost(String name, String author, Instant createdAt) {}

    /** Their table. */
    @Mapper
    interface Table {
        @Select("select name, author, created_at from allowed_host order by name")
        List<AllowedHost> all();

        @Select("select count(*) from allowed_host where name = #{name}")
        int count(String name);

        @Insert("insert into allowed_host (name, author, created_at) values (#{name}, #{author}, #{createdAt})")
        void add(AllowedHost host);

        @Delete("delete from allowed_host where name = #{name}")
        int remove(String name);
    }

    private final Table table;

    AllowedHosts(Table table) {
        this.table = table;
    }

    boolean contains(String host) {
        return table.count(host.toLowerCase(Locale.ROOT)) > 0;
    }

    @RestController
    @RequestMapping("/api/allowed-hosts")
    static class AllowedHostController {

        private final Table table;
        private final SnapshotStore store;
        private final Clock clock;

        AllowedHostController(Table table, SnapshotStore store, Clock clock) {
            this.table = table;
            this.store = store;
            this.clock = clock;
        }

        record NewAllowedHost(String name) {}

        @GetMapping
        List<AllowedHost> all() {
            return table.all();
        }

        @PostMapping
        @ResponseStatus(HttpStatus.CREATED)
        AllowedHost allow(@RequestBody NewAllowedHost host, Principal who) {
            String name = String.valueOf(host.name()).strip().toLowerCase(Locale.ROOT);
            if (!name.matches("[a-z0-9._:-]{1,255}")) {
                throw ProblemException.badField(
                        "name", "name the host alone, such as mirror.example, without scheme, port or path");
            }
            return store.write(snapshot -> {
                if (table.count(name) > 0) {
                    throw new ProblemException(HttpStatus.CONFLICT, "name", name + " is allowed already");
                }
                AllowedHost allowed = new AllowedHost(name, who.getName(), clock.instant());
                table.add(allowed);
                store.record(AuditEntry.Kind.ACCESS, "", who, "Fetching from " + name + " was allowed.");
                return new SnapshotStore.Change<>(snapshot, allowed);
            });
        }

        @DeleteMapping("/{name}")
        @ResponseStatus(HttpStatus.NO_CONTENT)
        void disallow(@PathVariable String name, Principal who) {
            store.write(snapshot -> {
                if (table.remove(name) == 0) {
                    throw ProblemException.notFound("fetching from " + name + " is not allowed");
                }
                store.record(AuditEntry.Kind.ACCESS, "", who, "Fetching from " + name + " is no longer allowed.");
                return new SnapshotStore.Change<>(snapshot, true);
            });
        }
    }
}
