package lucid.server.hosts;

import java.time.Clock;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.HashMap;
import java.util.Map;
import java.util.Optional;
import lucid.core.carriage.CarrierIndex;
import lucid.core.fleet.HostName;
import lucid.formats.document.Content;
import lucid.formats.document.Problem;
import org.springframework.stereotype.Component;

/**
 * How many products and versions that no host has a host may bring by itself in a day. The first host of a platform
 * brings some thousands; one that makes them up would let the dictionary of products grow without end. What is beyond
 * waits on Intake until a person has looked at it.
 */
@Component
class NewProducts {

    private static final int MOST_A_DAY = 5_000;

    private final Clock clock;
    private final Map<HostName, Integer> broughtToday = new HashMap<>();
    private LocalDate today = LocalDate.EPOCH;

    NewProducts(Clock clock) {
        this.clock = clock;
    }

    /** Why a report of a host must wait, if it must; counted otherwise. */
    Optional<Problem> tooMany(HostName host, Content.OfInventory inventory, CarrierIndex installed) {
        int brings = (int) inventory.reports().stream()
                .flatMap(report -> report.products().stream())
                .filter(product -> !installed.has(product.build().product(), product.version()))
                .distinct()
                .count();
        return brings == 0 ? Optional.empty() : counted(host, brings);
    }

    private synchronized Optional<Problem> counted(HostName host, int brings) {
        LocalDate now = LocalDate.ofInstant(clock.instant(), ZoneOffset.UTC);
        if (!now.equals(today)) {
            today = now;
            broughtToday.clear();
        }
        int all = broughtToday.getOrDefault(host, 0) + brings;
        if (all > MOST_A_DAY) {
            return Optional.of(
                    new Problem(
                            host.value(),
                            "it names " + brings + " products or versions that no host has, more than the " + MOST_A_DAY
                                    + " that a host may bring by itself in a day; somebody must look at it and take it with 'Try again', or put it aside"));
        }
        broughtToday.put(host, all);
        return Optional.empty();
    }
}
