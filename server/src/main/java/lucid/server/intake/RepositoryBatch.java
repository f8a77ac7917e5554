package lucid.server.intake;

import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.formats.Documents;
import lucid.formats.document.Content;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.RefusedDocumentException;
import lucid.formats.document.RepositoryFile;

/**
 * Files that came together, of which one may be the index of a repository: it says which bytes the others must have.
 */
final class RepositoryBatch {

    private static final int LONGEST_INDEX = 1024 * 1024;

    private final Map<Incoming, ReadDocument> indexes = new HashMap<>();
    private final Map<Incoming, Problem> problems = new HashMap<>();

    static RepositoryBatch of(List<Incoming> files) {
        RepositoryBatch batch = new RepositoryBatch();
        for (Incoming file : files) {
            // Only what is called so is read twice.
            if (file.name().endsWith("repomd.xml") && file.content().length <= LONGEST_INDEX) {
                batch.readIndex(file, files);
            }
        }
        return batch;
    }

    private void readIndex(Incoming file, List<Incoming> files) {
        try {
            ReadDocument index = Documents.read(file.content(), ReadingHints.none(Instant.EPOCH));
            if (index.content() instanceof Content.OfRepository repository) {
                boolean complete = true;
                for (RepositoryFile named : repository.files()) {
                    List<Incoming> there = files.stream()
                            .filter(other -> other.name().endsWith(named.name()))
                            .toList();
                    there.stream()
                            .filter(other -> !named.isThis(other.content()))
                            .forEach(other -> problems.put(
                                    other,
                                    new Problem(
                                            "",
                                            "its " + named.algorithm() + " is not the one that " + file.name()
                                                    + " gives: it is not whole, or of another day")));
                    complete &= !there.isEmpty();
                }
                if (complete) {
                    indexes.put(file, index);
                }
            }
        } catch (RefusedDocumentException e) {
            // Taken by itself it is refused, with the reason.
        }
    }

    /** Why the file must not be taken, if the index says so. */
    Optional<Problem> problem(Incoming file) {
        return Optional.ofNullable(problems.get(file));
    }

    /** The file as an index whose other files came with it. */
    Optional<ReadDocument> index(Incoming file) {
        return Optional.ofNullable(indexes.get(file));
    }
}
