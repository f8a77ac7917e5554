package lucid.server.state;

import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.time.Clock;
import lucid.server.record.RecordMapper;
import org.springframework.transaction.support.TransactionTemplate;

/** Makes a state without a database. */
public final class StateFixture {

    private StateFixture() {}

    public static State empty(TransactionTemplate transaction, RecordMapper records, Clock clock) {
        Rebuild rebuild = mock();
        when(rebuild.fromStorage()).thenReturn(Picture.EMPTY);
        return new State(transaction, records, clock, rebuild);
    }
}
