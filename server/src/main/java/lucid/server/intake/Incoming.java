package lucid.server.intake;

import java.util.Map;
import java.util.Optional;
import lucid.formats.document.Texts;
import lucid.server.web.ProblemException;

/**
 * A document on its way in.
 *
 * @param columns what each column of a table is, by its heading; empty: as the headings suggest
 * @param signedBy fingerprint of the trusted key that signed it, where that was checked
 */
public record Incoming(
        String name,
        byte[] content,
        Optional<String> namespace,
        Optional<String> distro,
        Map<String, String> columns,
        Optional<String> signedBy) {

    private static final int LONGEST_NAME = 500;
    private static final int LONGEST_HINT = 200;

    public Incoming(
            String name,
            byte[] content,
            Optional<String> namespace,
            Optional<String> distro,
            Map<String, String> columns) {
        this(name, content, namespace, distro, columns, Optional.empty());
    }

    public Incoming {
        name = KeptDocuments.cut(Texts.shown(name), LONGEST_NAME);
        namespace = hint("namespace", namespace);
        distro = hint("distro", distro);
    }

    private static Optional<String> hint(String field, Optional<String> text) {
        try {
            return text.map(Texts::line).filter(line -> !line.isEmpty()).map(line -> {
                if (line.length() > LONGEST_HINT) {
                    throw new IllegalArgumentException("has at most " + LONGEST_HINT + " characters");
                }
                return line;
            });
        } catch (IllegalArgumentException e) {
            throw ProblemException.badField(field, "it " + e.getMessage());
        }
    }
}
