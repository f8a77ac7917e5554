package lucid.server.intake;

import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import lucid.core.carriage.Carriage;
import lucid.core.update.Advisory;
import lucid.core.update.Fix;
import lucid.core.update.Product;
import lucid.core.update.ProductMapping;
import lucid.core.update.ProductMappings;
import lucid.core.update.UnreadProduct;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.formats.document.Content;
import lucid.formats.document.Format;
import lucid.formats.document.RefusedDocumentException;
import lucid.server.access.Caller;
import lucid.server.audit.AuditEntry;
import lucid.server.intake.DocumentMapper.Accepted;
import lucid.server.mappings.StoredMappings;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.ProblemException;
import org.springframework.stereotype.Service;

/**
 * Product names of vendors that nobody here could read, and what persons say they mean. With each mapping the kept
 * documents of its vendor are read again, so that it counts for what came before as for what comes.
 */
@Service
class ProductNames {

    /** Formats that name products in words of their own. */
    private static final List<Format> FORMATS = List.of(Format.CSAF, Format.OSV);

    private static final int MOST_CANDIDATES = 3;

    private final SnapshotStore store;
    private final DocumentMapper mapper;
    private final KeptDocuments documents;
    private final StoredMappings mappings;
    private final Rereading rereading;
    private final Clock clock;

    ProductNames(
            SnapshotStore store,
            DocumentMapper mapper,
            KeptDocuments documents,
            StoredMappings mappings,
            Rereading rereading,
            Clock clock) {
        this.store = store;
        this.mapper = mapper;
        this.documents = documents;
        this.mappings = mappings;
        this.rereading = rereading;
        this.clock = clock;
    }

    /**
     * Products of one name that could not be read.
     *
     * @param versions how they are called, each of them, where that is not the name itself
     * @param candidates package URLs that hosts report and whose names are made of the same words, the likeliest first
     * @param isPackage true if its name tells package and version: {@code name-epoch:version-release}
     * @param updates that speak of it
     */
    record UnreadName(
            String name,
            List<String> versions,
            Optional<String> cpe,
            boolean isPackage,
            List<String> candidates,
            String reason,
            List<UpdateId> updates) {}

    /**
     * @param vendor whose names these are: a publisher, or an ecosystem
     * @param packagesOf package URLs with {@code *} for a name, of which its names may be packages
     */
    record UnreadOfVendor(String vendor, List<UpdateId> updates, List<String> packagesOf, List<UnreadName> products) {}

    /** By vendor; of each the products that most updates speak of first. */
    List<UnreadOfVendor> unread(Snapshot snapshot) {
        Map<String, Set<Update>> byVendor = new TreeMap<>(String.CASE_INSENSITIVE_ORDER);
        snapshot.catalogue().updates().stream()
                .filter(update -> !update.unread().isEmpty())
                .sorted((a, b) -> b.published().compareTo(a.published()))
                .forEach(update -> update.unread()
                        .forEach(product -> byVendor.computeIfAbsent(product.vendor(), v -> new LinkedHashSet<>())
                                .add(update)));
        List<String> packages = snapshot.carriages().installed().products().stream()
                .filter(product -> product.type().equals("rpm"))
                .map(product -> product.named("*").purl())
                .distinct()
                .sorted()
                .toList();
        Set<Product> reported = snapshot.carriages().installed().products();
        return byVendor.entrySet().stream()
                .map(of -> {
                    List<UnreadName> names = names(of.getKey(), of.getValue(), reported);
                    return new UnreadOfVendor(
                            of.getKey(),
                            of.getValue().stream().map(Update::id).toList(),
                            names.stream().anyMatch(UnreadName::isPackage) ? packages : List.of(),
                            names);
                })
                .toList();
    }

