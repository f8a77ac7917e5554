package lucid.core.update;

import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Collection;
import java.util.Collections;
import java.util.Comparator;
import java.util.Deque;
import java.util.HashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.Function;
import java.util.stream.Stream;

/**
 * All released updates that are known, and how they succeed each other. Never changes; {@link #with} makes the next
 * one.
 *
 * <p>Succession is transitive. What one update says it supersedes is an edge; an edge that would close a cycle is left
 * out, and since edges are laid from the oldest to the newest (latest revision, then identifier), a cycle is always
 * broken at its newest edge.
 */
public final class Catalogue {

    public static final Catalogue EMPTY = new Catalogue(Map.of());

    /** One update says that it supersedes another. */
    public record Edge(UpdateId successor, UpdateId predecessor) {}

    private final Map<UpdateId, Update> updates;
    /** Made when first asked for: while many documents are read one after the other, nobody asks in between. */
    private volatile Succession succession;

    private volatile Contents contents;
    private volatile Map<Product, List<Update>> ofProduct;
    private volatile Map<Product, List<Update>> requiring;
    private volatile Map<String, List<Update>> ofVulnerability;

    private Catalogue(Map<UpdateId, Update> updates) {
        this.updates = updates;
    }

    /** Who supersedes whom, in both directions, without what would close a cycle. */
    private static final class Succession {
        private final Map<UpdateId, List<UpdateId>> successors = new HashMap<>();
        private final Map<UpdateId, List<UpdateId>> predecessors = new HashMap<>();
        private final List<Edge> broken = new ArrayList<>();

        Succession(Collection<Update> updates) {
            updates.stream()
                    .filter(update -> !update.supersedes().isEmpty())
                    .sorted(Comparator.comparing(Update::revised).thenComparing(Update::id))
                    .forEach(update -> update.supersedes().stream()
                            .sorted()
                            .forEach(predecessor -> lay(new Edge(update.id(), predecessor))));
        }

        private void lay(Edge edge) {
            if (edge.successor().equals(edge.predecessor())
                    || reachable(edge.successor(), successors).contains(edge.predecessor())) {
                broken.add(edge);
                return;
            }
            successors
                    .computeIfAbsent(edge.predecessor(), id -> new ArrayList<>())
                    .add(edge.successor());
            predecessors
                    .computeIfAbsent(edge.successor(), id -> new ArrayList<>())
                    .add(edge.predecessor());
        }
    }

    /**
     * What each update contains in one step, in both directions: what it supersedes and what it brings. Who reads it
     * minds cycles.
     */
    private static final class Contents {
        private final Map<UpdateId, List<UpdateId>> contained = new HashMap<>();
        private final Map<UpdateId, List<UpdateId>> containing = new HashMap<>();

        Contents(Collection<Update> updates, Succession succession) {
            contained.putAll(succession.predecessors);
            containing.putAll(succession.successors);
            updates.forEach(update -> update.brings().forEach(brought -> {
                add(contained, update.id(), brought);
                add(containing, brought, update.id());
            }));
        }

        private static void add(Map<UpdateId, List<UpdateId>> steps, UpdateId from, UpdateId to) {
            steps.merge(from, List.of(to), (a, b) -> Stream.concat(a.stream(), b.stream())
                    .distinct()
                    .toList());
        }
    }

    private Contents contents() {
        Contents known = contents;
        if (known == null) {
            known = new Contents(updates.values(), succession());
            contents = known;
        }
        return known;
    }

    private Succession succession() {
        Succession known = succession;
        if (known == null) {
            known = new Succession(updates.values());
            succession = known;
        }
        return known;
    }

