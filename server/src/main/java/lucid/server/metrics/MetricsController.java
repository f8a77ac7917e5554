package lucid.server.metrics;

import io.prometheus.metrics.expositionformats.PrometheusTextFormatWriter;
import io.prometheus.metrics.model.snapshots.GaugeSnapshot;
import io.prometheus.metrics.model.snapshots.GaugeSnapshot.GaugeDataPointSnapshot;
import io.prometheus.metrics.model.snapshots.Labels;
import io.prometheus.metrics.model.snapshots.MetricSnapshots;
import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.ArrayList;
import java.util.EnumMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import lucid.core.carriage.Carriage;
import lucid.core.docket.Docket;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.Population;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.ruling.InForce;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Rating;
import lucid.core.update.Update;
import lucid.server.docket.Dockets;
import lucid.server.feeds.FeedHealth;
import lucid.server.intake.OpenDocuments;
import lucid.server.snapshot.Snapshot;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * Counts for outside monitors, in the text format of Prometheus (exposition format 0.0.4). None of them flaps: what a
 * host lacks is counted by its last known state, however long it has been silent, and daily content is left out.
 */
@RestController
class MetricsController {

    private static final Duration SOON = Duration.ofDays(7);

    private final Dockets dockets;
    private final OpenDocuments documents;
    private final FeedHealth feeds;
    private final Clock clock;
    /** What was computed last: the same snapshot has the same counts for a minute. */
    private volatile Computed computed;

    private record Computed(Snapshot snapshot, Instant minute, String text) {}

    MetricsController(Dockets dockets, OpenDocuments documents, FeedHealth feeds, Clock clock) {
        this.dockets = dockets;
        this.documents = documents;
        this.feeds = feeds;
        this.clock = clock;
    }

    @GetMapping(path = "/api/metrics", produces = PrometheusTextFormatWriter.CONTENT_TYPE)
    ResponseEntity<String> metrics(Snapshot snapshot) throws IOException {
        Instant now = clock.instant();
        Instant minute = Instant.ofEpochSecond(now.getEpochSecond() / 60 * 60);
        Computed known = computed;
        if (known == null || known.snapshot() != snapshot || !known.minute().equals(minute)) {
            known = new Computed(snapshot, minute, written(snapshot, now));
            computed = known;
        }
        return ResponseEntity.ok(known.text());
    }

    private String written(Snapshot snapshot, Instant now) throws IOException {
        List<GaugeSnapshot> all = new ArrayList<>();
        pending(snapshot, now, all);
        hosts(snapshot, now, all);
        decisions(snapshot, now, all);
        intake(snapshot, now, all);
        MetricSnapshots.Builder snapshots = MetricSnapshots.builder();
        all.forEach(snapshots::metricSnapshot);
        ByteArrayOutputStream out = new ByteArrayOutputStream();
        PrometheusTextFormatWriter.create().write(out, snapshots.build());
        return out.toString(StandardCharsets.UTF_8);
    }

    private static void pending(Snapshot snapshot, Instant now, List<GaugeSnapshot> all) {
        Map<Rating, RoaringBitmap> lacking = new EnumMap<>(Rating.class);
        Map<Rating, Integer> updates = new EnumMap<>(Rating.class);
        for (Update update : snapshot.catalogue().updates()) {
            if (!Docket.isNoise(update) && update.canBeOffered()) {
                Carriage carriage = snapshot.carriage(update, now);
                if (!carriage.lacking().isEmpty()) {
                    lacking.computeIfAbsent(update.rating(), rating -> new RoaringBitmap())
                            .or(carriage.lacking());
                    updates.merge(update.rating(), 1, Integer::sum);
                }
            }
        }
        GaugeSnapshot.Builder hosts =
                gauge("lucid_pending_hosts", "Hosts that lack at least one update of that rating, by last known state");
        for (Population entry : snapshot.fleet().ladder().entries()) {
            for (Rating rating : Rating.values()) {
                hosts.dataPoint(point(
                        RoaringBitmap.andCardinality(
                                lacking.getOrDefault(rating, new RoaringBitmap()),
                                snapshot.fleet().members(entry.id())),
                        "population",
                        entry.id().value(),
                        "rating",
                        word(rating)));
            }
        }
        all.add(hosts.build());
        GaugeSnapshot.Builder counted = gauge("lucid_pending_updates", "Updates of that rating that some host lacks");
        for (Rating rating : Rating.values()) {
            counted.dataPoint(point(updates.getOrDefault(rating, 0), "rating", word(rating)));
        }
        all.add(counted.build());
    }

