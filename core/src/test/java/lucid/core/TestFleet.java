package lucid.core;

import java.time.Instant;
import java.time.ZoneOffset;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import lucid.core.fleet.Host;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Population;
import lucid.core.fleet.Predicates;
import lucid.core.fleet.StandingRule;
import lucid.core.fleet.Trait;
import lucid.core.update.AffectedRange;
import lucid.core.update.Fix;
import lucid.core.update.Kind;
import lucid.core.update.PackageReference;
import lucid.core.update.RestartNeed;
import lucid.core.update.Update;
import lucid.core.update.UpdateNotice;

/** Small hosts, populations and updates for tests. */
public final class TestFleet {

    public static final Instant NOW = Instant.parse("2026-11-24T09:00:00Z");

    private TestFleet() {}

    public static Host host(int number, Map<String, Trait> traits, String... purls) {
        return hostSeen(number, NOW, traits, purls);
    }

    public static Host hostSeen(int number, Instant lastReport, Map<String, Trait> traits, String... purls) {
        List<InstalledProduct> products = Arrays.stream(purls).map(PackageReference::parse)
                .map(r -> new InstalledProduct(r.build(), r.version().orElseThrow())).toList();
        return new Host(number, "host-" + number, "Fathom OS 31", traits, products, Optional.empty(), Optional.empty(), lastReport);
    }

    public static Trait text(String value) {
        return new Trait.Text(value);
    }

    public static Trait number(long value) {
        return new Trait.Number(value);
    }

    /** A tier 2 population that offers everything after {@code delayDays}. */
    public static Population population(String id, String predicate, int delayDays) {
        return new Population(id, id, Predicates.parse(predicate), Set.of(), Set.of(), 2, "owner", Set.of(), ZoneOffset.UTC, Optional.empty(),
                new StandingRule(List.of(), StandingRule.Offer.afterDays(delayDays)));
    }

    /** A bugfix published and read {@code NOW}, fixed in the given versions. */
    public static Update update(String id, String... fixedPurls) {
        List<Fix> fixes = Arrays.stream(fixedPurls).map(PackageReference::parse)
                .map(r -> new Fix(r.build(), List.of(AffectedRange.below(r.version().orElseThrow())))).toList();
        return Update.join(Optional.empty(), Optional.of(new UpdateNotice(id, "Update " + id, "Fathom", "", "1", NOW, Kind.BUGFIX, Optional.empty(),
                RestartNeed.NONE, Optional.empty(), List.of(), List.of(), fixes)), NOW);
    }
}
