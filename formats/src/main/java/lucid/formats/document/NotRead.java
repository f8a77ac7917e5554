package lucid.formats.document;

import java.util.List;
import lucid.core.update.UnreadProduct;

/** Products of a document of which nobody can tell which hosts have them. */
public final class NotRead {

    private NotRead() {}

    /** All of them as one remark; what each is called stands with the update. */
    public static Problem problem(List<UnreadProduct> unread) {
        UnreadProduct first = unread.get(0);
        long names = unread.stream().map(UnreadProduct::family).distinct().count();
        return new Problem(
                first.place(),
                (names == 1
                                ? "one product could not be read, so nobody can tell which hosts have it: '"
                                : names
                                        + " products could not be read, so nobody can tell which hosts have them; the first is '")
                        + first.family() + "': " + first.reason());
    }
}
