package lucid.formats.document;

import us.springett.cvss.Cvss;

/** Base scores of CVSS vectors (specifications v2.0, v3.0, v3.1 and v4.0). */
public final class CvssVectors {

    private CvssVectors() {}

    /** @throws IllegalArgumentException for a text that is no CVSS vector */
    public static double baseScore(String vector) {
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
}
