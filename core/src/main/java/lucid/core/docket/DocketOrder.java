package lucid.core.docket;

import java.time.Duration;
import java.time.Instant;
import java.util.Collection;
import java.util.Comparator;
import java.util.List;

/**
 * What judgement is worth now: by the larger of exposure and hazard plus 1, four times that if a cue is younger than a
 * day, twice if younger than three days. Ties: the newer cue, then the identifier.
 */
public record DocketOrder(Instant now) {

    private static final Duration FRESH = Duration.ofHours(24);
    private static final Duration RECENT = Duration.ofHours(72);

    /** What a case is compared by, computed once for it. */
    private record Ranked(DocketCase docketCase, double worth, Instant newestCue) {}

    /** Those that are worth most first. */
    public List<DocketCase> sorted(Collection<DocketCase> cases) {
        return cases.stream()
                .map(one -> new Ranked(one, worth(one), one.newestCue().orElse(Instant.MIN)))
                .sorted(Comparator.comparingDouble(Ranked::worth)
                        .reversed()
                        .thenComparing(Ranked::newestCue, Comparator.reverseOrder())
                        .thenComparing(ranked -> ranked.docketCase().update().id()))
                .map(Ranked::docketCase)
                .toList();
    }

    /** In points. */
    public double worth(DocketCase docketCase) {
        double stake = docketCase.beam().stake();
        return (stake + 1) * docketCase.newestCue().map(this::freshness).orElse(1);
    }

    private int freshness(Instant raised) {
        Duration age = Duration.between(raised, now);
        return age.compareTo(FRESH) < 0 ? 4 : age.compareTo(RECENT) < 0 ? 2 : 1;
    }

    /** By what the newest cue multiplies the worth: 4, 2 or 1. */
    public int freshness(DocketCase docketCase) {
        return docketCase.newestCue().map(this::freshness).orElse(1);
    }
}
