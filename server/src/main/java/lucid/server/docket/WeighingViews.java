package lucid.server.docket;

import java.time.Instant;
import java.util.Collection;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import lucid.core.causes.Cause;
import lucid.core.causes.Proportion;
import lucid.core.docket.DocketCase;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.PopulationId;
import lucid.core.update.Product;
import lucid.core.weighing.Beam;
import lucid.core.weighing.FailureRate;
import lucid.core.weighing.FlipPoint;
import lucid.core.weighing.FlipPoints;
import lucid.core.weighing.HarmSeen;
import lucid.core.weighing.PopulationFacts;
import lucid.core.weighing.Range;
import lucid.core.weighing.Suggestion;
import lucid.core.weighing.UpdateFacts;
import lucid.core.weighing.VulnerabilityRisk;
import lucid.core.weighing.Weigher;
import lucid.core.weighing.Weighing;
import lucid.core.weighing.WeighingInput;
import lucid.core.weighing.Weights;
import org.roaringbitmap.RoaringBitmap;

/** Shapes of the API in which a weighing is told, with every factor that goes into its numbers. */
final class WeighingViews {

    private WeighingViews() {}

    /** A rate with its 95 % interval. */
    record RateView(int count, int of, double rate, double low, double high) {
        static RateView of(Proportion p) {
            return new RateView(p.count(), p.of(), p.rate(), p.low(), p.high());
        }

        static RateView of(int count, int of) {
            return of(new Proportion(count, of));
        }
    }

    /**
     * What failing hosts share.
     *
     * @param where condition on hosts; none where they share only when they tried it
     * @param after they tried it after this instant; none where time does not matter, or from the beginning
     * @param until they tried it until this instant; none where time does not matter, or it goes on
     */
    record SharedView(Optional<String> where, Optional<Instant> after, Optional<Instant> until) {
        static SharedView of(Cause.Shared shared) {
            return new SharedView(
                    shared.hosts().map(Object::toString),
                    shared.span().after(),
                    shared.span().until());
        }
    }

    /**
     * @param lacking hosts that meet it and lack the update
     * @param alike what cannot be told apart from it, closest first
     */
    record CauseView(
            SharedView shared,
            Optional<String> code,
            RateView inside,
            RateView outside,
            double p,
            double adjusted,
            int lacking,
            List<AlikeView> alike) {
        static CauseView of(Cause cause, int lacking) {
            return new CauseView(
                    SharedView.of(cause.shared()),
                    cause.code(),
                    RateView.of(cause.inside()),
                    RateView.of(cause.outside()),
                    cause.p(),
                    cause.adjusted(),
                    lacking,
                    cause.alike().stream().map(AlikeView::of).toList());
        }
    }

    /** @param overlap of the tried hosts that meet either, the share that meets both, 0 to 1 */
    record AlikeView(SharedView shared, RateView inside, RateView outside, double p, double overlap) {
        static AlikeView of(Cause.Alike alike) {
            return new AlikeView(
                    SharedView.of(alike.shared()),
                    RateView.of(alike.inside()),
                    RateView.of(alike.outside()),
                    alike.p(),
                    alike.overlap());
        }
    }

    /**
     * @param type what the numbers speak for
     * @param where of a narrowed block: the conditions of the causes that it is for; empty where these are about all
     *     hosts from now on
     * @param rest of a narrowed block: what they speak for on the remaining hosts
     */
    record SuggestionView(Suggestion.Type type, List<String> where, Optional<Suggestion.Type> rest) {
        static SuggestionView of(Suggestion suggestion, List<Weighing.OfCell> cells) {
            return new SuggestionView(
                    suggestion.type(),
                    suggestion.causes().stream()
                            .map(place -> cells.get(place).cause().orElseThrow().shared())
                            .flatMap(shared -> shared.hosts().stream())
                            .map(Object::toString)
                            .toList(),
                    suggestion.rest());
        }
    }

    /**
     * The beam of a strip: sums over the populations, and the suggestion of the one on which most hangs.
     *
     * @param others populations for which another is suggested
     */
    record BeamView(
            double exposure,
            Range hazard,
            double usual,
            Range tilt,
            Optional<SuggestionView> suggestion,
            Optional<PopulationId> population,
            int others) {
        static BeamView of(DocketCase c) {
            Optional<DocketCase.OfPopulation> heaviest = c.heaviest();
            Beam beam = c.beam();
            return new BeamView(
                    beam.exposure(),
                    beam.hazard(),
                    beam.usual(),
                    beam.tilt(),
                    heaviest.map(of -> SuggestionView.of(
                            of.weighing().suggestion(), of.weighing().cells())),
                    heaviest.flatMap(DocketCase.OfPopulation::population),
                    (int) c.weighings().stream()
                            .filter(of -> heaviest.filter(most -> most.weighing()
                                            .suggestion()
                                            .type()
                                            .equals(of.weighing().suggestion().type()))
                                    .isEmpty())
                            .count());
        }
    }

    /**
     * One addend of the exposure: hosts × weight × openness × risk × hit share.
     *
     * @param vulnerability the vulnerability with the largest risk among those that matter on these hosts
     */
    record ExposureFactor(
            int hosts,
            int unknown,
            double weight,
            Weights.Facing facing,
            double openness,
            Optional<String> vulnerability,
            double risk,
            double hitShare,
            double points) {
        /** Of more hosts that are as open to the same vulnerability. */
        private ExposureFactor and(ExposureFactor more) {
            return new ExposureFactor(
                    hosts + more.hosts,
                    unknown + more.unknown,
                    weight,
                    facing,
                    openness,
                    vulnerability,
                    risk,
                    hitShare,
                    points + more.points);
        }
    }

