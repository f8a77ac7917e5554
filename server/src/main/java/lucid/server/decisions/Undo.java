package lucid.server.decisions;

import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;
import java.util.Collection;
import java.util.Map;
import java.util.stream.Collectors;

/** Addresses to which a DELETE takes back what was just decided. They stand in the answer to whoever decided. */
public final class Undo {

    private Undo() {}

    /** Of decisions that were made together: they are taken back together, all of them or none. */
    public static String of(Revocable.Kind kind, Collection<Long> numbers) {
        return of(Map.of(kind, numbers));
    }

    /** As {@link #of(Revocable.Kind, Collection)}, of several kinds. */
    public static String of(Map<Revocable.Kind, ? extends Collection<Long>> numbers) {
        return numbers.entrySet().stream()
                .map(of -> RevocationController.parameter(of.getKey()) + "="
                        + of.getValue().stream().map(String::valueOf).collect(Collectors.joining(",")))
                .collect(Collectors.joining("&", "/api/decisions?", ""));
    }

    /** Of what has an identifier that its source chose. */
    public static String of(String path, String id) {
        return path + "?id=" + URLEncoder.encode(id, StandardCharsets.UTF_8);
    }
}
