package lucid.core.forecast;

import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import lucid.core.carriage.Carriages;
import lucid.core.ruling.Verdict;
import lucid.core.update.Update;
import org.roaringbitmap.RoaringBitmap;

/**
 * What a verdict that withholds leaves open until its end.
 *
 * @param vulnerabilities those that the update closes itself, or that earlier updates close which it contains
 * @param hostDays from now until it ends for each of its hosts, in days, over all of them
 */
public record LeftOpen(List<OpenVulnerability> vulnerabilities, double hostDays) {

    private static final double SECONDS_A_DAY = Duration.ofDays(1).toSeconds();

    /** @param contained true if only an earlier update that it contains closes it; @param hosts on which it is open */
    public record OpenVulnerability(String id, boolean contained, RoaringBitmap hosts) {}

    /** @param hosts from which it is withheld */
    public static LeftOpen of(Verdict verdict, Update update, RoaringBitmap hosts, Carriages carriages, Instant now) {
        Map<String, OpenVulnerability> open = new LinkedHashMap<>();
        update.vulnerabilities().forEach(one -> open.put(one.id(), new OpenVulnerability(one.id(), false, hosts)));
        for (Update earlier : carriages.catalogue().containedIn(update.id())) {
            RoaringBitmap lacking = RoaringBitmap.and(carriages.of(earlier, now).lacking(), hosts);
            if (!lacking.isEmpty()) {
                earlier.vulnerabilities()
                        .forEach(one -> open.merge(
                                one.id(),
                                new OpenVulnerability(one.id(), true, lacking),
                                (known, more) -> known.contained()
                                        ? new OpenVulnerability(
                                                one.id(), true, RoaringBitmap.or(known.hosts(), more.hosts()))
                                        : known));
            }
        }
        double hostDays = 0;
        for (int host : hosts) {
            hostDays += Duration.between(now, verdict.endFor(host)).toSeconds() / SECONDS_A_DAY;
        }
        return new LeftOpen(new ArrayList<>(open.values()), hostDays);
    }
}