    /**
     * One addend of the hazard: hosts × weight × the larger of q × harm and p × harm of the issue.
     *
     * @param named worst open known issue that names these hosts
     * @param vague worst one that names no hosts
     * @param byRate failure rate × harm of a failure
     * @param byIssue how likely the worst issue hits × its harm, 0 without one
     */
    record HazardFactor(
            int hosts,
            double weight,
            Optional<FailureClass> named,
            Optional<FailureClass> vague,
            double byRate,
            double byIssue,
            double points) {}

    /**
     * @param products names of the update's products that its hosts have, where others have others of it
     * @param shared what the hosts of its cause share; none for all other hosts
     * @param sorts what makes up the rate: how likely the update is sound, flawed or bad, and how often it fails then
     * @param usual hazard of updates of its kind
     */
    record CellView(
            List<String> products,
            Optional<SharedView> shared,
            int lacking,
            int tried,
            int failed,
            double outside,
            Range rate,
            FailureRate.Sorts sorts,
            double harm,
            double exposure,
            Range hazard,
            double usual,
            Range tilt,
            List<ExposureFactor> exposureFactors,
            List<HazardFactor> hazardFactors,
            int notAffected,
            int restartOutstanding) {}

    record FlipView(FlipPoint.Input input, double value, SuggestionView suggestion) {}

    /**
     * @param population none for hosts in no population
     * @param usual hazard of updates of its kind: what installing it costs before anything is known of it
     */
    record WeighingView(
            Optional<PopulationId> population,
            double exposure,
            double exposureUnknown,
            Range hazard,
            double usual,
            Range tilt,
            Set<HarmSeen> harm,
            SuggestionView suggestion,
            List<CellView> cells,
            List<FlipView> flips) {}

    static WeighingView of(
            DocketCase.OfPopulation one, WeighingInput input, Weights weights, int tier, RoaringBitmap members) {
        Weighing weighing = one.weighing();
        PopulationFacts facts = input.population(tier, members);
        Weigher weigher = new Weigher(weights, input.update());
        List<CellView> cells = IntStream.range(0, weighing.cells().size())
                .mapToObj(place -> cell(
                        place,
                        weighing.cells().get(place),
                        facts.cells().get(place),
                        weigher,
                        input.update(),
                        weights,
                        tier))
                .toList();
        List<FlipView> flips =
                FlipPoints.of(
                                weights,
                                input.update(),
                                facts,
                                weighing.suggestion().type() == Suggestion.Type.CARRY_OVER)
                        .stream()
                        .map(flip -> new FlipView(
                                flip.input(), flip.value(), SuggestionView.of(flip.suggestion(), weighing.cells())))
                        .toList();
        return new WeighingView(
                one.population(),
                weighing.exposure(),
                weighing.exposureUnknown(),
                weighing.hazard(),
                weighing.usual(),
                weighing.tilt(),
                weighing.harm(),
                SuggestionView.of(weighing.suggestion(), weighing.cells()),
                cells,
                flips);
    }

    private static CellView cell(
            int place,
            Weighing.OfCell cell,
            PopulationFacts.CellHosts hosts,
            Weigher weigher,
            UpdateFacts update,
            Weights weights,
            int tier) {
        double weight = weights.ofTier(tier);
        Collection<ExposureFactor> exposure = hosts.exposed().stream()
                .map(exposed -> {
                    Optional<VulnerabilityRisk> mostSevere = exposed.vulnerabilities().stream()
                            .map(update.vulnerabilities()::get)
                            .max(Comparator.comparingDouble(w -> w.risk(weights)));
                    double risk = mostSevere.map(w -> w.risk(weights)).orElse(0.0);
                    double openness = weights.openness().get(exposed.facing());
                    return new ExposureFactor(
                            exposed.hosts(),
                            exposed.unknown(),
                            weight,
                            exposed.facing(),
                            openness,
                            mostSevere.map(VulnerabilityRisk::id),
                            risk,
                            weights.hitShare(),
                            exposed.hosts() * weight * openness * risk * weights.hitShare());
                })
                .collect(Collectors.toMap(
                        factor -> List.of(factor.facing(), factor.vulnerability()),
                        factor -> factor,
                        ExposureFactor::and,
                        LinkedHashMap::new))
                .values();
        List<HazardFactor> hazard = hosts.endangered().stream()
                .map(endangered -> {
                    Weigher.HazardOfOne one = weigher.hazardOfOne(place, endangered);
                    return new HazardFactor(
                            endangered.hosts(),
                            weight,
                            endangered.named(),
                            endangered.vague(),
                            one.byRate(),
                            one.byIssue(),
                            endangered.hosts() * weight * one.larger());
                })
                .toList();
        return new CellView(
                cell.products().stream().map(Product::name).distinct().toList(),
                cell.cause().map(cause -> SharedView.of(cause.shared())),
                cell.lacking(),
                cell.tried(),
                cell.failed(),
                cell.outside(),
                cell.rate(),
                update.cells().get(place).rate(update.usual().rate()).sortsNow(),
                cell.harm(),
                cell.exposure(),
                cell.hazard(),
                cell.usual(),
                cell.tilt(),
                List.copyOf(exposure),
                hazard,
                hosts.notAffected(),
                hosts.restartOutstanding());
    }
}
