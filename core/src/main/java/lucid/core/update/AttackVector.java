package lucid.core.update;

/** From where an attacker must reach a vulnerability: CVSS v3.1 section 2.1.1; v2.0 and v4.0 use the same letters. */
public enum AttackVector {
    NETWORK,
    ADJACENT,
    LOCAL,
    PHYSICAL;

    /** @param metric value of the metric AV: N, A, L or P */
    static AttackVector ofMetric(char metric) {
        return switch (metric) {
            case 'N' -> NETWORK;
            case 'A' -> ADJACENT;
            case 'L' -> LOCAL;
            case 'P' -> PHYSICAL;
            default -> throw new IllegalArgumentException("no attack vector: " + metric);
        };
    }
}
