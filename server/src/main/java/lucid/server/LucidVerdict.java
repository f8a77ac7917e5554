package lucid.server;

import java.util.List;
import lucid.server.backup.DataFolderCommands;
import lucid.server.command.UsageException;
import lucid.server.intake.CheckCommand;
import lucid.server.intake.ImportCommand;
import lucid.server.storage.DataFolder;
import org.springframework.boot.autoconfigure.SpringBootApplication;
import org.springframework.boot.builder.SpringApplicationBuilder;
import org.springframework.context.ConfigurableApplicationContext;
import org.springframework.scheduling.annotation.EnableScheduling;

/** The program: {@code run} starts the server; the other commands work on files and on one that runs. */
@SpringBootApplication
@EnableScheduling
public class LucidVerdict {

    public static void main(String[] arguments) {
        List<String> words = List.of(arguments);
        String command = words.isEmpty() ? "run" : words.get(0);
        List<String> rest = words.isEmpty() ? List.of() : words.subList(1, words.size());
        try {
            switch (command) {
                case "run" -> run(RunOptions.parse(rest));
                case "import" -> System.exit(ImportCommand.run(rest));
                case "check" -> System.exit(CheckCommand.run(rest));
                case "backup" -> System.exit(DataFolderCommands.backup(rest));
                case "restore" -> System.exit(DataFolderCommands.restore(rest));
                case "verify-record" -> System.exit(DataFolderCommands.verifyRecord(rest));
                default ->
                    throw new UsageException("'" + command
                            + "' is no command; there are run, import, check, backup, restore and verify-record");
            }
        } catch (UsageException e) {
            System.err.println("lucid: " + e.getMessage());
            System.exit(2);
        }
    }

    private static void run(RunOptions options) {
        options.requireFreeFolderAndPort();
        String port = start(options).getEnvironment().getRequiredProperty("local.server.port");
        System.out.println("Lucid Verdict is ready at " + options.address(port) + " (data in "
                + options.folder().path() + ")");
    }

    /**
     * Starts the server; the data folder and port must be free.
     *
     * @throws UsageException in one sentence, if the folder cannot or must not be started on
     */
    public static ConfigurableApplicationContext start(RunOptions options) {
        DataFolder.Prepared prepared = options.prepare();
        if (prepared.readOnly()) {
            System.out.println(
                    "The disk of " + options.folder().path()
                            + " is full: what is stored can be read, and nothing is written until there is room and the server is started again.");
        }
        return new SpringApplicationBuilder(LucidVerdict.class)
                .logStartupInfo(false)
                .run(options.arguments(prepared));
    }
}
