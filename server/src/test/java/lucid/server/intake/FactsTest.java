package lucid.server.intake;

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

class FactsTest {

    private final HostMapper mapper = mock(HostMapper.class);

    private static InstalledProduct product(int number) {
        return new InstalledProduct(PackageReference.parse("pkg:generic/p" + number).build(), "1." + number);
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
        Facts facts = new Facts(mapper);
        List<InstalledProduct> many = new ArrayList<>();
        for (int i = 0; i < 700; i++) {
            many.add(product(i));
        }
        Facts.Inventory all = facts.inventory(many);
        assertThat(facts.products(all.content())).isEqualTo(many).isEqualTo(all.products());
        Facts.Inventory some = facts.inventory(List.of(product(699), product(3), product(131), product(3)));
        assertThat(facts.products(some.content())).containsExactly(product(3), product(131), product(699));
        assertThat(facts.inventory(List.of(product(3), product(131), product(699))).content()).isEqualTo(some.content());
        assertThat(some.content()).hasSize(1 + 2 + 2);
        assertThat(facts.products(facts.inventory(List.of()).content())).isEmpty();
        assertThat(some.products().get(0)).as("every host has the same object").isSameAs(all.products().get(3));
        verify(mapper, times(700)).addFact(any());
    }

    @Test
    void whatWasNotCommittedGetsItsNumberAnew() {
        Facts facts = new Facts(mapper);
        facts.inventory(List.of(product(1)));
        TransactionSynchronizationManager.getSynchronizations().forEach(s -> s.afterCompletion(TransactionSynchronization.STATUS_COMMITTED));
        outOfIt();
        inATransaction();
        Facts.Inventory lost = facts.inventory(List.of(product(1), product(2), product(3)));
        TransactionSynchronizationManager.getSynchronizations().forEach(s -> s.afterCompletion(TransactionSynchronization.STATUS_ROLLED_BACK));
        when(mapper.facts()).thenReturn(List.of(new HostMapper.FactRow(0, "pkg:generic/p1", "", "", "1.1")));
        Facts.Inventory again = facts.inventory(List.of(product(3), product(1)));
        assertThat(again.content()).hasSize(2);
        assertThat(facts.products(again.content())).containsExactly(product(1), product(3));
        assertThat(again.content()).isNotEqualTo(lost.content());
        verify(mapper, times(4)).addFact(any());
    }

    @Test
    void whatNobodyHasIsForgottenAndItsNumberGivenAgain() {
        Facts facts = new Facts(mapper);
        Facts.Inventory kept = facts.inventory(List.of(product(1), product(3)));
        facts.inventory(List.of(product(0), product(2), product(4)));
        facts.watch();
        BitSet used = new BitSet();
        Facts.mark(kept.content(), used);
        facts.inventory(List.of(product(4)));
        assertThat(facts.forgetAllBut(used)).as("4 was asked for meanwhile").isEqualTo(2);
        assertThat(facts.products(kept.content())).containsExactly(product(1), product(3));
        Facts.Inventory later = facts.inventory(List.of(product(2), product(9), product(10)));
        assertThat(facts.products(later.content())).containsExactlyInAnyOrder(product(2), product(9), product(10));
        assertThat(facts.products(kept.content())).containsExactly(product(1), product(3));
    }

    @Test
    void numbersThatAreFreeAreFoundAtTheStart() {
        when(mapper.facts()).thenReturn(List.of(new HostMapper.FactRow(2, "pkg:generic/p7", "", "", "1.7"), new HostMapper.FactRow(4, "pkg:generic/p8", "", "", "1.8")));
        Facts facts = new Facts(mapper);
        assertThat(facts.products(Facts.write(new int[] {2, 4}))).containsExactly(product(7), product(8));
        Facts.Inventory next = facts.inventory(List.of(product(1), product(3), product(5), product(6)));
        assertThat(facts.products(next.content())).containsExactlyInAnyOrder(product(1), product(3), product(5), product(6));
        assertThat(facts.products(Facts.write(new int[] {2, 4}))).containsExactly(product(7), product(8));
    }

    @Test
    void whatIsStoredIsKnownFromTheStart() {
        when(mapper.facts()).thenReturn(List.of(new HostMapper.FactRow(0, "pkg:generic/p7", "", "", "1.7")));
        Facts facts = new Facts(mapper);
        assertThat(facts.products(Facts.write(new int[] {0}))).containsExactly(product(7));
        facts.inventory(List.of(product(7)));
        verify(mapper, times(0)).addFact(any());
    }
}
