package lucid.server.snapshot;

import java.util.ArrayList;
import java.util.List;
import java.util.Queue;
import java.util.concurrent.CompletableFuture;
import java.util.concurrent.CompletionException;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.ExecutorService;
import java.util.concurrent.Executors;
import java.util.concurrent.TimeUnit;
import java.util.function.Function;

/**
 * Lets many requests share one commit. Who comes while a commit is under way waits, and the next commit takes all that
 * wait; who comes alone is written at once. Each is answered only after the commit that holds it. A thread of its own
 * writes, so that those who wait are only told, and the next are read meanwhile.
 */
public final class GroupCommit<T, R> implements AutoCloseable {

    /** A commit takes no more than so many, so that nobody waits long behind a crowd. */
    private static final int MOST_AT_ONCE = 200;

    private record Waiting<T, R>(T request, CompletableFuture<R> answer) {}

    private final Function<List<T>, List<R>> write;
    private final Queue<Waiting<T, R>> waiting = new ConcurrentLinkedQueue<>();
    private final ExecutorService writer = Executors.newSingleThreadExecutor(work -> {
        Thread thread = new Thread(work, "group-commit");
        thread.setDaemon(true);
        return thread;
    });

    /**
     * @param write carries out all requests in one transaction and answers each, in their order; if it throws, nothing
     *     of them is kept
     */
    public GroupCommit(Function<List<T>, List<R>> write) {
        this.write = write;
    }

    /** Answers after the commit; throws what the writing of this request throws. */
    public R submit(T request) {
        return submitAll(List.of(request)).get(0);
    }

    /** Answers after the commits of all; throws what the writing of the first one that fails throws. */
    public List<R> submitAll(List<T> requests) {
        List<CompletableFuture<R>> answers = requests.stream().map(this::add).toList();
        try {
            return answers.stream().map(CompletableFuture::join).toList();
        } catch (CompletionException e) {
            if (e.getCause() instanceof RuntimeException failure) {
                throw failure;
            }
            throw e;
        }
    }

    /** Is written with the next commit, for which nobody waits; a kill before it loses the request. */
    public void leave(T request) {
        add(request);
    }

    private CompletableFuture<R> add(T request) {
        Waiting<T, R> mine = new Waiting<>(request, new CompletableFuture<>());
        waiting.add(mine);
        writer.execute(this::writeNext);
        return mine.answer();
    }

    /** Writes what is left. */
    @Override
    public void close() {
        writer.shutdown();
        try {
            writer.awaitTermination(1, TimeUnit.MINUTES);
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
        }
    }

    /** Asked for once by each request; most find that another's turn has taken theirs along. */
    private void writeNext() {
        List<Waiting<T, R>> group = new ArrayList<>();
        for (Waiting<T, R> next = waiting.poll(); next != null; next = waiting.poll()) {
            group.add(next);
            if (group.size() == MOST_AT_ONCE) {
                break;
            }
        }
        if (!group.isEmpty()) {
            write(group);
        }
    }

    private void write(List<Waiting<T, R>> group) {
        try {
            List<R> answers = write.apply(group.stream().map(Waiting::request).toList());
            for (int i = 0; i < group.size(); i++) {
                group.get(i).answer().complete(answers.get(i));
            }
        } catch (RuntimeException | Error e) {
            if (group.size() == 1) {
                group.get(0).answer().completeExceptionally(e);
            } else {
                // One of them is to blame: each is tried by itself, so that the others are kept.
                group.forEach(one -> write(List.of(one)));
            }
        }
    }
}
