package lucid.core.carriage;

import java.time.Instant;
import java.util.List;
import lucid.core.fleet.Host;
import lucid.core.fleet.InstalledProduct;
import lucid.core.update.Fix;
import lucid.core.update.Fix.Standing;
import lucid.core.update.Update;

/** The slow and obviously right answer: looks at one host, product by product. */
final class NaiveCarriage {

    private NaiveCarriage() {}

    static CarriageState of(Update update, Host host, Instant now) {
        CarriageState known = lastKnown(update, host);
        boolean stale = host.unknownFrom(Host.DEFAULT_RHYTHM).isBefore(now);
        return known != CarriageState.NOT_APPLICABLE && stale ? CarriageState.UNKNOWN : known;
    }

    static CarriageState lastKnown(Update update, Host host) {
        if (!update.platforms().isEmpty() && !update.platforms().contains(host.platform())) {
            return CarriageState.NOT_APPLICABLE;
        }
        int has = 0;
        int lacks = 0;
        for (Fix fix : update.fixes()) {
            Standing standing = standing(fix, host.products());
            has += standing == Standing.HAS ? 1 : 0;
            lacks += standing == Standing.LACKS ? 1 : 0;
        }
        if (has + lacks == 0) {
            return CarriageState.NOT_APPLICABLE;
        }
        if (lacks == 0) {
            return CarriageState.CARRIES;
        }
        return has > 0 ? CarriageState.PARTLY : CarriageState.MISSING;
    }

    private static Standing standing(Fix fix, List<InstalledProduct> products) {
        return products.stream()
                .filter(p -> fix.build().covers(p.build()))
                .map(InstalledProduct::version)
                .max(fix.build().product().ordering())
                .map(fix::standing)
                .orElse(Standing.NOT_SPOKEN_OF);
    }
}
