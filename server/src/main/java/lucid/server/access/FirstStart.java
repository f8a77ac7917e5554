package lucid.server.access;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.nio.file.attribute.PosixFilePermissions;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.boot.ApplicationArguments;
import org.springframework.boot.ApplicationRunner;
import org.springframework.stereotype.Component;

/**
 * What an empty instance is given: one administrator with a one-time password on the console, and a token in the data folder for
 * {@code lucid import} on the same machine. The demo gets its named users instead.
 */
@Component
class FirstStart implements ApplicationRunner {

    /** Stands in the README; the demo listens on loopback and holds nothing real. */
    private static final String DEMO_PASSWORD = "skerry-line";

    private final AccessService access;
    private final Path data;
    private final boolean demo;

    FirstStart(AccessService access, @Value("${lucid.data}") Path data, @Value("${lucid.demo:false}") boolean demo) {
        this.access = access;
        this.data = data;
        this.demo = demo;
    }

    @Override
    public void run(ApplicationArguments arguments) throws IOException {
        if (!access.isEmpty()) {
            return;
        }
        if (demo) {
            access.addPerson("m.aldane", "M. Aldane", Role.ANALYST, DEMO_PASSWORD);
            access.addPerson("j.fenn", "J. Fenn", Role.READER, DEMO_PASSWORD);
            access.addPerson("k.strand", "K. Strand", Role.ADMINISTRATOR, DEMO_PASSWORD);
        } else {
            String password = access.secret();
            access.addPerson("administrator", "Administrator", Role.ADMINISTRATOR, password);
            System.out.println("First start: sign in as 'administrator' with the password " + password
                    + " (shown this once), then add an analyst on the page Access.");
        }
        writeToken("import-token", access.addToken("local-import", Scope.IMPORT));
    }

    private void writeToken(String file, String token) throws IOException {
        Path path = data.resolve(file);
        Files.deleteIfExists(path);
        Files.createFile(path, PosixFilePermissions.asFileAttribute(PosixFilePermissions.fromString("rw-------")));
        Files.writeString(path, token + "\n");
    }
}
