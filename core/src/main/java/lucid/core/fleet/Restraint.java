package lucid.core.fleet;

import java.math.BigDecimal;
import java.util.EnumMap;
import java.util.Map;
import java.util.Optional;
import org.roaringbitmap.RoaringBitmap;

/**
 * When hosts keep from downloading and installing by themselves, whatever is offered to them or due: a host on battery,
 * or on a line that is paid by what goes over it. They tell so in traits, and look again whenever something is to be
 * done; what was last told says what would keep them now, not what will when it is time.
 *
 * @param leastBattery per cent of charge under which a host on battery waits; 0: none waits for that
 * @param overPaidLine whether hosts go on over a line that is paid by what goes over it
 */
public record Restraint(int leastBattery, boolean overPaidLine) {

    /** What is as it is for everybody. */
    public static final Restraint USUAL = new Restraint(40, false);

    /** Where it takes its power from: {@code mains} or {@code battery}. */
    private static final String POWER = "power";

    private static final Trait BATTERY = new Trait.Text("battery");

    /** How far its battery is charged, in per cent. */
    private static final String CHARGE = "battery_percent";

    /** Whether its line is paid by what goes over it. */
    private static final String PAID_LINE = "paid_line";

    private static final Trait PAID = new Trait.Truth(true);

    /** Free space where its system is, in MiB. */
    private static final String FREE_SPACE = "root_free_mb";

    private static final int MEBIBYTE = 1 << 20;

    /** An install needs room for what is downloaded and for what is unpacked of it. */
    private static final int TIMES_ITS_SIZE = 2;

    private static final int FULL = 100;

    /** What keeps a host from installing. */
    public enum Prevention {
        BATTERY,
        PAID_LINE,
        /** Less room than the update needs, where its size is known. */
        SPACE
    }

    /** @throws IllegalArgumentException unless the charge is 0 to 100 per cent */
    public Restraint {
        if (leastBattery < 0 || leastBattery > FULL) {
            throw new IllegalArgumentException("the charge must be 0 to 100 per cent, not " + leastBattery);
        }
    }

    /** What keeps the host from installing, as it last told; empty where nothing does, or where it does not tell. */
    public Optional<Prevention> prevents(Host host, Optional<Long> sizeBytes) {
        Map<String, Trait> traits = host.traits();
        if (BATTERY.equals(traits.get(POWER))
                && number(traits.get(CHARGE))
                        .filter(charge -> charge.doubleValue() < leastBattery)
                        .isPresent()) {
            return Optional.of(Prevention.BATTERY);
        }
        if (!overPaidLine && PAID.equals(traits.get(PAID_LINE))) {
            return Optional.of(Prevention.PAID_LINE);
        }
        return sizeBytes
                .flatMap(size -> number(traits.get(FREE_SPACE))
                        .filter(free -> free.doubleValue() * MEBIBYTE < (double) TIMES_ITS_SIZE * size))
                .map(free -> Prevention.SPACE);
    }

    private static Optional<BigDecimal> number(Trait trait) {
        return trait instanceof Trait.Number number ? Optional.of(number.value()) : Optional.empty();
    }

    /**
     * What keeps which of these hosts, all of a population with this restraint, from installing.
     *
     * @param sizeBytes of what is to be installed, where that is known
     * @return without what keeps none
     */
    public Map<Prevention, RoaringBitmap> prevented(RoaringBitmap hosts, Optional<Long> sizeBytes, Fleet fleet) {
        Map<Prevention, RoaringBitmap> prevented = new EnumMap<>(Prevention.class);
        hosts.forEach((int host) -> prevents(fleet.host(host), sizeBytes).ifPresent(why -> prevented
                .computeIfAbsent(why, any -> new RoaringBitmap())
                .add(host)));
        return prevented;
    }
}
