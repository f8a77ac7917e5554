package lucid.server.intake;

import java.time.Clock;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.formats.Documents;
import lucid.formats.document.Content;
import lucid.formats.document.Format;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.RefusedDocumentException;
import lucid.server.access.Bringer;
import lucid.server.audit.AuditEntry;
import lucid.server.mappings.StoredMappings;
import lucid.server.snapshot.RequestKey;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.web.Digests;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Service;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.json.JsonMapper;

/** Takes documents in: each by itself, so that the good ones of a batch are kept. */
@Service
public class IntakeService {

    private static final TypeReference<Map<String, String>> COLUMNS = new TypeReference<>() {};

    private final SnapshotStore store;
    private final DocumentMapper mapper;
    private final KeptDocuments documents;
    private final List<ContentTaker> takers;
    private final StoredMappings mappings;
    private final JsonMapper json;
    private final Clock clock;

    IntakeService(
            SnapshotStore store,
            DocumentMapper mapper,
            KeptDocuments documents,
            List<ContentTaker> takers,
            StoredMappings mappings,
            JsonMapper json,
            Clock clock) {
        this.store = store;
        this.mapper = mapper;
        this.documents = documents;
        this.takers = takers;
        this.mappings = mappings;
        this.json = json;
        this.clock = clock;
    }

    private Arrival arrival(Incoming incoming, Bringer sender, Optional<RequestKey> key, Optional<Long> refusedBefore) {
        Optional<String> namespace = incoming.namespace().or(this::onlyNamespace);
        return new Arrival(
                incoming,
                new ReadingHints(namespace, incoming.distro(), incoming.columns(), mappings.inUse(), clock.instant()),
                sender,
                key,
                refusedBefore);
    }

    /** Where all rpm hosts report packages of one namespace, an updateinfo is of that. */
    private Optional<String> onlyNamespace() {
        List<String> namespaces = namespaces();
        return namespaces.size() == 1 ? Optional.of(namespaces.get(0)) : Optional.empty();
    }

    /** Namespaces of the rpm packages that hosts report. */
    List<String> namespaces() {
        return store.snapshot().carriages().installed().products().stream()
                .filter(product -> product.type().equals("rpm"))
                .map(product -> product.namespace())
                .filter(n -> !n.isEmpty())
                .distinct()
                .sorted()
                .toList();
    }

    /** Reads, stores and records one document. */
    public IntakeResult take(Incoming incoming, Bringer sender, Optional<RequestKey> key) {
        return take(arrival(incoming, sender, key, Optional.empty()));
    }

    /**
     * As {@link #take}, as a part of a change that somebody else makes.
     *
     * @throws RefusedDocumentException if it is refused; then nothing of it is kept
     */
    public SnapshotStore.Change<IntakeResult> within(Snapshot snapshot, Incoming incoming, Bringer sender) {
        Arrival arrival = arrival(incoming, sender, Optional.empty(), Optional.empty());
        return take(snapshot, Documents.read(incoming.content(), arrival.hints()), arrival);
    }

    private IntakeResult take(Arrival arrival) {
        ReadDocument document;
        try {
            document = Documents.read(arrival.incoming().content(), arrival.hints());
            if (document.content() instanceof Content.OfRepository) {
                throw new RefusedDocumentException(
                        "",
                        "this only says where the updateinfo of the repository lies; bring both together, or give this file to 'lucid import', which follows it");
            }
        } catch (RefusedDocumentException e) {
            return refuse(arrival, Optional.empty(), e.problems());
        }
        return take(arrival, document);
    }

    private IntakeResult take(Arrival arrival, ReadDocument document) {
        try {
            return store.writeOnce(
                    arrival.key(), arrival.length(), IntakeResult.class, snapshot -> take(snapshot, document, arrival));
        } catch (RefusedDocumentException e) {
            return refuse(arrival, Optional.of(document), e.problems());
        }
    }

    /**
     * Keeps a document that is not trusted, with the reason; it cannot be tried again, only fetched anew.
     *
     * @param reason why its hash or signature does not make it trustworthy
     */
    public IntakeResult hold(Incoming incoming, String reason, Bringer sender) {
        Arrival arrival = arrival(incoming, sender, Optional.empty(), Optional.empty());
        return store.write(snapshot -> new SnapshotStore.Change<>(snapshot, documents.keepHeld(arrival, reason)));
    }

    /** True if this very content came in before, whatever became of it. */
    public boolean isKnown(byte[] content) {
        return mapper.timesSeen(Digests.sha256(content)) > 0;
    }

