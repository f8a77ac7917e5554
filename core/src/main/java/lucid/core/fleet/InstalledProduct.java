package lucid.core.fleet;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lucid.core.update.ProductBuild;

/** A version of a product that a host reported as installed. */
public record InstalledProduct(ProductBuild build, String version) {

    /** Of several versions of a build side by side the highest, which is the one that counts. */
    public static Map<ProductBuild, String> highest(List<InstalledProduct> products) {
        Map<ProductBuild, String> highest = new HashMap<>();
        for (InstalledProduct product : products) {
            highest.merge(product.build(), product.version(),
                    (a, b) -> product.build().product().ordering().compare(a, b) >= 0 ? a : b);
        }
        return highest;
    }
}
