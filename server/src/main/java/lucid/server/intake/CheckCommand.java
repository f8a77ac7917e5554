package lucid.server.intake;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.update.Advisory;
import lucid.core.update.ProductMappings;
import lucid.formats.Documents;
import lucid.formats.Explanation;
import lucid.formats.document.Content;
import lucid.formats.document.Limits;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.RefusedDocumentException;
import lucid.server.clock.MovableClock;
import lucid.server.command.CommandWords;
import tools.jackson.databind.json.JsonMapper;

/**
 * {@code lucid check FILE…}: reads documents without importing them and prints one JSON line for each, or with
 * {@code --explain} what was understood of it, as a person would say it.
 */
public final class CheckCommand {

    private static final JsonMapper JSON = new JsonMapper();

    private static final CommandWords.Syntax SYNTAX = new CommandWords.Syntax(
                    "check",
                    "one file or more, --explain to be told in words what was understood, and for an updateinfo --namespace NAME and --distro NAME")
            .flag("explain")
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
                ProductMappings.NONE,
                MovableClock.system().instant());
        boolean refused = false;
        for (Path file : files) {
            Checked checked = check(file, hints);
            if (said.has("explain")) {
                System.out.println(file + ": " + (checked.document().isPresent() ? "taken" : "refused"));
                checked.words().forEach(line -> System.out.println("  " + line));
            } else {
                System.out.println(JSON.writeValueAsString(line(file, checked)));
            }
            refused |= checked.document().isEmpty();
        }
        return refused ? 1 : 0;
    }

    /** @param document empty if it was refused */
    private record Checked(Optional<ReadDocument> document, List<Problem> problems) {

        List<String> words() {
            return document.map(Explanation::of).orElseGet(() -> problems.stream()
                    .map(problem -> (problem.place() + " " + problem.reason()).strip() + ".")
                    .toList());
        }
    }

    private static Checked check(Path file, ReadingHints hints) {
        try {
            ReadDocument document = Documents.read(content(file), hints);
            return new Checked(Optional.of(document), document.problems());
        } catch (RefusedDocumentException e) {
            return new Checked(Optional.empty(), e.problems());
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

    /** Where several things are noticed, place and reason are those of the first; all stand in the list. */
    private static Map<String, Object> line(Path file, Checked checked) {
        Map<String, Object> line = new LinkedHashMap<>();
        line.put("file", file.toString());
        line.put("format", checked.document().map(d -> d.format().title()).orElse(""));
        line.put("id", checked.document().map(ReadDocument::subject).orElse(""));
        line.put("accepted", checked.document().isPresent());
        Optional<Problem> first = checked.problems().stream().findFirst();
        line.put("place", first.map(Problem::place).orElse(""));
        line.put("reason", first.map(Problem::reason).orElse(""));
        if (checked.document().map(ReadDocument::content).orElse(null) instanceof Content.OfAdvisories of) {
            line.put(
                    "productsRead",
                    of.advisories().stream().mapToInt(a -> a.fixes().size()).sum());
            line.put(
                    "productsNotRead",
                    of.advisories().stream().mapToLong(Advisory::unreadNames).sum());
        }
        line.put("problems", checked.problems());
        return line;
    }
}
