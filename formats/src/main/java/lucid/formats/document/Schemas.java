package lucid.formats.document;

import com.networknt.schema.Schema;
import com.networknt.schema.SchemaRegistry;
import com.networknt.schema.SpecificationVersion;
import java.io.IOException;
import java.io.InputStream;
import java.io.UncheckedIOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Function;
import java.util.stream.Collectors;
import tools.jackson.databind.JsonNode;

/**
 * JSON Schemas (draft 2020-12) that readers check against: of our own formats, which are published, and of standards.
 */
public final class Schemas {

    private final Schema schema;

    private Schemas(String text) {
        this.schema = SchemaRegistry.withDefaultDialect(SpecificationVersion.DRAFT_2020_12)
                .getSchema(text);
    }

    /** The schema of that name, for example {@code update-notice-1}. */
    public static Schemas named(String name) {
        return new Schemas(text(name).orElseThrow(() -> new IllegalArgumentException("there is no schema " + name)));
    }

    /** A schema that lies beside a reader: that of a standard. */
    public static Schemas beside(Class<?> reader, String file) {
        try (InputStream in = reader.getResourceAsStream(file)) {
            return new Schemas(new String(in.readAllBytes(), StandardCharsets.UTF_8));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** The text of a schema, if there is one of that name. */
    public static Optional<String> text(String name) {
        if (!name.matches("[a-z]+(-[a-z]+)*-\\d+")) {
            return Optional.empty();
        }
        try (InputStream in = Schemas.class.getResourceAsStream("/schemas/" + name + ".schema.json")) {
            return in == null ? Optional.empty() : Optional.of(new String(in.readAllBytes(), StandardCharsets.UTF_8));
        } catch (IOException e) {
            throw new UncheckedIOException(e);
        }
    }

    /** Every violation, with its place; empty if the document is valid. */
    public List<Problem> problems(JsonNode document) {
        return schema.validate(document).stream()
                .map(error -> new Problem(error.getInstanceLocation().toString(), SchemaWords.of(error)))
                .distinct()
                .toList();
    }

    /**
     * Reads each member of a list by itself: one that is wrong is left out and named, the others are kept.
     *
     * @param problems to which what is wrong is added
     * @throws RefusedDocumentException if the document is wrong outside the list, or no member can be read
     */
    public <T> List<T> each(JsonNode document, String list, Function<JsonPlace, T> read, List<Problem> problems) {
        JsonPlace members = JsonPlace.root(document).get(list);
        Map<Boolean, List<Problem>> found = problems(document).stream()
                .collect(Collectors.partitioningBy(problem -> problem.place().startsWith(members.pointer() + "/")));
        if (!found.get(false).isEmpty()) {
            throw new RefusedDocumentException(problems(document));
        }
        List<T> good = new ArrayList<>();
        for (JsonPlace member : members.items()) {
            List<Problem> wrong = found.get(true).stream()
                    .filter(problem -> (problem.place() + "/").startsWith(member.pointer() + "/"))
                    .toList();
            problems.addAll(wrong);
            if (wrong.isEmpty()) {
                try {
                    good.add(read.apply(member));
                } catch (RefusedDocumentException e) {
                    problems.addAll(e.problems());
                }
            }
        }
        if (good.isEmpty()) {
            throw new RefusedDocumentException(problems);
        }
        return good;
    }

    /** @throws RefusedDocumentException with every violation, if the document is not valid */
    public void require(JsonNode document) {
        List<Problem> problems = problems(document);
        if (!problems.isEmpty()) {
            throw new RefusedDocumentException(problems);
        }
    }
}
