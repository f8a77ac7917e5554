package lucid.server.decisions;

import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.Collection;
import java.util.stream.Collectors;

/** Addresses to which a DELETE takes back what was just decided. They stand in the answer to whoever decided. */
public final class Undo {

    private Undo() {}

    /** Of decisions that were made together: they are taken back together, all of them or none. */
    public static String of(Revocable.Kind kind, Collection<Long> numbers) {
        return "/api/decisions?" + RevocationController.parameter(kind) + "="
                + numbers.stream().map(String::valueOf).collect(Collectors.joining(","));
    }

    /** Of what has an identifier that its source chose. */
    public static String of(String path, String id) {
        return path + "?id=" + URLEncoder.encode(id, StandardCharsets.UTF_8);
    }
}
