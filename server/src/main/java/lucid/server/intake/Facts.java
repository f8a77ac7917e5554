package lucid.server.intake;

import java.io.ByteArrayOutputStream;
import java.util.ArrayList;
import java.util.Arrays;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lucid.core.fleet.InstalledProduct;
import lucid.core.update.Product;
import lucid.core.update.ProductBuild;
import org.springframework.stereotype.Component;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;

/**
 * Every version of a product that some host has or had, each with a small number of its own. A fleet has few of them on very many hosts: an
 * inventory is stored as the numbers of its facts, a byte or two each, and its products are the same objects as those of every other host.
 *
 * <p>Numbers are given only within {@link lucid.server.state.State#write}, by one writer at a time.
 */
@Component
public class Facts {

    private final HostMapper mapper;
    private final Map<InstalledProduct, Integer> numbers = new HashMap<>();
    private final List<InstalledProduct> facts = new ArrayList<>();

    /** True after a transaction that may not have been kept: what is stored is read again before the next number is given. */
    private boolean doubtful;

    Facts(HostMapper mapper) {
        this.mapper = mapper;
        read();
    }

    private void read() {
        numbers.clear();
        facts.clear();
        doubtful = false;
        for (HostMapper.FactRow row : mapper.facts()) {
            remember(new InstalledProduct(new ProductBuild(new Product(row.product()), row.distro(), row.arch()), row.version()));
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
        int[] sorted = reported.stream().mapToInt(this::number).sorted().distinct().toArray();
        byte[] content = write(sorted);
        return new Inventory(Arrays.stream(sorted).mapToObj(facts::get).toList(), content);
    }

    /** The products of a stored inventory. */
    public List<InstalledProduct> products(byte[] content) {
        List<InstalledProduct> products = new ArrayList<>();
        int number = 0;
        int part = 0;
        int shift = 0;
        for (byte b : content) {
            part |= (b & 0x7f) << shift;
            shift += 7;
            if (b >= 0) {
                number += part;
                products.add(facts.get(number));
                part = 0;
                shift = 0;
            }
        }
        return List.copyOf(products);
    }

    /** Each number as its distance from the one before, seven bits a byte, the lowest first; the last byte of a distance has no high bit. */
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
        return facts.get(number);
    }

    /** Its number; within a transaction, as {@link #inventory}. */
    int number(InstalledProduct product) {
        Integer known = numbers.get(product);
        if (known != null) {
            return known;
        }
        int number = remember(product);
        mapper.addFact(new HostMapper.FactRow(number, product.build().product().purl(), product.build().distro(), product.build().arch(), product.version()));
        TransactionSynchronizationManager.registerSynchronization(new TransactionSynchronization() {
            @Override
            public void afterCompletion(int status) {
                doubtful |= status != STATUS_COMMITTED;
            }
        });
        return number;
    }

    private int remember(InstalledProduct product) {
        numbers.put(product, facts.size());
        facts.add(product);
        return facts.size() - 1;
    }
}
