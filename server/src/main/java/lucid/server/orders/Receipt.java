package lucid.server.orders;

import java.util.List;
import java.util.Optional;
import lucid.core.order.HeardBy.Became;

/**
 * What a host says of its orders.
 *
 * @param serial of the orders that it keeps
 * @param tag of them, as it got them
 * @param state what became of them
 * @param installs true if it installs by itself what is due
 * @param reporter version of the program that says so
 * @param notInForce identifiers of the updates of which orders are not in force, as far as the host can tell
 * @param problems why not everything is in force as ordered, or why newer orders were refused, in words
 */
record Receipt(
        long serial,
        String tag,
        Became state,
        boolean installs,
        String reporter,
        List<String> notInForce,
        List<String> problems) {

    private static final int MOST_PROBLEMS = 20;
    private static final int MOST_UPDATES = 200;
    private static final int LONGEST = 300;

    Receipt {
        problems = Optional.ofNullable(problems).orElse(List.of()).stream()
                .limit(MOST_PROBLEMS)
                .map(problem -> shortened(problem.strip()))
                .toList();
        notInForce = Optional.ofNullable(notInForce).orElse(List.of()).stream()
                .limit(MOST_UPDATES)
                .map(Receipt::shortened)
                .toList();
        reporter = shortened(Optional.ofNullable(reporter).orElse(""));
        tag = shortened(Optional.ofNullable(tag).orElse(""));
    }

    private static String shortened(String text) {
        return text.length() <= LONGEST ? text : text.substring(0, LONGEST - 1) + "…";
    }
}