    /** Everything that can be reached from {@code id} over one step or more, nearest first. */
    private static Set<UpdateId> reachable(UpdateId id, Map<UpdateId, List<UpdateId>> steps) {
        Set<UpdateId> reached = new LinkedHashSet<>();
        Deque<UpdateId> open = new ArrayDeque<>(steps.getOrDefault(id, List.of()));
        while (!open.isEmpty()) {
            UpdateId next = open.poll();
            if (reached.add(next)) {
                open.addAll(steps.getOrDefault(next, List.of()));
            }
        }
        return reached;
    }

    /** With this update added, or put in the place of the one with its identifier. */
    public Catalogue with(Collection<Update> changed) {
        Map<UpdateId, Update> next = new HashMap<>(updates);
        changed.forEach(update -> next.put(update.id(), update));
        return new Catalogue(next);
    }

    public Collection<Update> updates() {
        return Collections.unmodifiableCollection(updates.values());
    }

    public Optional<Update> update(UpdateId id) {
        return Optional.ofNullable(updates.get(id));
    }

    /** Known updates that supersede this one, directly or through others, nearest first. */
    public List<Update> successorsOf(UpdateId id) {
        return known(reachable(id, succession().successors));
    }

    /** Known updates that this one supersedes, directly or through others, nearest first. */
    public List<Update> predecessorsOf(UpdateId id) {
        return known(reachable(id, succession().predecessors));
    }

    /** Known updates whose changes this one contains: what it supersedes, what it brings, and what those contain. */
    public List<Update> containedIn(UpdateId id) {
        Set<UpdateId> ids = reachable(id, contents().contained);
        ids.remove(id);
        return known(ids);
    }

    /** Known updates that contain the changes of this one: what supersedes or brings it, and what contains those. */
    public List<Update> containing(UpdateId id) {
        Set<UpdateId> ids = reachable(id, contents().containing);
        ids.remove(id);
        return known(ids);
    }

    private List<Update> known(Set<UpdateId> ids) {
        return ids.stream().map(updates::get).filter(update -> update != null).toList();
    }

    /** Edges that were left out because they close a cycle. */
    public List<Edge> brokenEdges() {
        return List.copyOf(succession().broken);
    }

    /** Updates that close this vulnerability, told by its CVE identifier in any case. */
    public List<Update> closing(String cve) {
        Map<String, List<Update>> known = ofVulnerability;
        if (known == null) {
            Map<String, List<Update>> made = new HashMap<>();
            updates.values().forEach(update -> update.vulnerabilities().stream()
                    .map(v -> v.id().toUpperCase(Locale.ROOT))
                    .distinct()
                    .forEach(id ->
                            made.computeIfAbsent(id, other -> new ArrayList<>()).add(update)));
            made.replaceAll((id, list) -> List.copyOf(list));
            known = made;
            ofVulnerability = known;
        }
        return known.getOrDefault(cve.toUpperCase(Locale.ROOT), List.of());
    }

    /** Updates that fix this product. */
    public List<Update> ofProduct(Product product) {
        Map<Product, List<Update>> known = ofProduct;
        if (known == null) {
            known = byProduct(
                    update -> update.fixes().stream().map(fix -> fix.build().product()));
            ofProduct = known;
        }
        return known.getOrDefault(product, List.of());
    }

    /** Updates that a host can take only with this product. */
    public List<Update> requiring(Product product) {
        Map<Product, List<Update>> known = requiring;
        if (known == null) {
            known = byProduct(update -> update.requires().stream()
                    .filter(Requirement.OfProduct.class::isInstance)
                    .map(required -> ((Requirement.OfProduct) required).product()));
            requiring = known;
        }
        return known.getOrDefault(product, List.of());
    }

    private Map<Product, List<Update>> byProduct(Function<Update, Stream<Product>> named) {
        Map<Product, List<Update>> made = new HashMap<>();
        updates.values().forEach(update -> named.apply(update).distinct().forEach(product -> made.computeIfAbsent(
                        product, other -> new ArrayList<>())
                .add(update)));
        made.replaceAll((product, list) -> List.copyOf(list));
        return made;
    }
}
