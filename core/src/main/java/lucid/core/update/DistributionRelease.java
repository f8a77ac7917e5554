package lucid.core.update;

import java.util.HashSet;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.concurrent.ConcurrentHashMap;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;

/**
 * A release of a distribution, as people and documents spell it: {@code bookworm}, {@code debian-12},
 * {@code Debian:12}, {@code 12}, "Debian GNU/Linux 12 (bookworm)". It is its number, and words of which one at least
 * must be shared.
 *
 * @param words of its name, without those that many distributions have; empty where only the number is told
 * @param initials of all its words, by which some distributions are called
 * @param number numbers between dots; none where the text names all releases
 */
public record DistributionRelease(Set<String> words, String initials, Optional<String> number) {

    /** Releases that are called by a word. */
    private static final Map<String, String> CALLED = Stream.of(
                    "debian:stretch=9 buster=10 bullseye=11 bookworm=12 trixie=13 forky=14 duke=15",
                    "ubuntu:trusty=14.04 xenial=16.04 bionic=18.04 focal=20.04 jammy=22.04 noble=24.04 plucky=25.04 "
                            + "questing=25.10")
            .flatMap(line -> Stream.of(line.substring(line.indexOf(':') + 1).split(" "))
                    .map(entry -> entry.replace("=", "=" + line.substring(0, line.indexOf(':')) + " ")
                            .split("=")))
            .collect(Collectors.toUnmodifiableMap(entry -> entry[0], entry -> entry[1]));

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
                String[] called = CALLED.get(found).split(" ");
                words.add(called[0]);
                number = Optional.of(number.orElse(called[1]));
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

    private boolean covers(DistributionRelease host) {
        boolean sameName = words.isEmpty()
                || host.words.isEmpty()
                || words.stream().anyMatch(host.words::contains)
                || isShortFor(host)
                || host.isShortFor(this);
        return sameName
                && number.map(told -> host.number
                                .filter(of -> of.equals(told) || of.startsWith(told + ".") || told.startsWith(of + "."))
                                .isPresent())
                        .orElse(!words.isEmpty());
    }

    private boolean isShortFor(DistributionRelease other) {
        return other.initials.length() > 1 && words.contains(other.initials);
    }
}
