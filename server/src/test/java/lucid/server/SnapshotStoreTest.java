package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.util.ArrayList;
import java.util.List;
import java.util.Set;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.StandingRule;
import lucid.core.ruling.Decisions;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.snapshot.SnapshotStoreFixture;
import lucid.server.snapshot.Topic;
import org.junit.jupiter.api.Test;
import org.springframework.transaction.TransactionSystemException;
import org.springframework.transaction.support.TransactionCallback;
import org.springframework.transaction.support.TransactionTemplate;

/** The snapshot changes only after the commit. */
class SnapshotStoreTest {

    private static final Ladder OTHER =
            new Ladder(List.of(), new StandingRule(List.of(), StandingRule.Offer.afterDays(1)));

    private final TransactionTemplate transaction = mock();
    private final SnapshotStore store = SnapshotStoreFixture.empty(transaction);

    @Test
    void aCommittedChangeIsSeen() {
        when(transaction.execute(any()))
                .thenAnswer(call -> call.<TransactionCallback<?>>getArgument(0).doInTransaction(mock()));
        assertThat(store.<String>write(snapshot -> new SnapshotStore.Change<>(snapshot.with(OTHER), "done")))
                .isEqualTo("done");
        assertThat(store.snapshot().fleet().ladder()).isEqualTo(OTHER);
    }

    @Test
    void whoFailsToHearOfACommitDoesNotMakeItUndone() {
        SnapshotStore told = SnapshotStoreFixture.empty(transaction, event -> {
            throw new IllegalStateException("a listener that fails");
        });
        when(transaction.execute(any()))
                .thenAnswer(call -> call.<TransactionCallback<?>>getArgument(0).doInTransaction(mock()));
        assertThat(told.<String>write(snapshot -> new SnapshotStore.Change<>(snapshot.with(OTHER), "done")))
                .isEqualTo("done");
        assertThat(told.snapshot().fleet().ladder()).isEqualTo(OTHER);
    }

    @Test
    void whatAChangeWasAboutIsTold() {
        List<Object> events = new ArrayList<>();
        SnapshotStore telling = SnapshotStoreFixture.empty(transaction, events::add);
        when(transaction.execute(any()))
                .thenAnswer(call -> call.<TransactionCallback<?>>getArgument(0).doInTransaction(mock()));
        telling.write(snapshot -> new SnapshotStore.Change<>(snapshot.with(OTHER), true));
        telling.write(snapshot ->
                new SnapshotStore.Change<>(snapshot.with(new Decisions(List.of(), List.of(), List.of())), true));
        telling.write(snapshot -> new SnapshotStore.Change<>(snapshot, true));
        assertThat(events)
                .containsExactly(
                        new SnapshotStore.Changed(Set.of(Topic.POPULATIONS, Topic.RECORD)),
                        new SnapshotStore.Changed(Set.of(Topic.DECISIONS, Topic.RECORD)),
                        new SnapshotStore.Changed(Set.of(Topic.RECORD)));
    }

    @Test
    void aCommitThatFailsLeavesTheSnapshotAsItWas() {
        Snapshot before = store.snapshot();
        when(transaction.execute(any())).thenAnswer(call -> {
            call.<TransactionCallback<?>>getArgument(0).doInTransaction(mock());
            throw new TransactionSystemException("disk full");
        });
        assertThatThrownBy(() -> store.write(snapshot -> new SnapshotStore.Change<>(snapshot.with(OTHER), "done")))
                .hasMessage("disk full");
        assertThat(store.snapshot()).isSameAs(before);
    }
}
