package lucid.server.state;

import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import lucid.server.record.RecordChain;
import org.springframework.context.ApplicationContext;
import org.springframework.context.ApplicationEventPublisher;
import org.springframework.transaction.support.TransactionTemplate;

/** Makes a state without a database. */
public final class StateFixture {

    private StateFixture() {}

    /** The picture as it would be made anew at a start. */
    public static Picture rebuilt(ApplicationContext context) {
        return context.getBean(Rebuild.class).fromStorage();
    }

    public static State empty(TransactionTemplate transaction) {
        Rebuild rebuild = mock();
        when(rebuild.fromStorage()).thenReturn(Picture.EMPTY);
        return new State(transaction, mock(RecordChain.class), mock(Disk.class, call -> call.getMethod().getReturnType() == RuntimeException.class ? call.getArgument(0) : null),
                mock(AnsweredRequests.class), mock(ApplicationEventPublisher.class), rebuild);
    }
}
