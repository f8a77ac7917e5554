package lucid.server.intake;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.formats.Documents;
import lucid.formats.document.Limits;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.RefusedDocumentException;
import lucid.server.clock.MovableClock;
import lucid.server.command.CommandWords;
import tools.jackson.databind.json.JsonMapper;

/** {@code lucid check FILE…}: reads documents without importing them and prints one JSON line for each. */
public final class CheckCommand {

    private static final JsonMapper JSON = new JsonMapper();

    private static final CommandWords.Syntax SYNTAX = new CommandWords.Syntax(
                    "check", "one file or more, and for an updateinfo --namespace NAME and --distro NAME")
            .value("namespace")
            .value("distro");

    private CheckCommand() {}

    /** @return 0 if every document would be taken, 1 if one would be refused */
    public static int run(List<String> words) {
        CommandWords said = SYNTAX.parse(words);
        List<Path> files = said.files();
        ReadingHints hints = new ReadingHints(
                said.value("namespace"),
                said.value("distro"),
                Map.of(),
                MovableClock.system().instant());
        boolean refused = false;
        for (Path file : files) {
            Map<String, Object> line = check(file, hints);
            System.out.println(JSON.writeValueAsString(line));
            refused |= line.get("accepted").equals(false);
        }
        return refused ? 1 : 0;
    }

    /** Where several things are wrong, place and reason are those of the first. */
    private static Map<String, Object> check(Path file, ReadingHints hints) {
        try {
            ReadDocument document = Documents.read(content(file), hints);
            Optional<Problem> remark = document.problems().stream().findFirst();
            return line(file, document.format().title(), document.subject(), true, remark);
        } catch (RefusedDocumentException e) {
            return line(file, "", "", false, e.problems().stream().findFirst());
        }
    }

    private static byte[] content(Path file) {
        try {
            if (!Files.isRegularFile(file)) {
                throw new RefusedDocumentException("", "there is no such file");
            }
            if (Files.size(file) > Limits.LONGEST_DOCUMENT) {
                throw new RefusedDocumentException(
                        "", "the document is longer than " + Limits.LONGEST_DOCUMENT / 1024 / 1024 + " MB");
            }
            return Files.readAllBytes(file);
        } catch (IOException e) {
            throw new RefusedDocumentException("", "it cannot be read: " + e.getMessage());
        }
    }

    private static Map<String, Object> line(
            Path file, String format, String id, boolean accepted, Optional<Problem> problem) {
        Map<String, Object> line = new LinkedHashMap<>();
        line.put("file", file.toString());
        line.put("format", format);
        line.put("id", id);
        line.put("accepted", accepted);
        line.put("place", problem.map(Problem::place).orElse(""));
        line.put("reason", problem.map(Problem::reason).orElse(""));
        return line;
    }
}
