package lucid.server.hosts;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import lucid.core.fleet.HostName;
import lucid.server.snapshot.Snapshot;
import lucid.server.web.ProblemException;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** Which of some names, pasted from elsewhere, are hosts here. */
@RestController
@RequestMapping("/api/host-names")
class HostNamesController {

    private static final int LONGEST = 100_000;
    private static final int MOST_UNKNOWN = 100;

    /** @param text names with commas, semicolons, spaces or line breaks between them */
    record Pasted(String text) {}

    /**
     * @param known hosts as they are written here, in the order in which they were pasted
     * @param where condition that names exactly these; empty if there is none
     * @param unknown names of which nobody here has one, at most 100
     * @param moreUnknown how many there are beside these
     */
    record Named(List<HostName> known, String where, List<String> unknown, int moreUnknown) {}

    /** Names are compared without regard to case, and without the domain where that alone makes them one host's. */
    @PostMapping
    Named names(@RequestBody Pasted pasted, Snapshot snapshot) {
        String text = pasted.text() == null ? "" : pasted.text();
        if (text.length() > LONGEST) {
            throw ProblemException.badField("text", "at most " + LONGEST + " characters");
        }
        Map<String, HostName> byName = new HashMap<>();
        snapshot.fleet()
                .hosts(snapshot.fleet().all())
                .forEach(host -> byName.put(host.name().value().toLowerCase(Locale.ROOT), host.name()));
        Set<HostName> known = new LinkedHashSet<>();
        List<String> unknown = new ArrayList<>();
        Stream.of(text.split("[\\s,;\"']+"))
                .filter(name -> !name.isEmpty())
                .distinct()
                .forEach(name -> {
                    String wanted = name.toLowerCase(Locale.ROOT);
                    HostName found = byName.getOrDefault(wanted, byName.get(wanted.replaceFirst("\\..*", "")));
                    if (found == null) {
                        unknown.add(name);
                    } else {
                        known.add(found);
                    }
                });
        String where = known.size() == 1
                ? "name = " + quoted(known.iterator().next())
                : known.stream().map(HostNamesController::quoted).collect(Collectors.joining(", ", "name in (", ")"));
        int shown = Math.min(MOST_UNKNOWN, unknown.size());
        return new Named(
                List.copyOf(known), known.isEmpty() ? "" : where, unknown.subList(0, shown), unknown.size() - shown);
    }

    private static String quoted(HostName name) {
        return name.value().matches("[A-Za-z_][\\w.-]*") ? name.value() : "\"" + name.value() + "\"";
    }
}
