package lucid.server.inforce;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.LocalDate;
import java.util.Comparator;
import java.util.List;
import java.util.stream.Collectors;
import lucid.core.fleet.PopulationId;
import lucid.core.reporting.RuleStep;
import lucid.core.update.UpdateId;
import lucid.server.snapshot.Snapshot;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;

/** What standing rules will do in the next weeks, if nobody decides anything. */
@RestController
class RuleStepsController {

    private static final Duration AHEAD = Duration.ofDays(35);
    private static final int MOST_NAMED = 20;

    private final Clock clock;

    RuleStepsController(Clock clock) {
        this.clock = clock;
    }

    /** @param hosts those that lack it now */
    record RuleStepView(UpdateId update, String title, int hosts) {}

    /**
     * What happens to the hosts of one population on one day of its clock.
     *
     * @param updates how many updates it happens with
     * @param first some of them, those on the most hosts first
     */
    record RuleDayView(
            PopulationId population,
            String populationName,
            LocalDate day,
            RuleStep.What what,
            int updates,
            List<RuleStepView> first) {
        static RuleDayView of(Key key, List<RuleStep> steps) {
            return new RuleDayView(
                    key.population(),
                    steps.get(0).population().name(),
                    key.day(),
                    key.what(),
                    steps.size(),
                    steps.stream()
                            .sorted(Comparator.comparing(
                                            (RuleStep step) -> -step.hosts().getCardinality())
                                    .thenComparing(step -> step.update().id()))
                            .limit(MOST_NAMED)
                            .map(step -> new RuleStepView(
                                    step.update().id(),
                                    step.update().title(),
                                    step.hosts().getCardinality()))
                            .toList());
        }
    }

    private record Key(LocalDate day, PopulationId population, RuleStep.What what) {
        static Key of(RuleStep step) {
            return new Key(
                    LocalDate.ofInstant(step.at(), step.population().zone()),
                    step.population().id(),
                    step.what());
        }
    }

    /** The earliest first. */
    @GetMapping("/api/in-force/by-rule")
    List<RuleDayView> byRule(Snapshot snapshot) {
        Instant now = clock.instant();
        return RuleStep.between(snapshot.carriages(), snapshot.decisions(), now, now.plus(AHEAD)).stream()
                .collect(Collectors.groupingBy(Key::of))
                .entrySet()
                .stream()
                .map(of -> RuleDayView.of(of.getKey(), of.getValue()))
                .sorted(Comparator.comparing(RuleDayView::day)
                        .thenComparing(RuleDayView::populationName)
                        .thenComparing(RuleDayView::what))
                .toList();
    }
}
