package lucid.server.access;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import lucid.formats.document.Format;
import lucid.server.audit.AuditEntry;
import lucid.server.snapshot.Disk;
import lucid.server.snapshot.SnapshotStore;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.boot.ApplicationArguments;
import org.springframework.boot.ApplicationRunner;
import org.springframework.context.ApplicationContext;
import org.springframework.stereotype.Component;

/**
 * What an empty instance is given: one administrator with a one-time password on the console. The demo gets its named
 * users instead. And what the commands of this machine find in the data folder: the server's address, and tokens for
 * {@code lucid import} and {@code lucid backup}.
 */
@Component
class FirstStart implements ApplicationRunner {

    /** Stands in the README; the demo listens on loopback and holds nothing real. */
    private static final String DEMO_PASSWORD = "skerry-line";

    private final AccessService access;
    private final SnapshotStore store;
    private final ApplicationContext context;
    private final Path data;
    private final String bind;
    private final boolean demo;
    private final Disk disk;
    private final String loss;

    FirstStart(
            AccessService access,
            SnapshotStore store,
            ApplicationContext context,
            @Value("${lucid.data}") Path data,
            @Value("${lucid.bind:127.0.0.1}") String bind,
            @Value("${lucid.demo:false}") boolean demo,
            Disk disk,
            @Value("${lucid.loss:}") String loss) {
        this.disk = disk;
        this.loss = loss;
        this.access = access;
        this.store = store;
        this.context = context;
        this.data = data;
        this.bind = bind;
        this.demo = demo;
    }

    @Override
    public void run(ApplicationArguments arguments) throws IOException {
        if (disk.isReadOnly()) {
            tellAddress();
            return;
        }
        if (!loss.isEmpty()) {
            store.write(snapshot -> {
                store.record(
                        AuditEntry.Kind.ACCESS,
                        "",
                        new Caller.Machine("start", Scope.BACKUP, Optional.empty(), Set.of()),
                        "Started although something is missing: " + loss + ".");
                return new SnapshotStore.Change<>(snapshot, true);
            });
        }
        if (access.isEmpty()) {
            store.write(snapshot -> {
                addPeople();
                return new SnapshotStore.Change<>(snapshot, true);
            });
        }
        // Who holds the file is at the machine itself, and may bring everything; populations are only proposed by it,
        // as by everybody.
        writeToken("import-token", "local-import", Scope.IMPORT, Set.of(Format.values()));
        writeToken("backup-token", "local-backup", Scope.BACKUP, Set.of());
        writePrivately("address", address());
    }

    /** Who waits for the server looks for this file; on a full disk an old one may have to do. */
    private void tellAddress() {
        try {
            writePrivately("address", address());
        } catch (IOException e) {
            System.out.println(
                    "The address " + address() + " could not be written into the data folder: " + e.getMessage());
        }
    }

    private String address() {
        String host =
                List.of("0.0.0.0", "::").contains(bind) ? "127.0.0.1" : bind.contains(":") ? "[" + bind + "]" : bind;
        return "http://" + host + ":" + context.getEnvironment().getProperty("local.server.port");
    }

    private void addPeople() {
        if (demo) {
            addDemoPerson("m.aldane", "M. Aldane", Role.ANALYST, List.of());
            addDemoPerson("j.fenn", "J. Fenn", Role.READER, List.of());
            addDemoPerson("s.orrin", "S. Orrin", Role.DESK, List.of());
            addDemoPerson("b.tove", "B. Tove", Role.OPERATOR, List.of("booking-databases"));
            addDemoPerson("h.marsh", "H. Marsh", Role.APPROVER, List.of());
            addDemoPerson("k.strand", "K. Strand", Role.ADMINISTRATOR, List.of());
        } else {
            String password = access.secret();
            access.addPerson("administrator", "Administrator", Role.ADMINISTRATOR, List.of(), password);
            System.out.println("First start: sign in as 'administrator' with the one-time password " + password
                    + " (shown this once), then add an analyst on the page Access.");
        }
    }

    private void addDemoPerson(String login, String name, Role role, List<String> populations) {
        access.addDemoPerson(login, name, role, populations, DEMO_PASSWORD);
    }

    /** Tokens stay as they are while their file does; a folder that was restored gets new ones. */
    private void writeToken(String file, String name, Scope scope, Set<Format> formats) throws IOException {
        boolean works = Files.isRegularFile(data.resolve(file))
                && access.machine(Files.readString(data.resolve(file)).strip()).isPresent();
        if (!works) {
            writePrivately(
                    file,
                    store.write(
                            snapshot -> new SnapshotStore.Change<>(snapshot, access.renewToken(name, scope, formats))));
        }
    }

    private void writePrivately(String file, String line) throws IOException {
        Path part = data.resolve(file + ".part");
        Files.deleteIfExists(part);
        Files.createFile(part, PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
        Files.writeString(part, line + "\n");
        Files.move(part, data.resolve(file), StandardCopyOption.REPLACE_EXISTING);
    }
}
