package lucid.formats.csaf;

import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Stream;
import lucid.formats.document.CvssVectors;
import lucid.formats.document.JsonPlace;
import lucid.formats.document.Problem;

/**
 * The CVSS scores of one vulnerability (CSAF 2.0 section 3.2.3.13; metrics of version 2.1). A vendor may score products
 * apart: the worst of the newest CVSS version counts. Where a score and its vector say different things the vector
 * counts (tests 6.1.9 and 6.1.10); with an invalid one there is no score, and without any the number stands alone (test
 * 6.1.8).
 */
final class Scores {

    private static final List<String> NEWEST_FIRST = List.of("cvss_v4", "cvss_v3", "cvss_v2");

    /** What a property says and which metric of the vector says the same; the first letter of its word is the value. */
    private static final Map<String, String> METRICS = Map.ofEntries(
            Map.entry("attackVector", "AV"),
            Map.entry("accessVector", "AV"),
            Map.entry("attackComplexity", "AC"),
            Map.entry("accessComplexity", "AC"),
            Map.entry("attackRequirements", "AT"),
            Map.entry("authentication", "Au"),
            Map.entry("privilegesRequired", "PR"),
            Map.entry("userInteraction", "UI"),
            Map.entry("scope", "S"),
            Map.entry("confidentialityImpact", "C"),
            Map.entry("integrityImpact", "I"),
            Map.entry("availabilityImpact", "A"),
            Map.entry("vulnConfidentialityImpact", "VC"),
            Map.entry("vulnIntegrityImpact", "VI"),
            Map.entry("vulnAvailabilityImpact", "VA"),
            Map.entry("subConfidentialityImpact", "SC"),
            Map.entry("subIntegrityImpact", "SI"),
            Map.entry("subAvailabilityImpact", "SA"));

    private static final double AS_ROUNDED = 0.05;

    private Scores() {}

    /** A base score with the vector that it was computed from, where there is one. */
    record Score(double base, Optional<String> vector) {}

    static Optional<Score> worst(JsonPlace vulnerability, ProductTree products, List<Problem> problems) {
        List<JsonPlace> all = new ArrayList<>(vulnerability.get("scores").items());
        vulnerability.get("metrics").items().forEach(metric -> {
            products.named(metric);
            all.add(metric.get("content"));
        });
        scoredTwice(vulnerability, problems);
        for (String version : NEWEST_FIRST) {
            Optional<Score> worst = all.stream()
                    .map(score -> score.get(version))
                    .filter(JsonPlace::exists)
                    .flatMap(score -> score(score, problems).stream())
                    .max((a, b) -> Double.compare(a.base(), b.base()));
            if (worst.isPresent()) {
                return worst;
            }
        }
        return Optional.empty();
    }

    /** Test 6.1.7: one product, one version of CVSS, several scores. The worst counts. */
    private static void scoredTwice(JsonPlace vulnerability, List<Problem> problems) {
        Set<String> seen = new HashSet<>();
        for (JsonPlace score : vulnerability.get("scores").items()) {
            for (String version : NEWEST_FIRST) {
                if (score.get(version).exists()) {
                    String exact = score.get(version).get("version").textIfAny().orElse(version);
                    score.get("products").items().stream()
                            .filter(product -> !seen.add(exact + " " + product.line()))
                            .findFirst()
                            .ifPresent(product -> problems.add(new Problem(
                                    product.pointer(),
                                    "6.1.7: '" + product.line() + "' is scored more than once; the worst counts")));
                }
            }
        }
    }

    private static Optional<Score> score(JsonPlace score, List<Problem> problems) {
        JsonPlace told = score.get("vectorString");
        if (told.textIfAny().isEmpty()) {
            return withoutVector(score, problems);
        }
        String vector = told.text();
        double base;
        try {
            base = CvssVectors.baseScore(vector);
        } catch (IllegalArgumentException e) {
            problems.add(new Problem(told.pointer(), "6.1.8: " + e.getMessage() + "; it does not count"));
            return Optional.empty();
        }
        JsonPlace number = score.get("baseScore");
        if (!number.node().isNumber() || Math.abs(number.node().doubleValue() - base) > AS_ROUNDED) {
            problems.add(new Problem(
                    number.pointer(),
                    "6.1.9: the base score of this vector is " + base + ", not "
                            + number.node().asString("told") + "; the vector counts"));
        }
        contradictions(score, vector).ifPresent(problems::add);
        return Optional.of(new Score(base, Optional.of(vector)));
    }

    private static Optional<Score> withoutVector(JsonPlace score, List<Problem> problems) {
        JsonPlace number = score.get("baseScore");
        double base = number.node().asDouble(-1);
        boolean counts = number.node().isNumber() && base >= 0 && base <= 10;
        problems.add(new Problem(
                score.pointer(),
                "6.1.8: the score has no vector; " + (counts ? "its number is taken" : "it does not count")));
        return counts ? Optional.of(new Score(base, Optional.empty())) : Optional.empty();
    }

    private static Optional<Problem> contradictions(JsonPlace score, String vector) {
        Map<String, String> metrics = CvssVectors.metrics(vector);
        return METRICS.entrySet().stream()
                .flatMap(entry -> {
                    Optional<String> word = score.get(entry.getKey()).textIfAny();
                    String value = metrics.get(entry.getValue());
                    return value != null
                                    && word.filter(w -> !sameValue(w, value)).isPresent()
                            ? Stream.of(new Problem(
                                    score.get(entry.getKey()).pointer(),
                                    "6.1.10: '" + word.get() + "' is not what the vector says, " + entry.getValue()
                                            + ":" + value + "; the vector counts"))
                            : Stream.empty();
                })
                .min((a, b) -> a.place().compareTo(b.place()));
    }

    private static boolean sameValue(String word, String value) {
        return word.toUpperCase(Locale.ROOT).startsWith(value);
    }
}
