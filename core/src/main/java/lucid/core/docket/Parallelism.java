package lucid.core.docket;

import java.util.List;
import java.util.function.Function;

/** How work on parts that do not touch each other is spread over cores: core itself starts no threads. */
public interface Parallelism {

    /** One after the other, on the thread that asks. */
    Parallelism NONE = new Parallelism() {
        @Override
        public <A, B> List<B> each(List<A> parts, Function<A, B> work) {
            return parts.stream().map(work).toList();
        }
    };

    /** The result for each part, in the order of the parts; parts may be worked on at the same time. */
    <A, B> List<B> each(List<A> parts, Function<A, B> work);
}
