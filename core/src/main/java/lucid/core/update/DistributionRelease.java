package lucid.core.update;

import java.util.HashSet;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;

/**
 * A release of a distribution, as people and documents spell it: {@code bookworm}, {@code debian-12},
 * {@code Debian:12}, {@code el12}, {@code 12}, "Debian GNU/Linux 12 (bookworm)". It is compared among products of one
 * namespace, which are of one vendor: so its number decides, and its name only where a number is missing. What cannot
 * be told apart is taken for the same, since a host that is passed over would look as if it were not affected.
 *
 * @param words of its name, without those that many distributions have; empty where only the number is told
 * @param initials of all its words, by which some distributions are called
 * @param number numbers between dots; none where the text names all releases
 */
public record DistributionRelease(Set<String> words, String initials, Optional<String> number) {

    /** Numbers of releases that are called by a word. */
    private static final Map<String, String> CALLED = Map.ofEntries(
            Map.entry("stretch", "9"),
            Map.entry("buster", "10"),
            Map.entry("bullseye", "11"),
            Map.entry("bookworm", "12"),
            Map.entry("trixie", "13"),
            Map.entry("forky", "14"),
            Map.entry("duke", "15"),
            Map.entry("trusty", "14.04"),
            Map.entry("xenial", "16.04"),
            Map.entry("bionic", "18.04"),
            Map.entry("focal", "20.04"),
            Map.entry("jammy", "22.04"),
            Map.entry("noble", "24.04"),
            Map.entry("plucky", "25.04"),
            Map.entry("questing", "25.10"));

    private static final Set<String> OF_MANY =
            Set.of("linux", "gnu", "os", "release", "version", "v", "lts", "the", "for", "and", "edition");

    private static final Pattern TOKEN = Pattern.compile("[a-z]+|\\d+(?:\\.\\d+)*");

    /** Hosts and advisories name few releases, and each is asked for often; it is emptied when it is full. */
    private static final Map<String, DistributionRelease> KNOWN = new ConcurrentHashMap<>();

    private static final int MOST_KNOWN = 10_000;

    public static DistributionRelease of(String text) {
        DistributionRelease known = KNOWN.get(text);
        if (known == null) {
            if (KNOWN.size() >= MOST_KNOWN) {
                KNOWN.clear();
            }
            known = parse(text);
            KNOWN.put(text, known);
        }
        return known;
    }

    private static DistributionRelease parse(String text) {
        Set<String> words = new HashSet<>();
        StringBuilder initials = new StringBuilder();
        Optional<String> number = Optional.empty();
        Matcher token = TOKEN.matcher(text.toLowerCase(Locale.ROOT));
        while (token.find()) {
            String found = token.group();
            if (Character.isDigit(found.charAt(0))) {
                number = number.or(() -> Optional.of(found));
            } else if (CALLED.containsKey(found)) {
                number = number.or(() -> Optional.of(CALLED.get(found)));
            } else {
                initials.append(found.charAt(0));
                if (!OF_MANY.contains(found)) {
                    words.add(found);
                }
            }
        }
        return new DistributionRelease(Set.copyOf(words), initials.toString(), number);
    }

    /** True if a release told in one way is the one, or one of those, told in another. */
    public static boolean covers(String told, String host) {
        return told.isEmpty() || told.equals(host) || of(told).covers(of(host));
    }

    /** Two numbers decide; where one is missing, the name, of which nothing may be told either. */
    private boolean covers(DistributionRelease host) {
        if (number.isPresent() && host.number.isPresent()) {
            return isWithin(host.number.get(), number.get()) || isWithin(number.get(), host.number.get());
        }
        return words.isEmpty()
                || host.words.isEmpty()
                || words.stream().anyMatch(host.words::contains)
                || isShortFor(host)
                || host.isShortFor(this);
    }

    private static boolean isWithin(String release, String other) {
        return release.equals(other) || release.startsWith(other + ".");
    }

    private boolean isShortFor(DistributionRelease other) {
        return other.initials.length() > 1 && words.contains(other.initials);
    }
}
