package lucid.server.command;

import java.nio.file.InvalidPathException;
import java.nio.file.Path;
import java.util.List;
import java.util.Optional;
import org.apache.commons.cli.AmbiguousOptionException;
import org.apache.commons.cli.CommandLine;
import org.apache.commons.cli.DefaultParser;
import org.apache.commons.cli.MissingArgumentException;
import org.apache.commons.cli.Option;
import org.apache.commons.cli.Options;
import org.apache.commons.cli.ParseException;
import org.apache.commons.cli.UnrecognizedOptionException;

/** The words behind a command, as options and files. What is wrong with them is told in one sentence. */
public final class CommandWords {

    private final String command;
    private final String takes;
    private final CommandLine line;

    private CommandWords(String command, String takes, CommandLine line) {
        this.command = command;
        this.takes = takes;
        this.line = line;
    }

    /** What a command takes; made once, and read by {@link #parse}. */
    public static final class Syntax {
        private final String command;
        private final String takes;
        private final Options options = new Options();

        /** @param takes what it takes, in words */
        public Syntax(String command, String takes) {
            this.command = command;
            this.takes = takes;
        }

        /** With an option that is followed by a value. */
        public Syntax value(String name) {
            options.addOption(Option.builder().longOpt(name).hasArg().get());
            return this;
        }

        /** With an option that stands for itself. */
        public Syntax flag(String name) {
            options.addOption(Option.builder().longOpt(name).get());
            return this;
        }

        /** @throws UsageException if a word is not known or lacks its value */
        public CommandWords parse(List<String> words) {
            try {
                // Only whole names, so that a new option never changes what an old call means.
                return new CommandWords(
                        command,
                        takes,
                        DefaultParser.builder()
                                .setAllowPartialMatching(false)
                                .setStripLeadingAndTrailingQuotes(false)
                                .get()
                                .parse(options, words.toArray(String[]::new)));
            } catch (MissingArgumentException e) {
                throw new UsageException("--" + e.getOption().getLongOpt() + " needs a value");
            } catch (AmbiguousOptionException e) {
                throw unknown(command, e.getOption(), takes);
            } catch (UnrecognizedOptionException e) {
                throw unknown(command, e.getOption(), takes);
            } catch (ParseException e) {
                throw new UsageException(command + " takes " + takes);
            }
        }
    }

    private static UsageException unknown(String command, String word, String takes) {
        return new UsageException(command + " does not know '" + word + "'; it takes " + takes);
    }

    public Optional<String> value(String option) {
        return Optional.ofNullable(line.getOptionValue(option));
    }

    public boolean has(String flag) {
        return line.hasOption(flag);
    }

    /** @throws UsageException if it is not such a number */
    public int number(String option, int otherwise, int most) {
        return value(option)
                .map(text -> {
                    if (!text.matches("\\d{1,5}") || Integer.parseInt(text) > most) {
                        throw new UsageException(
                                "--" + option + " takes a number from 0 to " + most + ", not '" + text + "'");
                    }
                    return Integer.parseInt(text);
                })
                .orElse(otherwise);
    }

    /** The folder of the data, as {@code --data} names it. */
    public Path data() {
        return value("data").map(text -> path(text, "--data takes a folder")).orElse(Path.of("data"));
    }

    private static Path path(String text, String wanted) {
        try {
            return Path.of(text);
        } catch (InvalidPathException e) {
            throw new UsageException(wanted + ", not '" + text + "'");
        }
    }

    /** @throws UsageException if there is none */
    public List<Path> files() {
        if (line.getArgList().isEmpty()) {
            throw new UsageException(command + " takes " + takes);
        }
        return line.getArgList().stream()
                .map(text -> path(text, command + " takes files"))
                .toList();
    }

    /** @throws UsageException if there are none or several */
    public Path onlyFile() {
        List<Path> files = files();
        if (files.size() > 1) {
            throw unknown(command, files.get(1).toString(), takes);
        }
        return files.get(0);
    }

    /** @throws UsageException if there is any */
    public CommandWords requireNoFiles() {
        line.getArgList().stream().findFirst().ifPresent(word -> {
            throw unknown(command, word, takes);
        });
        return this;
    }
}