    private static void hosts(Snapshot snapshot, Instant now, List<GaugeSnapshot> all) {
        Fleet fleet = snapshot.fleet();
        GaugeSnapshot.Builder counted = gauge("lucid_hosts", "Hosts, without retired ones");
        GaugeSnapshot.Builder unknown =
                gauge("lucid_unknown_hosts", "Hosts whose last report is older than three rhythms and three days");
        GaugeSnapshot.Builder overdue =
                gauge("lucid_overdue_hosts", "Hosts that lack an update that is forced and past due");
        RoaringBitmap late = new RoaringBitmap();
        InForce.at(snapshot.carriages(), snapshot.decisions(), now).stream()
                .filter(one -> one.decision() instanceof Verdict force && force.type() == VerdictType.FORCE)
                .forEach(one -> one.hosts().forEach((int host) -> {
                    if (!((Verdict) one.decision()).endFor(host).isAfter(now)) {
                        late.add(host);
                    }
                }));
        RoaringBitmap silent = fleet.unknownAt(now);
        for (Population entry : fleet.ladder().entries()) {
            RoaringBitmap members = fleet.members(entry.id());
            String id = entry.id().value();
            counted.dataPoint(point(members.getCardinality(), "population", id));
            unknown.dataPoint(point(RoaringBitmap.andCardinality(silent, members), "population", id));
            overdue.dataPoint(point(RoaringBitmap.andCardinality(late, members), "population", id));
        }
        all.add(counted.build());
        all.add(unknown.build());
        all.add(overdue.build());
        fleet.hosts(fleet.all())
                .map(Host::lastReport)
                .max(Instant::compareTo)
                .ifPresent(last -> all.add(
                        gauge("lucid_last_host_report_timestamp_seconds", "When the newest host report was taken")
                                .dataPoint(point(last.getEpochSecond()))
                                .build()));
    }

    private void decisions(Snapshot snapshot, Instant now, List<GaugeSnapshot> all) {
        long toJudge = dockets.current().docket().cases().stream()
                .filter(one -> one.needsJudgement() && !one.routine())
                .count();
        all.add(gauge("lucid_cases_to_judge", "Cases that need judgement, without routine ones")
                .dataPoint(point(toJudge))
                .build());
        List<ExceptionGrant> standing = snapshot.decisions().exceptions().stream()
                .filter(exception -> exception.standsAt(now))
                .toList();
        all.add(gauge("lucid_exceptions", "Exceptions that stand")
                .dataPoint(point(standing.size()))
                .build());
        all.add(gauge("lucid_ending_exceptions", "Exceptions that end within seven days")
                .dataPoint(point(standing.stream()
                        .filter(exception -> !exception.end().isAfter(now.plus(SOON)))
                        .count()))
                .build());
    }

    private void intake(Snapshot snapshot, Instant now, List<GaugeSnapshot> all) {
        all.add(gauge("lucid_open_documents", "Documents that were refused, are held or wait, and nobody has settled")
                .dataPoint(point(documents.count()))
                .build());
        all.add(gauge("lucid_updates_not_read", "Updates with products that could not be read")
                .dataPoint(point(snapshot.catalogue().updates().stream()
                        .filter(update -> !update.unread().isEmpty())
                        .count()))
                .build());
        GaugeSnapshot.Builder late =
                gauge("lucid_feed_seconds_since_success", "For how long a feed has brought nothing; -1: never yet");
        GaugeSnapshot.Builder failures = gauge("lucid_feed_failures", "Tries of a feed that failed in a row");
        feeds.all().forEach(feed -> {
            Optional<Duration> since = feed.succeeded().map(at -> Duration.between(at, now));
            late.dataPoint(point(since.map(Duration::toSeconds).orElse(-1L), "feed", feed.name()));
            failures.dataPoint(point(feed.failures(), "feed", feed.name()));
        });
        if (!feeds.all().isEmpty()) {
            all.add(late.build());
            all.add(failures.build());
        }
    }

    private static GaugeSnapshot.Builder gauge(String name, String help) {
        return GaugeSnapshot.builder().name(name).help(help);
    }

    /** @param labels names and values in turn */
    private static GaugeDataPointSnapshot point(double value, String... labels) {
        return GaugeDataPointSnapshot.builder()
                .value(value)
                .labels(Labels.of(labels))
                .build();
    }

    private static String word(Rating rating) {
        return rating.name().toLowerCase(Locale.ROOT);
    }
}
