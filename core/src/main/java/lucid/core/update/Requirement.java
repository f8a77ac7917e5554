package lucid.core.update;

import java.math.BigDecimal;
import java.util.List;
import java.util.Optional;

/**
 * What a host must have to take an update, as its notice says: each of them alone, beside a version that the update
 * fixes.
 */
public sealed interface Requirement {

    /** In words: {@code lantern-loader 2.10 or later}. */
    String words();

    /** A product, at {@code atLeast} or a later version where that is told. */
    record OfProduct(Product product, Optional<String> atLeast) implements Requirement {

        /** @throws IllegalArgumentException if {@code atLeast} is no version of the product */
        public OfProduct {
            atLeast.ifPresent(product.ordering()::require);
        }

        @Override
        public String words() {
            return product.name()
                    + atLeast.map(least -> " " + least + " or later").orElse("");
        }
    }

    /** A trait with one of these texts. */
    record OneOf(String trait, List<String> values) implements Requirement {

        @Override
        public String words() {
            return trait + " " + String.join(" or ", values);
        }
    }

    /** A trait that is a number, and no less than this. */
    record AtLeast(String trait, double least) implements Requirement {

        @Override
        public String words() {
            return trait + " " + new BigDecimal(least).stripTrailingZeros().toPlainString() + " or more";
        }
    }
}
