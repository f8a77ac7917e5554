package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.util.List;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.StandingRule;
import lucid.server.state.Picture;
import lucid.server.state.State;
import lucid.server.state.StateFixture;
import org.junit.jupiter.api.Test;
import org.springframework.transaction.TransactionSystemException;
import org.springframework.transaction.support.TransactionCallback;
import org.springframework.transaction.support.TransactionTemplate;

/** The picture changes only after the commit. */
class StateTest {

    private static final Ladder OTHER = new Ladder(List.of(), new StandingRule(List.of(), StandingRule.Offer.afterDays(1)));

    private final TransactionTemplate transaction = mock();
    private final State state = StateFixture.empty(transaction);

    @Test
    void aCommittedChangeIsSeen() {
        when(transaction.execute(any())).thenAnswer(call -> call.<TransactionCallback<?>>getArgument(0).doInTransaction(mock()));
        assertThat(state.<String>write(picture -> new State.Written<>(picture.with(OTHER), "done"))).isEqualTo("done");
        assertThat(state.picture().fleet().ladder()).isEqualTo(OTHER);
    }

    @Test
    void aCommitThatFailsLeavesThePictureAsItWas() {
        Picture before = state.picture();
        when(transaction.execute(any())).thenAnswer(call -> {
            call.<TransactionCallback<?>>getArgument(0).doInTransaction(mock());
            throw new TransactionSystemException("disk full");
        });
        assertThatThrownBy(() -> state.write(picture -> new State.Written<>(picture.with(OTHER), "done"))).hasMessage("disk full");
        assertThat(state.picture()).isSameAs(before);
    }
}
