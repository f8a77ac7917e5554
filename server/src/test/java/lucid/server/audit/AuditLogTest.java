package lucid.server.audit;

import static org.assertj.core.api.Assertions.assertThat;
import static org.mockito.ArgumentMatchers.any;
import static org.mockito.ArgumentMatchers.anyInt;
import static org.mockito.ArgumentMatchers.anyLong;
import static org.mockito.Mockito.doAnswer;
import static org.mockito.Mockito.mock;
import static org.mockito.Mockito.when;

import java.nio.file.Path;
import java.time.Clock;
import java.time.Instant;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.server.storage.AuditHead;
import lucid.server.storage.Settings;
import org.junit.jupiter.api.AfterEach;
import org.junit.jupiter.api.BeforeEach;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.io.TempDir;
import org.springframework.transaction.support.TransactionSynchronization;
import org.springframework.transaction.support.TransactionSynchronizationManager;

class AuditLogTest {

    @TempDir
    Path folder;

    private final List<AuditEntry> entries = new ArrayList<>();
    private final AuditMapper mapper = mock(AuditMapper.class);
    private final Map<String, String> set = new HashMap<>();
    private final Settings settings = mock(Settings.class);
    private final Clock clock = mock(Clock.class);

    @BeforeEach
    void inATransaction() {
        TransactionSynchronizationManager.initSynchronization();
        when(mapper.last())
                .thenAnswer(
                        call -> entries.isEmpty() ? Optional.empty() : Optional.of(entries.get(entries.size() - 1)));
        doAnswer(call -> entries.add(call.getArgument(0))).when(mapper).append(any());
        when(mapper.after(anyLong(), anyInt()))
                .thenAnswer(call -> List.copyOf(
                        entries.subList((int) Math.min((long) call.getArgument(0), entries.size()), entries.size())));
        when(settings.find(any())).thenAnswer(call -> Optional.ofNullable(set.get(call.<String>getArgument(0))));
        doAnswer(call -> set.put(call.getArgument(0), call.getArgument(1)))
                .when(settings)
                .keep(any(), any());
        when(clock.getZone()).thenReturn(ZoneOffset.UTC);
    }

    @AfterEach
    void outOfIt() {
        TransactionSynchronizationManager.clear();
    }

    private AuditLog chain(AuditHead head) {
        AuditLog chain = new AuditLog(mapper, head, settings, clock);
        chain.begin();
        return chain;
    }

    private void append(AuditLog chain, String at, String sentence) {
        when(clock.instant()).thenReturn(Instant.parse(at));
        chain.append(AuditEntry.Kind.IMPORT, "", () -> "somebody", sentence);
    }

    @Test
    void aClockThatWentBackIsToldOnceAndEntriesKeepTheirOrder() {
        AuditLog chain = chain(new AuditHead(folder));
        append(chain, "2026-11-24T09:00:00Z", "one");
        append(chain, "2026-11-24T08:59:30Z", "set by half a minute");
        append(chain, "2026-11-24T06:00:00Z", "two");
        append(chain, "2026-11-24T06:01:00Z", "three");
        append(chain, "2026-11-24T09:30:00Z", "four");
        append(chain, "2026-11-24T07:00:00Z", "five");
        assertThat(entries).extracting(AuditEntry::at).isSorted();
        assertThat(entries)
                .extracting(AuditEntry::sentence)
                .filteredOn(sentence -> sentence.startsWith("The server's clock went back"))
                .hasSize(2);
        assertThat(entries.get(2).sentence())
                .contains("went back to 2026-11-24T06:00:00Z, which is 180 minutes before the last entry");
        assertThat(entries.get(3).sentence()).isEqualTo("two");
        assertThat(chain.verify().broken()).isEmpty();
    }

    @Test
    void theHeadIsKeptAfterTheCommitAndNotWithoutOne() throws Exception {
        AuditHead head = new AuditHead(folder);
        AuditLog chain = chain(head);
        append(chain, "2026-11-24T09:00:00Z", "one");
        append(chain, "2026-11-24T09:00:01Z", "two");
        assertThat(head.read()).isEmpty();
        TransactionSynchronizationManager.getSynchronizations()
                .forEach(s -> s.afterCompletion(TransactionSynchronization.STATUS_COMMITTED));
        assertThat(head.read()).contains(new AuditHead.Head(2, entries.get(1).hash(), 1));
        outOfIt();
        TransactionSynchronizationManager.initSynchronization();
        chain.begin();
        append(chain, "2026-11-24T09:00:02Z", "three");
        TransactionSynchronizationManager.getSynchronizations()
                .forEach(s -> s.afterCompletion(TransactionSynchronization.STATUS_ROLLED_BACK));
        assertThat(head.read()).contains(new AuditHead.Head(2, entries.get(1).hash(), 1));
    }

    @Test
    void aWriteWithoutAnEntryIsCountedAsWell() throws Exception {
        AuditHead head = new AuditHead(folder);
        AuditLog chain = chain(head);
        TransactionSynchronizationManager.getSynchronizations()
                .forEach(s -> s.afterCompletion(TransactionSynchronization.STATUS_COMMITTED));
        assertThat(head.read()).contains(new AuditHead.Head(0, "0".repeat(64), 1));
        outOfIt();
        TransactionSynchronizationManager.initSynchronization();
        chain.begin();
        TransactionSynchronizationManager.getSynchronizations()
                .forEach(s -> s.afterCompletion(TransactionSynchronization.STATUS_COMMITTED));
        assertThat(head.read()).contains(new AuditHead.Head(0, "0".repeat(64), 2));
    }

    @Test
    void anEntryOfWhichAPartIsGoneDoesNotFollow() {
        AuditLog chain = chain(new AuditHead(folder));
        append(chain, "2026-11-24T09:00:00Z", "one");
        append(chain, "2026-11-24T09:00:01Z", "two");
        AuditEntry whole = entries.get(1);
        for (AuditEntry damaged : List.of(
                new AuditEntry(2, null, whole.author(), whole.kind(), "", "two", whole.hash()),
                new AuditEntry(2, whole.at(), whole.author(), whole.kind(), "", "two", null),
                new AuditEntry(2, whole.at(), whole.author(), null, "", "two", whole.hash()),
                new AuditEntry(2, whole.at(), whole.author(), whole.kind(), "", null, whole.hash()))) {
            entries.set(1, damaged);
            assertThat(chain.verify().broken()).contains(2L);
        }
    }

    @Test
    void aSentenceThatIsTooLongIsCut() {
        AuditLog chain = chain(new AuditHead(folder));
        append(chain, "2026-11-24T09:00:00Z", "x".repeat(9_000));
        assertThat(entries.get(0).sentence()).hasSize(8_000).endsWith("…");
        assertThat(chain.verify().entries()).isEqualTo(1);
    }
}
