package lucid.formats.document;

import java.util.List;
import java.util.stream.Collectors;

/** A document of which nothing could be taken, with every reason found. */
public final class RefusedDocumentException extends RuntimeException {

    private final List<Problem> problems;

    public RefusedDocumentException(String place, String reason) {
        this(List.of(new Problem(place, reason)));
    }

    public RefusedDocumentException(List<Problem> problems) {
        super(problems.stream()
                .map(p -> p.place().isEmpty() ? p.reason() : p.place() + ": " + p.reason())
                .collect(Collectors.joining("; ")));
        this.problems = List.copyOf(problems);
    }

    public List<Problem> problems() {
        return problems;
    }
}
