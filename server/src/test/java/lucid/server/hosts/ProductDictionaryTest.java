package lucid.server.hosts;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.times;
import static org.mockito.Mockito.verify;
import static org.mockito.Mockito.when;

import java.util.ArrayList;
import java.util.BitSet;
import java.util.List;
import lucid.core.fleet.InstalledProduct;
import lucid.core.update.PackageReference;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;

class ProductDictionaryTest {

    private final HostMapper mapper = mock(HostMapper.class);

    private static InstalledProduct product(int number) {
        return new InstalledProduct(
                PackageReference.parse("pkg:generic/p" + number).build(), "1." + number);
    }

    @BeforeEach
    void inATransaction() {
        TransactionSynchronizationManager.initSynchronization();
    }

    @AfterEach
    void outOfIt() {
        TransactionSynchronizationManager.clear();
    }

    @Test
    void anInventoryIsReadAgainAsItWasAndWhateverItsOrderIsTheSame() {
        ProductDictionary dictionary = new ProductDictionary(mapper);
        List<InstalledProduct> many = new ArrayList<>();
        for (int i = 0; i < 700; i++) {
            many.add(product(i));
        }
        ProductDictionary.Inventory all = dictionary.inventory(many);
        assertThat(dictionary.products(all.content())).isEqualTo(many).isEqualTo(all.products());
        ProductDictionary.Inventory some =
                dictionary.inventory(List.of(product(699), product(3), product(131), product(3)));
        assertThat(dictionary.products(some.content())).containsExactly(product(3), product(131), product(699));
        assertThat(dictionary
                        .inventory(List.of(product(3), product(131), product(699)))
                        .content())
                .isEqualTo(some.content());
        assertThat(some.content()).hasSize(1 + 2 + 2);
        assertThat(dictionary.products(dictionary.inventory(List.of()).content()))
                .isEmpty();
        assertThat(some.products().get(0))
                .as("every host has the same object")
                .isSameAs(all.products().get(3));
        verify(mapper, times(700)).addProduct(any());
    }

    @Test
    void whatWasNotCommittedGetsItsNumberAnew() {
        ProductDictionary dictionary = new ProductDictionary(mapper);
        dictionary.inventory(List.of(product(1)));
        TransactionSynchronizationManager.getSynchronizations()
                .forEach(s -> s.afterCompletion(TransactionSynchronization.STATUS_COMMITTED));
        outOfIt();
        inATransaction();
        ProductDictionary.Inventory lost = dictionary.inventory(List.of(product(1), product(2), product(3)));
        TransactionSynchronizationManager.getSynchronizations()
                .forEach(s -> s.afterCompletion(TransactionSynchronization.STATUS_ROLLED_BACK));
        when(mapper.productVersions())
                .thenReturn(List.of(new HostMapper.ProductRow(0, "pkg:generic/p1", "", "", "1.1", null, null)));
        ProductDictionary.Inventory again = dictionary.inventory(List.of(product(3), product(1)));
        assertThat(again.content()).hasSize(2);
        assertThat(dictionary.products(again.content())).containsExactly(product(1), product(3));
        assertThat(again.content()).isNotEqualTo(lost.content());
        verify(mapper, times(4)).addProduct(any());
    }

    @Test
    void whatNobodyHasIsForgottenAndItsNumberGivenAgain() {
        ProductDictionary dictionary = new ProductDictionary(mapper);
        ProductDictionary.Inventory kept = dictionary.inventory(List.of(product(1), product(3)));
        dictionary.inventory(List.of(product(0), product(2), product(4)));
        dictionary.watch();
        BitSet used = new BitSet();
        ProductDictionary.mark(kept.content(), used);
        dictionary.inventory(List.of(product(4)));
        assertThat(dictionary.forgetAllBut(used))
                .as("4 was asked for meanwhile")
                .isEqualTo(2);
        assertThat(dictionary.products(kept.content())).containsExactly(product(1), product(3));
        ProductDictionary.Inventory later = dictionary.inventory(List.of(product(2), product(9), product(10)));
        assertThat(dictionary.products(later.content())).containsExactlyInAnyOrder(product(2), product(9), product(10));
        assertThat(dictionary.products(kept.content())).containsExactly(product(1), product(3));
    }

    @Test
    void numbersThatAreFreeAreFoundAtTheStart() {
        when(mapper.productVersions())
                .thenReturn(List.of(
                        new HostMapper.ProductRow(2, "pkg:generic/p7", "", "", "1.7", null, null),
                        new HostMapper.ProductRow(4, "pkg:generic/p8", "", "", "1.8", null, null)));
        ProductDictionary dictionary = new ProductDictionary(mapper);
        assertThat(dictionary.products(ProductDictionary.write(new int[] {2, 4})))
                .containsExactly(product(7), product(8));
        ProductDictionary.Inventory next =
                dictionary.inventory(List.of(product(1), product(3), product(5), product(6)));
        assertThat(dictionary.products(next.content()))
                .containsExactlyInAnyOrder(product(1), product(3), product(5), product(6));
        assertThat(dictionary.products(ProductDictionary.write(new int[] {2, 4})))
                .containsExactly(product(7), product(8));
    }

    @Test
    void whatIsStoredIsKnownFromTheStart() {
        when(mapper.productVersions())
                .thenReturn(List.of(new HostMapper.ProductRow(0, "pkg:generic/p7", "", "", "1.7", null, null)));
        ProductDictionary dictionary = new ProductDictionary(mapper);
        assertThat(dictionary.products(ProductDictionary.write(new int[] {0}))).containsExactly(product(7));
        dictionary.inventory(List.of(product(7)));
        verify(mapper, times(0)).addProduct(any());
    }
}
