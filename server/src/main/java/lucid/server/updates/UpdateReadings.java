package lucid.server.updates;

import java.util.ArrayList;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.UnaryOperator;
import lucid.core.update.UpdateDocument;
import lucid.core.update.UpdateId;
import lucid.core.version.VersionOrdering;
import lucid.formats.document.Content;
import lucid.formats.document.Format;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.RefusedDocumentException;
import lucid.server.intake.Arrival;
import lucid.server.intake.IntakeOutcome;
import lucid.server.intake.KeptDocuments;
import lucid.server.intake.ReadingDifference;
import lucid.server.intake.ReadingTaker;
import lucid.server.intake.SharingLimit;
import lucid.server.snapshot.Snapshot;
import org.springframework.stereotype.Component;

/**
 * Updates, as advisories and notices tell of them. Each revision that counted is stored as it was read; at start they
 * are put together again in their order, since each revision builds on the one before.
 */
@Component
public class UpdateReadings implements ReadingTaker {

    private final StoredReadings stored;
    private final ReadingMapper mapper;
    private final KeptDocuments documents;
    private final SharingLimit sharing;

    UpdateReadings(StoredReadings stored, ReadingMapper mapper, KeptDocuments documents, SharingLimit sharing) {
        this.sharing = sharing;
        this.stored = stored;
        this.mapper = mapper;
        this.documents = documents;
    }

    /** Fingerprint of the trusted key that signed the newest advisory of an update; empty if it was not checked. */
    public Optional<String> signedBy(UpdateId update) {
        return mapper.newestAdvisory(update).flatMap(documents::signedBy);
    }

    @Override
    public Class<? extends Content> contents() {
        return Content.OfUpdates.class;
    }

    private static List<? extends UpdateDocument> parts(Content content) {
        return ((Content.OfUpdates) content).documents();
    }

    /**
     * The same content twice changes nothing, and an older revision never replaces a newer one. Other content under the
     * same revision is refused until a person takes it: which of both is true nobody can tell.
     */
    @Override
    public Taken take(Snapshot snapshot, ReadDocument document, Arrival arrival) {
        if (documents.wasAccepted(arrival)) {
            return Taken.nothing(snapshot, IntakeOutcome.DUPLICATE, document.problems());
        }
        List<Problem> problems = new ArrayList<>(document.problems());
        List<UpdateDocument> counted = new ArrayList<>();
        Snapshot next = snapshot;
        boolean older = false;
        for (UpdateDocument part : parts(document.content())) {
            if (isOlder(document.format(), part)) {
                older = true;
            } else if (!snapshot.documents().getOrDefault(part.id(), List.of()).contains(part)) {
                try {
                    sharing.require(part);
                    requireOneContent(snapshot, document.format(), part, arrival);
                    next = with(next, part, arrival);
                    counted.add(part);
                } catch (RefusedDocumentException e) {
                    problems.addAll(e.problems());
                }
            }
        }
        if (counted.isEmpty() && problems.size() > document.problems().size()) {
            throw new RefusedDocumentException(problems);
        }
        return new Taken(
                next,
                !counted.isEmpty() ? IntakeOutcome.ACCEPTED : older ? IntakeOutcome.STALE : IntakeOutcome.DUPLICATE,
                problems,
                counted.size() == 1 ? Optional.of(counted.get(0).id()) : Optional.empty(),
                true,
                number -> counted.forEach(part -> stored.store(number, part)));
    }

    /** A list of many updates has the instant of its last change for each; there the newer list counts. */
    private void requireOneContent(Snapshot snapshot, Format format, UpdateDocument part, Arrival arrival) {
        boolean differs = snapshot.documents().getOrDefault(part.id(), List.of()).stream()
                .anyMatch(
                        known -> part.takesThePlaceOf(known) && known.revision().equals(part.revision()));
        if (differs && format != Format.UPDATEINFO && arrival.refusedBefore().isEmpty() && !isReadSo(format, part)) {
            throw new RefusedDocumentException(
                    "",
                    "revision " + part.revision() + " of " + part.id()
                            + " was read before with other content, and the revision is the same; what was read before counts on, and 'Try again' takes this one in its place");
        }
    }

    /** True if what came before says the same to the reader of today, who may have learned since. */
    private boolean isReadSo(Format format, UpdateDocument part) {
        try {
            return mapper.newestDocument(format, part.id())
                    .filter(number -> parts(documents.readAgain(number)).contains(part))
                    .isPresent();
        } catch (RefusedDocumentException e) {
            return false;
        }
    }

    private boolean isOlder(Format format, UpdateDocument part) {
        return mapper.newestRevision(format, part.id())
                .filter(newest -> VersionOrdering.DOTTED.compare(part.revision(), newest) < 0)
                .isPresent();
    }

    private static Snapshot with(Snapshot snapshot, UpdateDocument part, Arrival arrival) {
        try {
            return snapshot.with(part, arrival.hints().received());
        } catch (IllegalArgumentException e) {
            // Advisory and notice are sound by themselves, but say different things of one product.
            throw new RefusedDocumentException(
                    "", "it contradicts what is known of " + part.id() + ": " + e.getMessage());
        }
    }

    @Override
    public UnaryOperator<Snapshot> load() {
        Map<UpdateId, List<Snapshot.Reading>> readings = new LinkedHashMap<>();
        stored.all()
                .forEach(reading -> readings.computeIfAbsent(reading.content().id(), id -> new ArrayList<>())
                        .add(new Snapshot.Reading(reading.content(), reading.read())));
        return snapshot -> snapshot.withUpdates(readings);
    }

    /** Only of those updates of which the document counted. */
    @Override
    public void store(long document, Content content) {
        Set<String> counted = new HashSet<>(mapper.updatesOf(document));
        parts(content).stream()
                .filter(part -> counted.contains(part.id().value()))
                .forEach(part -> stored.store(document, part));
    }

    @Override
    public List<ReadingDifference> differences(long document, Content content) {
        Map<UpdateId, UpdateDocument> now = new HashMap<>();
        parts(content).forEach(part -> now.put(part.id(), part));
        List<ReadingDifference> differences = new ArrayList<>();
        for (StoredReadings.Stored reading : stored.of(document)) {
            UpdateDocument before = reading.content();
            differences.addAll(ReadingDifference.between(
                    before.id().value(), Optional.of(before), Optional.ofNullable(now.get(before.id()))));
        }
        return differences;
    }
}
