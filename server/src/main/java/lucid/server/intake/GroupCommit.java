package lucid.server.intake;

import java.util.ArrayList;
import java.util.List;
import java.util.Queue;
import java.util.concurrent.ConcurrentLinkedQueue;
import java.util.concurrent.locks.ReentrantLock;
import java.util.function.Function;

/**
 * Lets many requests share one commit. Who comes while a commit is under way waits, and the next commit takes all that wait; who comes
 * alone is written at once. Each is answered only after the commit that holds it.
 */
final class GroupCommit<T, R> {

    /** A commit takes no more than so many, so that nobody waits long behind a crowd. */
    private static final int MOST_AT_ONCE = 200;

    private final class Waiting {
        final T request;
        R answer;
        RuntimeException failure;
        boolean done;

        Waiting(T request) {
            this.request = request;
        }
    }

    private final Function<List<T>, List<R>> write;
    private final Queue<Waiting> waiting = new ConcurrentLinkedQueue<>();
    private final ReentrantLock writing = new ReentrantLock();

    /** @param write carries out all requests in one transaction and answers each, in their order; if it throws, nothing of them is kept */
    GroupCommit(Function<List<T>, List<R>> write) {
        this.write = write;
    }

    /** Answers after the commit; throws what the writing of this request throws. */
    R submit(T request) {
        Waiting mine = new Waiting(request);
        waiting.add(mine);
        writing.lock();
        try {
            while (!mine.done) {
                writeNext();
            }
        } finally {
            writing.unlock();
        }
        if (mine.failure != null) {
            throw mine.failure;
        }
        return mine.answer;
    }

    private void writeNext() {
        List<Waiting> group = new ArrayList<>();
        for (Waiting next = waiting.poll(); next != null; next = waiting.poll()) {
            group.add(next);
            if (group.size() == MOST_AT_ONCE) {
                break;
            }
        }
        try {
            write(group);
        } catch (RuntimeException e) {
            if (group.size() == 1) {
                group.get(0).failure = e;
            } else {
                // One of them is to blame: each is tried by itself, so that the others are kept.
                group.forEach(this::writeAlone);
            }
        }
        group.forEach(one -> one.done = true);
    }

    private void writeAlone(Waiting one) {
        try {
            write(List.of(one));
        } catch (RuntimeException e) {
            one.failure = e;
        }
    }

    private void write(List<Waiting> group) {
        List<R> answers = write.apply(group.stream().map(one -> one.request).toList());
        for (int i = 0; i < group.size(); i++) {
            group.get(i).answer = answers.get(i);
        }
    }
}
