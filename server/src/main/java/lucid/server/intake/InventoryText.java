package lucid.server.intake;

import java.nio.charset.StandardCharsets;
import java.security.MessageDigest;
import java.security.NoSuchAlgorithmException;
import java.util.HexFormat;
import java.util.List;
import java.util.stream.Collectors;
import lucid.core.fleet.InstalledProduct;
import lucid.core.update.Product;
import lucid.core.update.ProductBuild;

/** How an inventory is stored: one line a product, {@code purl TAB distro TAB arch TAB version}, sorted, known by its SHA-256. */
public final class InventoryText {

    private InventoryText() {}

    static String write(List<InstalledProduct> products) {
        return products.stream()
                .map(p -> String.join("\t", p.build().product().purl(), p.build().distro(), p.build().arch(), p.version()))
                .sorted()
                .collect(Collectors.joining("\n"));
    }

    public static List<InstalledProduct> read(String text) {
        return text.lines().map(line -> line.split("\t", -1))
                .map(f -> new InstalledProduct(new ProductBuild(new Product(f[0]), f[1], f[2]), f[3]))
                .toList();
    }

    static String digest(byte[] content) {
        try {
            return HexFormat.of().formatHex(MessageDigest.getInstance("SHA-256").digest(content));
        } catch (NoSuchAlgorithmException e) {
            throw new IllegalStateException(e);
        }
    }

    static String digest(String text) {
        return digest(text.getBytes(StandardCharsets.UTF_8));
    }
}
