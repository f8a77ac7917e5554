package lucid.server.feeds;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.springframework.stereotype.Component;

/** Whether what is fetched on a schedule comes. */
@Component
public class FeedHealth {

    private final FeedMapper feeds;

    FeedHealth(FeedMapper feeds) {
        this.feeds = feeds;
    }

    /** @param failures tries that failed in a row */
    public record Health(String name, Optional<Instant> succeeded, int failures) {}

    public List<Health> all() {
        return feeds.all().stream()
                .map(feed -> new Health(feed.name(), Optional.ofNullable(feed.succeeded()), feed.failures()))
                .toList();
    }
}