    private SnapshotStore.Change<IntakeResult> take(Snapshot snapshot, ReadDocument document, Arrival arrival) {
        // The one place that all documents pass, whichever way they come.
        requireMayBring(arrival.sender(), document.format());
        ContentTaker.Taken taken = takers.stream()
                .filter(taker -> taker.takes(document.content()))
                .findFirst()
                .orElseThrow()
                .take(snapshot, document, arrival);
        return new SnapshotStore.Change<>(taken.next(), documents.keep(document, arrival, taken));
    }

    /** @throws RefusedDocumentException if it is none of the formats that the sender may bring */
    public static void requireMayBring(Bringer sender, Format format) {
        if (!sender.formats().contains(format)) {
            throw new RefusedDocumentException(
                    "",
                    sender.getName() + " may not bring this: " + format.title()
                            + ". Somebody who may can take it with 'Try again', or an administrator lets the sender bring it on the page Access");
        }
    }

    private IntakeResult refuse(Arrival arrival, Optional<ReadDocument> document, List<Problem> problems) {
        return store.writeOnce(
                arrival.key(),
                arrival.length(),
                IntakeResult.class,
                snapshot -> new SnapshotStore.Change<>(snapshot, documents.keepRefused(arrival, document, problems)));
    }

    /** Files that came together: the index of a repository tells whether the updateinfo beside it is whole. */
    List<IntakeResult> takeBatch(List<Incoming> files, Bringer sender, List<Optional<RequestKey>> keys) {
        RepositoryBatch repository = RepositoryBatch.of(files);
        List<IntakeResult> results = new ArrayList<>();
        for (int i = 0; i < files.size(); i++) {
            Incoming file = files.get(i);
            Optional<RequestKey> key = keys.get(i);
            results.add(repository
                    .problem(file)
                    .map(problem ->
                            refuse(arrival(file, sender, key, Optional.empty()), Optional.empty(), List.of(problem)))
                    .or(() -> repository
                            .index(file)
                            .map(index -> store.writeOnce(
                                    key,
                                    file.content().length,
                                    IntakeResult.class,
                                    snapshot -> new SnapshotStore.Change<>(
                                            snapshot,
                                            documents.keep(
                                                    index,
                                                    arrival(file, sender, key, Optional.empty()),
                                                    ContentTaker.Taken.nothing(
                                                            snapshot, IntakeOutcome.ACCEPTED, List.of()))))))
                    .orElseGet(() -> take(file, sender, key)));
        }
        return results;
    }

    /**
     * Takes a refused document once more, after what was missing has come or is told now.
     *
     * @throws ProblemException 404 if it is not kept, 409 if it was taken since
     */
    IntakeResult tryAgain(
            long number,
            Optional<String> namespace,
            Optional<String> distro,
            Map<String, String> columns,
            Bringer sender) {
        DocumentMapper.Kept kept =
                mapper.kept(number).orElseThrow(() -> ProblemException.notFound("document " + number + " is not kept"));
        if (mapper.isSettled(number)) {
            throw new ProblemException(
                    HttpStatus.CONFLICT, "number", "document " + number + " is not waiting to be tried again");
        }
        if (kept.format() == Format.POPULATIONS) {
            throw new ProblemException(
                    HttpStatus.CONFLICT, "number", "populations are looked at on Populations, and saved there");
        }
        if (mapper.isDistrusted(number)) {
            throw new ProblemException(
                    HttpStatus.CONFLICT,
                    "number",
                    "document " + number
                            + " is held because it is not trusted; it is fetched anew when its provider or the trusted keys have changed");
        }
        Map<String, String> told =
                columns.isEmpty() && kept.columns() != null ? json.readValue(kept.columns(), COLUMNS) : columns;
        Incoming again = new Incoming(
                kept.name(),
                kept.content(),
                namespace.or(() -> Optional.ofNullable(kept.namespace())),
                distro.or(() -> Optional.ofNullable(kept.distro())),
                told);
        return take(arrival(again, sender, Optional.empty(), Optional.of(number)));
    }

    /**
     * Puts a document aside that was refused or waits: it no longer counts as open, and its content is forgotten.
     *
     * @param words why; may be empty
     * @throws ProblemException 409 if it does not wait for anything
     */
    void dismiss(long number, String words, Bringer who) {
        store.write(snapshot -> {
            if (mapper.dismiss(number, who.getName(), clock.instant()) == 0) {
                throw new ProblemException(
                        HttpStatus.CONFLICT, "number", "document " + number + " is not open any more");
            }
            store.record(
                    AuditEntry.Kind.IMPORT,
                    "",
                    who,
                    "Put aside: document " + number + ", " + mapper.name(number)
                            + (words.isEmpty() ? "." : ", because " + words + "."));
            return new SnapshotStore.Change<>(snapshot, true);
        });
    }
}
