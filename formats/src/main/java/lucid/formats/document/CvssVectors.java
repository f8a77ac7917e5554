package lucid.formats.document;

import java.util.LinkedHashMap;
import java.util.Map;
import java.util.Set;
import java.util.stream.Collectors;
import us.springett.cvss.Cvss;

/** CVSS vectors (specifications v2.0, v3.0, v3.1 and v4.0). */
public final class CvssVectors {

    private static final String V4 = "CVSS:4.0/";

    /** Metrics that the base score of version 4.0 is made of (section 2); the others are threat and environment. */
    private static final Set<String> BASE_OF_V4 =
            Set.of("AV", "AC", "AT", "PR", "UI", "VC", "VI", "VA", "SC", "SI", "SA");

    private CvssVectors() {}

    /**
     * The base score of a vector, from 0.0 to 10.0, whatever it says beside that of threat and environment.
     *
     * @throws IllegalArgumentException for a text that is no CVSS vector, or names a metric twice
     */
    public static double baseScore(String vector) {
        Map<String, String> metrics = metrics(vector);
        double score = score(vector);
        return vector.startsWith(V4) && !BASE_OF_V4.containsAll(metrics.keySet())
                ? score(V4
                        + metrics.entrySet().stream()
                                .filter(metric -> BASE_OF_V4.contains(metric.getKey()))
                                .map(metric -> metric.getKey() + ":" + metric.getValue())
                                .collect(Collectors.joining("/")))
                : score;
    }

    private static double score(String vector) {
        try {
            Cvss cvss = Cvss.fromVector(vector);
            if (cvss != null) {
                return cvss.calculateScore().getBaseScore();
            }
        } catch (RuntimeException e) {
            throw new IllegalArgumentException("'" + vector + "' is no CVSS vector: " + e.getMessage(), e);
        }
        throw new IllegalArgumentException("'" + vector + "' is no CVSS vector");
    }

    /**
     * The values of a vector by the metrics that it names.
     *
     * @throws IllegalArgumentException if it names a metric twice
     */
    public static Map<String, String> metrics(String vector) {
        Map<String, String> metrics = new LinkedHashMap<>();
        for (String part : vector.replaceAll("^\\(|\\)$", "").split("/")) {
            String[] metric = part.split(":", 2);
            if (metric.length == 2 && metrics.put(metric[0], metric[1]) != null) {
                throw new IllegalArgumentException("'" + vector + "' names " + metric[0] + " twice");
            }
        }
        return metrics;
    }
}