    private static List<UnreadName> names(String vendor, Set<Update> updates, Set<Product> reported) {
        Map<String, Set<UnreadProduct>> products = new LinkedHashMap<>();
        Map<String, Set<UpdateId>> speakOf = new LinkedHashMap<>();
        updates.forEach(update -> update.unread().stream()
                .filter(product -> product.vendor().equalsIgnoreCase(vendor))
                .forEach(product -> {
                    products.computeIfAbsent(product.family(), n -> new LinkedHashSet<>())
                            .add(product);
                    speakOf.computeIfAbsent(product.family(), n -> new LinkedHashSet<>())
                            .add(update.id());
                }));
        return products.entrySet().stream()
                .map(of -> {
                    UnreadProduct first = of.getValue().iterator().next();
                    return new UnreadName(
                            of.getKey(),
                            of.getValue().stream()
                                    .map(UnreadProduct::name)
                                    .filter(name -> !name.equals(of.getKey()))
                                    .distinct()
                                    .toList(),
                            first.cpe(),
                            first.names().stream().anyMatch(name -> ProductMapping.PackageName.of(name)
                                    .isPresent()),
                            candidates(of.getKey(), reported),
                            first.reason(),
                            List.copyOf(speakOf.get(of.getKey())));
                })
                .sorted((a, b) -> b.updates().size() - a.updates().size())
                .toList();
    }

    /** What hosts report under a name of which every word stands in the vendor's name; more words first. */
    private static List<String> candidates(String name, Set<Product> reported) {
        List<String> words = words(name);
        return reported.stream()
                .filter(product -> words.containsAll(words(product.name())))
                .sorted(Comparator.comparing(
                                (Product product) -> -words(product.name()).size())
                        .thenComparing(Product::purl))
                .map(Product::purl)
                .limit(MOST_CANDIDATES)
                .toList();
    }

    private static List<String> words(String name) {
        return Stream.of(name.toLowerCase(Locale.ROOT).split("[^a-z0-9]+"))
                .filter(word -> !word.isEmpty())
                .toList();
    }

    /**
     * What an update says with a mapping.
     *
     * @param products package URLs of what it speaks of then, which it did not before
     * @param unread products of it that are still not read
     * @param lacking hosts that lack it then
     * @param having hosts that have it then
     */
    record ReadWith(UpdateId update, String title, List<String> products, int unread, int lacking, int having) {}

    /** What each update of the vendor would say; only those that would say something else. */
    List<ReadWith> preview(Snapshot snapshot, ProductMapping draft) {
        ProductMappings with = with(draft);
        Map<UpdateId, Advisory> read = new LinkedHashMap<>();
        for (Accepted document : ofVendor(draft)) {
            try {
                advisories(documents.read(document, with).content()).forEach(one -> read.put(one.id(), one));
            } catch (RefusedDocumentException e) {
                // It counts as it was read; a mapping changes nothing of that.
                continue;
            }
        }
        Instant now = clock.instant();
        List<ReadWith> all = new ArrayList<>();
        read.values().forEach(advisory -> snapshot.catalogue()
                .update(advisory.id())
                .filter(known -> !known.unread().equals(advisory.unread()))
                .ifPresent(known -> all.add(readWith(snapshot, known, advisory, now))));
        return all;
    }

    private static ReadWith readWith(Snapshot snapshot, Update known, Advisory advisory, Instant now) {
        Snapshot then = snapshot.with(advisory, known.firstRead());
        Update update = then.update(advisory.id());
        Carriage carriage = then.carriage(update, now);
        List<String> before = products(known);
        return new ReadWith(
                update.id(),
                update.title(),
                products(update).stream()
                        .filter(product -> !before.contains(product))
                        .toList(),
                update.unreadNames(),
                carriage.lacking().getCardinality(),
                carriage.having().getCardinality());
    }

    private static List<String> products(Update update) {
        return update.fixes().stream()
                .map(Fix::build)
                .map(Object::toString)
                .distinct()
                .toList();
    }

    private static List<Advisory> advisories(Content content) {
        return content instanceof Content.OfAdvisories of ? of.advisories() : List.of();
    }

