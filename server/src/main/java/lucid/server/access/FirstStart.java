package lucid.server.access;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.StandardCopyOption;
import java.nio.file.attribute.PosixFilePermissions;
import java.util.List;
import lucid.server.state.State;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.boot.ApplicationArguments;
import org.springframework.boot.ApplicationRunner;
import org.springframework.context.ApplicationContext;
import org.springframework.stereotype.Component;

/**
 * What an empty instance is given: one administrator with a one-time password on the console. The demo gets its named users instead. And what the
 * commands of this machine find in the data folder: the server's address, and tokens for {@code lucid import} and {@code lucid backup}.
 */
@Component
class FirstStart implements ApplicationRunner {

    /** Stands in the README; the demo listens on loopback and holds nothing real. */
    private static final String DEMO_PASSWORD = "skerry-line";

    private final AccessService access;
    private final State state;
    private final ApplicationContext context;
    private final Path data;
    private final String bind;
    private final boolean demo;

    FirstStart(AccessService access, State state, ApplicationContext context, @Value("${lucid.data}") Path data, @Value("${lucid.bind:127.0.0.1}") String bind, @Value("${lucid.demo:false}") boolean demo) {
        this.access = access;
        this.state = state;
        this.context = context;
        this.data = data;
        this.bind = bind;
        this.demo = demo;
    }

    @Override
    public void run(ApplicationArguments arguments) throws IOException {
        if (access.isEmpty()) {
            state.write(picture -> {
                addPeople();
                return new State.Written<>(picture, true);
            });
        }
        writeToken("import-token", "local-import", Scope.IMPORT);
        writeToken("backup-token", "local-backup", Scope.BACKUP);
        // Last: who waits for the server looks for this file.
        String host = List.of("0.0.0.0", "::").contains(bind) ? "127.0.0.1" : bind.contains(":") ? "[" + bind + "]" : bind;
        writePrivately("address", "http://" + host + ":" + context.getEnvironment().getProperty("local.server.port"));
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
            access.addPerson("administrator", "Administrator", Role.ADMINISTRATOR, List.of(), password, true);
            System.out.println("First start: sign in as 'administrator' with the one-time password " + password
                    + " (shown this once), then add an analyst on the page Access.");
        }
    }

    private void addDemoPerson(String login, String name, Role role, List<String> populations) {
        access.addPerson(login, name, role, populations, DEMO_PASSWORD, false);
    }

    /** Tokens stay as they are while their file does; a folder that was restored gets new ones. */
    private void writeToken(String file, String name, Scope scope) throws IOException {
        boolean works = Files.isRegularFile(data.resolve(file)) && access.machine(Files.readString(data.resolve(file)).strip()).isPresent();
        if (!works) {
            writePrivately(file, state.write(picture -> new State.Written<>(picture, access.renewToken(name, scope))));
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
