package lucid.server.snapshot;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.concurrent.CountDownLatch;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.Future;
import java.util.concurrent.TimeUnit;
import java.util.stream.IntStream;
import org.awaitility.Awaitility;
import org.junit.jupiter.api.Test;

class GroupCommitTest {

    private static final Duration LONG = Duration.ofMinutes(5);

    @Test
    void whoComesAloneIsWrittenAtOnce() {
        GroupCommit<Integer, Integer> commit =
                new GroupCommit<>(all -> all.stream().map(n -> n * 2).toList());
        assertThat(commit.submit(21)).isEqualTo(42);
    }

    @Test
    void whoComesMeanwhileSharesTheNextCommitAndOneThatFailsSpoilsNoOther() throws Exception {
        CountDownLatch first = new CountDownLatch(1);
        List<Integer> sizes = Collections.synchronizedList(new ArrayList<>());
        List<Integer> kept = Collections.synchronizedList(new ArrayList<>());
        GroupCommit<Integer, Integer> commit = new GroupCommit<>(all -> {
            sizes.add(all.size());
            if (all.contains(0)) {
                await(first);
            }
            if (all.contains(13)) {
                throw new IllegalArgumentException("13");
            }
            kept.addAll(all);
            return all.stream().map(n -> n * 2).toList();
        });
        List<Thread> threads = Collections.synchronizedList(new ArrayList<>());
        ExecutorService clients = Executors.newFixedThreadPool(50, work -> {
            Thread thread = new Thread(work);
            threads.add(thread);
            return thread;
        });
        Future<Integer> leader = clients.submit(() -> commit.submit(0));
        Awaitility.await().atMost(LONG).until(() -> !sizes.isEmpty());
        List<Future<Integer>> others = IntStream.range(1, 40)
                .mapToObj(n -> clients.submit(() -> commit.submit(n)))
                .toList();
        Awaitility.await().atMost(LONG).until(() -> threads.stream()
                .allMatch(thread -> thread.getState() == Thread.State.WAITING));
        first.countDown();
        assertThat(leader.get(5, TimeUnit.MINUTES)).isZero();
        for (int n = 1; n < 40; n++) {
            Future<Integer> other = others.get(n - 1);
            if (n == 13) {
                assertThatThrownBy(() -> other.get(5, TimeUnit.MINUTES)).hasMessageContaining("13");
            } else {
                assertThat(other.get(5, TimeUnit.MINUTES)).isEqualTo(n * 2);
            }
        }
        clients.shutdown();
        assertThat(sizes.get(0)).isEqualTo(1);
        assertThat(sizes.get(1)).as("those who waited share a commit").isGreaterThan(30);
        assertThat(kept).hasSize(39).doesNotContain(13).doesNotHaveDuplicates();
    }

    @Test
    void whatOneBringsTogetherIsWrittenTogether() {
        List<Integer> sizes = Collections.synchronizedList(new ArrayList<>());
        GroupCommit<Integer, Integer> commit = new GroupCommit<>(all -> {
            sizes.add(all.size());
            return all.stream().map(n -> n * 2).toList();
        });
        List<Integer> many = IntStream.range(0, 1_000).boxed().toList();
        assertThat(commit.submitAll(many))
                .containsExactlyElementsOf(many.stream().map(n -> n * 2).toList());
        assertThat(sizes.stream().mapToInt(Integer::intValue).sum()).isEqualTo(1_000);
        assertThat(sizes).as("not one by one").hasSizeLessThan(1_000);
    }

    @Test
    void whatIsLeftIsWrittenBeforeItCloses() {
        CountDownLatch first = new CountDownLatch(1);
        List<Integer> kept = Collections.synchronizedList(new ArrayList<>());
        GroupCommit<Integer, Integer> commit = new GroupCommit<>(all -> {
            await(first);
            kept.addAll(all);
            return all;
        });
        commit.leave(1);
        commit.leave(2);
        assertThat(kept).as("nobody waited").isEmpty();
        first.countDown();
        commit.close();
        assertThat(kept).containsExactly(1, 2);
    }

    private static void await(CountDownLatch latch) {
        try {
            latch.await();
        } catch (InterruptedException e) {
            throw new IllegalStateException(e);
        }
    }
}
