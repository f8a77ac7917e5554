package lucid.server.hosts;

import java.io.ByteArrayOutputStream;
import java.util.ArrayDeque;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.BitSet;
import java.util.Deque;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.IntConsumer;
import lucid.core.fleet.InstalledProduct;
import lucid.core.update.Product;
import lucid.core.update.ProductBuild;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;

/**
 * Every version of a product that some host has or had, each with a small number of its own. A fleet has few of them on
 * very many hosts: an inventory is stored as the numbers of its versions, a byte or two each, and its products are the
 * same objects as those of every other host.
 *
 * <p>Numbers are given only within {@link lucid.server.snapshot.SnapshotStore#write}, by one writer at a time.
 */
@Component
public class ProductDictionary {

    private final HostMapper mapper;
    private final Map<InstalledProduct, Integer> numbers = new HashMap<>();
    /** By number; null where a number is free. */
    private final List<InstalledProduct> versions = new ArrayList<>();

    private final Deque<Integer> free = new ArrayDeque<>();
    /** Numbers that were asked for since somebody began to count which are used; null while nobody counts. */
    private BitSet asked;

    /**
     * True after a transaction that may not have been kept: what is stored is read again before the next number is
     * given.
     */
    private boolean doubtful;

    ProductDictionary(HostMapper mapper) {
        this.mapper = mapper;
        read();
    }

    private static InstalledProduct product(HostMapper.ProductRow row) {
        return new InstalledProduct(
                new ProductBuild(new Product(row.product()), row.distro(), row.arch()),
                row.version(),
                Optional.ofNullable(row.source())
                        .map(source -> new InstalledProduct.SourcePackage(source, row.sourceVersion())));
    }

    private void read() {
        numbers.clear();
        versions.clear();
        free.clear();
        doubtful = false;
        for (HostMapper.ProductRow row : mapper.productVersions()) {
            while (versions.size() < row.number()) {
                free.add(versions.size());
                versions.add(null);
            }
            versions.add(product(row));
            numbers.put(versions.get(row.number()), row.number());
        }
    }

    /**
     * Versions with the source package that they were built from, of those of which hosts told one, as they are stored.
     */
    Map<ProductBuild, Map<String, InstalledProduct>> withSources() {
        Map<ProductBuild, Map<String, InstalledProduct>> known = new HashMap<>();
        for (HostMapper.ProductRow row : mapper.productVersions()) {
            if (row.source() != null) {
                ProductBuild build = new ProductBuild(new Product(row.product()), row.distro(), row.arch());
                known.computeIfAbsent(build, b -> new HashMap<>()).put(row.version(), product(row));
            }
        }
        return known;
    }

    /** Begins to note which numbers are asked for; within a transaction. */
    void watch() {
        asked = new BitSet();
    }

    /**
     * Forgets every version that is not used, so that its number is free; within a transaction.
     *
     * @param used numbers that something stored refers to, counted since {@link #watch}
     * @return how many were forgotten
     */
    int forgetAllBut(BitSet used) {
        if (doubtful) {
            read();
        }
        List<Integer> unused = new ArrayList<>();
        for (int number = 0; number < versions.size(); number++) {
            if (versions.get(number) != null && !used.get(number) && !asked.get(number)) {
                unused.add(number);
            }
        }
        asked = null;
        unused.forEach(number -> {
            mapper.removeProduct(number);
            numbers.remove(versions.set(number, null));
            free.add(number);
        });
        if (!unused.isEmpty()) {
            doubtUnlessCommitted();
        }
        return unused.size();
    }

    /** Marks the numbers of a stored inventory. */
    static void mark(byte[] content, BitSet used) {
        each(content, used::set);
    }

    /** The numbers of a stored inventory, the lowest first; see {@link #write}. */
    private static void each(byte[] content, IntConsumer taker) {
        int number = 0;
        int part = 0;
        int shift = 0;
        for (byte b : content) {
            part |= (b & 0x7f) << shift;
            shift += 7;
            if (b >= 0) {
                number += part;
                taker.accept(number);
                part = 0;
                shift = 0;
            }
        }
    }

    /**
     * The products of a host, each once, in the order of their numbers.
     *
     * @param content the numbers as they are stored
     */
    record Inventory(List<InstalledProduct> products, byte[] content) {}

    /** Numbers what is new; within a transaction, with which the new numbers come and go. */
    Inventory inventory(List<InstalledProduct> reported) {
        if (doubtful) {
            read();
        }
        int[] sorted =
                reported.stream().mapToInt(this::number).sorted().distinct().toArray();
        byte[] content = write(sorted);
        return new Inventory(Arrays.stream(sorted).mapToObj(versions::get).toList(), content);
    }

    /** The products of a stored inventory. */
    public List<InstalledProduct> products(byte[] content) {
        List<InstalledProduct> products = new ArrayList<>();
        each(content, number -> products.add(versions.get(number)));
        return List.copyOf(products);
    }

    /**
     * Each number as its distance from the one before, seven bits a byte, the lowest first; the last byte of a distance
     * has no high bit.
     */
    static byte[] write(int[] sorted) {
        ByteArrayOutputStream bytes = new ByteArrayOutputStream(sorted.length * 2);
        int before = 0;
        for (int number : sorted) {
            int distance = number - before;
            for (; distance > 0x7f; distance >>>= 7) {
                bytes.write(distance & 0x7f | 0x80);
            }
            bytes.write(distance);
            before = number;
        }
        return bytes.toByteArray();
    }

    InstalledProduct product(int number) {
        return versions.get(number);
    }

    /** Its number; within a transaction, as {@link #inventory}. */
    int number(InstalledProduct product) {
        Integer known = numbers.get(product);
        int number = known != null ? known : remember(product);
        if (asked != null) {
            asked.set(number);
        }
        if (known != null) {
            return known;
        }
        mapper.addProduct(new HostMapper.ProductRow(
                number,
                product.build().product().purl(),
                product.build().distro(),
                product.build().arch(),
                product.version(),
                product.source().map(InstalledProduct.SourcePackage::name).orElse(null),
                product.source().map(InstalledProduct.SourcePackage::version).orElse(null)));
        doubtUnlessCommitted();
        return number;
    }

    private void doubtUnlessCommitted() {
        TransactionSynchronizationManager.registerSynchronization(new TransactionSynchronization() {
            @Override
            public void afterCompletion(int status) {
                doubtful |= status != STATUS_COMMITTED;
            }
        });
    }

    private int remember(InstalledProduct product) {
        int number;
        if (free.isEmpty()) {
            number = versions.size();
            versions.add(product);
        } else {
            number = free.remove();
            versions.set(number, product);
        }
        numbers.put(product, number);
        return number;
    }
}
