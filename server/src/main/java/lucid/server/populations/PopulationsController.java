package lucid.server.populations;

import java.time.Clock;
import java.time.Duration;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.Population;
import lucid.core.fleet.StandingRule;
import lucid.core.update.Kind;
import lucid.core.update.Rating;
import lucid.server.access.Sight;
import lucid.server.state.State;
import lucid.server.views.Views.HostList;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.security.core.Authentication;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;

/** The ladder, to be read. It comes in as one document. */
@RestController
@RequestMapping("/api/populations")
class PopulationsController {

    private final State state;
    private final Clock clock;

    PopulationsController(State state, Clock clock) {
        this.state = state;
        this.clock = clock;
    }

    /** @param delayDays none: never without a verdict */
    record RuleLine(List<Kind> kinds, List<Rating> ratings, Optional<Long> delayDays) {}

    record RuleView(List<RuleLine> lines, Optional<Long> otherwiseDays) {}

    /** @param overlaps hosts that a population below it matches too */
    record PopulationView(String id, String name, String predicate, List<String> includes, List<String> excludes, int tier, String owner, List<String> protectedHosts, String timeZone,
            long checkInHours, RuleView rule, int hosts, int unknown, HostList overlaps) {}

    record LadderView(List<PopulationView> populations, RuleView fleetRule, HostList inNoPopulation) {}

    @GetMapping
    LadderView ladder(Authentication caller) {
        Fleet fleet = state.picture().fleet();
        Sight sight = Sight.of(caller);
        RoaringBitmap unknown = fleet.unknownAt(clock.instant());
        return new LadderView(fleet.ladder().populations().stream().filter(p -> sight.sees(p.id())).map(p -> view(p, fleet, unknown)).toList(), view(fleet.ladder().fleetRule()),
                HostList.of(fleet, sight.seesAll() ? fleet.inNoPopulation() : new RoaringBitmap()));
    }

    private static PopulationView view(Population p, Fleet fleet, RoaringBitmap unknown) {
        RoaringBitmap members = fleet.members(p.id());
        RoaringBitmap overlaps = new RoaringBitmap();
        fleet.hosts(members).filter(host -> !fleet.ladder().overlaps(host).isEmpty()).forEach(host -> overlaps.add(host.number()));
        return new PopulationView(p.id(), p.name(), p.predicate().toString(), sorted(p.includes()), sorted(p.excludes()), p.tier(), p.owner(), sorted(p.protectedHosts()), p.zone().getId(),
                p.rhythm().orElse(Host.DEFAULT_RHYTHM).toHours(), view(p.rule()), members.getCardinality(), RoaringBitmap.andCardinality(members, unknown), HostList.of(fleet, overlaps));
    }

    private static RuleView view(StandingRule rule) {
        return new RuleView(rule.lines().stream().map(l -> new RuleLine(l.kinds().stream().sorted().toList(), l.ratings().stream().sorted().toList(), l.offer().delay().map(Duration::toDays))).toList(),
                rule.otherwise().delay().map(Duration::toDays));
    }

    private static List<String> sorted(Set<String> names) {
        return names.stream().sorted().toList();
    }
}