    private List<Accepted> ofVendor(ProductMapping mapping) {
        return mapper.ofVendor(
                mapping.vendor(), FORMATS.stream().collect(Collectors.toMap(format -> format, Format::reader)));
    }

    /** Uses a mapping from now on, also for the documents that are kept. */
    long use(ProductMapping draft, String purl, String reason, Caller who) {
        Kept kept = kept(draft, with(draft));
        return store.write(snapshot -> {
            ProductMapping mapping =
                    new ProductMapping(mappings.next(), draft.vendor(), draft.how(), draft.pattern(), draft.target());
            boolean asCompared = kept.before().equals(mappings.inUse());
            mappings.add(mapping, purl, reason, who.getName(), clock.instant());
            Snapshot next = rereading.count(snapshot, otherwise(kept, asCompared));
            store.record(
                    AuditEntry.Kind.IMPORT,
                    "",
                    who,
                    words(mapping) + (reason.isEmpty() ? "." : ", because " + reason + "."));
            return new SnapshotStore.Change<>(next, mapping.number());
        });
    }

    /** @throws ProblemException 404 if it is not in use */
    void revoke(long number, Caller who) {
        ProductMapping mapping = inUse(number);
        Kept kept = kept(mapping, without(mapping));
        store.write(snapshot -> {
            inUse(number);
            boolean asCompared = kept.before().equals(mappings.inUse());
            mappings.revoke(number, who.getName(), clock.instant());
            Snapshot next = rereading.count(snapshot, otherwise(kept, asCompared));
            store.record(AuditEntry.Kind.IMPORT, "", who, "No longer: " + words(mapping) + ".");
            return new SnapshotStore.Change<>(next, true);
        });
    }

    private ProductMapping inUse(long number) {
        return mappings.find(number)
                .orElseThrow(() -> ProblemException.notFound("mapping " + number + " is not in use"));
    }

    private ProductMappings with(ProductMapping draft) {
        return new ProductMappings(Stream.concat(mappings.inUse().mappings().stream(), Stream.of(draft))
                .toList());
    }

    private ProductMappings without(ProductMapping mapping) {
        return new ProductMappings(mappings.inUse().mappings().stream()
                .filter(other -> other.number() != mapping.number())
                .toList());
    }

    /**
     * The kept documents that a change of the mappings concerns, read before the writer's turn: there may be thousands.
     *
     * @param before the mappings that were in use then
     * @param documents numbers of all that were read
     * @param otherwise those that are read otherwise after the change
     */
    private record Kept(
            ProductMapping of, ProductMappings before, Set<Long> documents, List<Rereading.ReadOtherwise> otherwise) {}

    private Kept kept(ProductMapping mapping, ProductMappings then) {
        ProductMappings before = mappings.inUse();
        List<Accepted> documents = ofVendor(mapping);
        return new Kept(
                mapping,
                before,
                documents.stream().map(Accepted::number).collect(Collectors.toSet()),
                rereading.compared(documents, then));
    }

    /**
     * Documents that came in between are read now; so are all if somebody changed the mappings meanwhile.
     *
     * @param asCompared true if nobody did
     */
    private List<Rereading.ReadOtherwise> otherwise(Kept kept, boolean asCompared) {
        List<Accepted> toRead = ofVendor(kept.of()).stream()
                .filter(document -> !asCompared || !kept.documents().contains(document.number()))
                .toList();
        List<Rereading.ReadOtherwise> all = new ArrayList<>(asCompared ? kept.otherwise() : List.of());
        all.addAll(rereading.compared(toRead, mappings.inUse()));
        return all;
    }

    private static String words(ProductMapping mapping) {
        return "In documents of " + mapping.vendor() + " '" + mapping.pattern() + "' means "
                + mapping.target().map(ProductMapping.Target::purl).orElse("something that no host here has");
    }
}
