package lucid.core.fleet;

import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.TreeMap;
import org.roaringbitmap.RoaringBitmap;

/**
 * Hosts for which something comes one part after the other, not all at once. It is fixed when it is handed down.
 *
 * @param parts the earliest first; whoever is in none, as hosts that join later, comes with the last
 */
public record Spread(List<Part> parts) {

    private static final List<String> BALANCED_BY = List.of("model", "site", "role");

    /** Hosts for which it comes at the same instant. */
    public record Part(Instant at, RoaringBitmap hosts) {}

    /** @throws IllegalArgumentException if there is no part, or two come at the same instant or in another order */
    public Spread {
        parts = List.copyOf(parts);
        if (parts.isEmpty()) {
            throw new IllegalArgumentException("a spread has at least one part");
        }
        for (int place = 1; place < parts.size(); place++) {
            if (!parts.get(place).at().isAfter(parts.get(place - 1).at())) {
                throw new IllegalArgumentException("the parts of a spread come one after the other");
            }
        }
    }

    /**
     * As many hosts in each part as in every other, give or take one; of each population, model, site and role about as
     * many too. Protected hosts come last.
     *
     * @param at instants of the parts, the earliest first
     * @param seed by which the order among equals is drawn: the same gives the same
     */
    public static Spread of(RoaringBitmap hosts, List<Instant> at, String seed, Fleet fleet) {
        List<RoaringBitmap> parts = new ArrayList<>();
        at.forEach(instant -> parts.add(new RoaringBitmap()));
        RoaringBitmap last = parts.get(parts.size() - 1);
        Map<String, List<Host>> kinds = new TreeMap<>();
        fleet.byEntry(hosts).forEach((id, members) -> {
            Population entry = fleet.ladder().entry(id).orElseThrow();
            members.forEach((int number) -> {
                Host host = fleet.host(number);
                if (entry.protectedHosts().contains(host.name())) {
                    last.add(number);
                } else {
                    kinds.computeIfAbsent(kind(entry, host), kind -> new ArrayList<>())
                            .add(host);
                }
            });
        });
        DrawnOrder order = new DrawnOrder(seed);
        int most = (hosts.getCardinality() + parts.size() - 1) / parts.size();
        int next = 0;
        // The rarest first: what the protected hosts leave uneven falls on the kind with most hosts.
        for (List<Host> alike : kinds.values().stream()
                .sorted(Comparator.comparingInt(List::size))
                .toList()) {
            alike.sort(Comparator.comparing(order::digest));
            for (Host host : alike) {
                while (parts.get(next % parts.size()).getCardinality() >= most) {
                    next++;
                }
                parts.get(next % parts.size()).add(host.number());
                next++;
            }
        }
        List<Part> dated = new ArrayList<>();
        for (int place = 0; place < parts.size(); place++) {
            dated.add(new Part(at.get(place), parts.get(place)));
        }
        return new Spread(dated);
    }

    private static String kind(Population entry, Host host) {
        StringBuilder kind = new StringBuilder(entry.id().value());
        BALANCED_BY.forEach(trait -> kind.append('\n').append(host.traits().get(trait)));
        return kind.toString();
    }

    /** When it comes for a host. */
    public Instant at(int host) {
        return parts.stream()
                .filter(part -> part.hosts().contains(host))
                .findFirst()
                .map(Part::at)
                .orElseGet(this::last);
    }

    /** When the part before that of a host comes; none: it is in the first. */
    public Optional<Instant> before(int host) {
        Instant own = at(host);
        return parts.stream().map(Part::at).filter(at -> at.isBefore(own)).reduce((earlier, later) -> later);
    }

    /** The parts of these hosts, the earliest first. */
    public List<Part> of(RoaringBitmap hosts) {
        List<Part> parted = new ArrayList<>();
        RoaringBitmap left = hosts.clone();
        for (Part part : parts) {
            RoaringBitmap of = part.at().equals(last()) ? left.clone() : RoaringBitmap.and(left, part.hosts());
            left.andNot(of);
            parted.add(new Part(part.at(), of));
        }
        return parted;
    }

    /**
     * With these hosts in other parts.
     *
     * @param moved part by host, the first is 0
     */
    public Spread with(Map<Integer, Integer> moved) {
        List<Part> other = new ArrayList<>();
        for (int place = 0; place < parts.size(); place++) {
            RoaringBitmap hosts = parts.get(place).hosts().clone();
            int here = place;
            moved.forEach((host, to) -> {
                if (to == here) {
                    hosts.add(host);
                } else {
                    hosts.remove(host);
                }
            });
            other.add(new Part(parts.get(place).at(), hosts));
        }
        return new Spread(other);
    }

    /** When the last part comes. */
    public Instant last() {
        return parts.get(parts.size() - 1).at();
    }
}
