package lucid.server.snapshot;

import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import lucid.server.audit.AuditLog;
import org.springframework.context.ApplicationContext;
import org.springframework.context.ApplicationEventPublisher;
import org.springframework.transaction.support.TransactionTemplate;

/** Makes a state without a database. */
public final class SnapshotStoreFixture {

    private SnapshotStoreFixture() {}

    /** The snapshot as it would be made anew at a start. */
    public static Snapshot rebuilt(ApplicationContext context) {
        return context.getBean(SnapshotLoader.class).fromStorage();
    }

    public static SnapshotStore empty(TransactionTemplate transaction) {
        return empty(transaction, event -> {});
    }

    public static SnapshotStore empty(TransactionTemplate transaction, ApplicationEventPublisher events) {
        SnapshotLoader loader = mock();
        when(loader.fromStorage()).thenReturn(Snapshot.EMPTY);
        return new SnapshotStore(
                transaction,
                mock(AuditLog.class),
                mock(
                        Disk.class,
                        call -> call.getMethod().getReturnType() == RuntimeException.class
                                ? call.getArgument(0)
                                : null),
                mock(AnsweredRequests.class),
                events,
                loader);
    }
}
