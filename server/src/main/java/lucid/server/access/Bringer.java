package lucid.server.access;

import java.security.Principal;
import java.util.EnumSet;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import lucid.core.fleet.HostName;
import lucid.formats.document.Format;

/**
 * Who brings documents, and of which formats. Each way in has one; the right is asked where the content of a document
 * is applied.
 */
public interface Bringer extends Principal {

    /**
     * What people decide or answer for; nothing that only carries documents from elsewhere brings it unless it is told
     * to.
     */
    Set<Format> JUDGED = Set.of(Format.POPULATIONS, Format.KNOWN_ISSUES, Format.FAILURE_REPORTS, Format.OPENVEX);

    /** Formats that it may bring. */
    Set<Format> formats();

    /** The one host that it may report; empty: any. */
    default Optional<HostName> onlyHost() {
        return Optional.empty();
    }

    /** As they are stored: names, comma-separated. */
    static Set<Format> read(String names) {
        return Stream.of(names.split(","))
                .filter(name -> !name.isEmpty())
                .map(Format::valueOf)
                .collect(Collectors.toUnmodifiableSet());
    }

    static String write(Set<Format> formats) {
        return formats.stream().sorted().map(Format::name).collect(Collectors.joining(","));
    }

    /** All but what is judged. */
    static Set<Format> unjudged() {
        Set<Format> formats = EnumSet.allOf(Format.class);
        formats.removeAll(JUDGED);
        return Set.copyOf(formats);
    }
}
