package lucid.server.evidence;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.UnaryOperator;
import lucid.core.evidence.Evidence;
import lucid.formats.document.Content;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.RefusedDocumentException;
import lucid.server.intake.Arrival;
import lucid.server.intake.ContentTaker;
import lucid.server.intake.IntakeOutcome;
import lucid.server.intake.KeptDocuments;
import lucid.server.intake.ReadingDifference;
import lucid.server.intake.ReadingTaker;
import lucid.server.snapshot.Snapshot;
import org.springframework.stereotype.Component;

/** Documents that speak for or against updates, each as its {@link EvidenceKind} says; what was read is stored. */
@Component
class EvidenceReadings implements ReadingTaker {

    private final List<EvidenceKind<?>> kinds;
    private final EvidenceMapper mapper;
    private final KeptDocuments documents;

    EvidenceReadings(List<EvidenceKind<?>> kinds, EvidenceMapper mapper, KeptDocuments documents) {
        this.kinds = kinds;
        this.mapper = mapper;
        this.documents = documents;
    }

    @Override
    public Class<? extends Content> contents() {
        return Content.OfEvidence.class;
    }

    private EvidenceKind<?> kind(Content content) {
        return kinds.stream().filter(kind -> kind.is(content)).findFirst().orElseThrow();
    }

    @Override
    public Taken take(Snapshot snapshot, ReadDocument document, Arrival arrival) {
        return take(kind(document.content()), snapshot, document, arrival);
    }

    private <C extends Content.OfEvidence> Taken take(
            EvidenceKind<C> kind, Snapshot snapshot, ReadDocument document, Arrival arrival) {
        C said = kind.of(document.content());
        Evidence before = snapshot.evidence();
        if (kind.isOlder(before, said)) {
            return Taken.nothing(snapshot, IntakeOutcome.STALE, document.problems());
        }
        if (arrival.refusedBefore().isEmpty()) {
            requireWhole(kind, said, before);
        }
        List<Problem> problems = ContentTaker.join(document.problems(), remarks(kind, said, snapshot));
        Snapshot next = kind.with(snapshot, said);
        if (next.evidence().equals(before) || documents.isNewest(document.format(), arrival)) {
            return Taken.nothing(snapshot, IntakeOutcome.DUPLICATE, problems);
        }
        storeScores(before, next.evidence());
        return new Taken(next, IntakeOutcome.ACCEPTED, problems, Optional.empty(), true, number -> {
            kind.store(number, said);
            if (kind.listsInPlaceOfAll(said).isPresent()) {
                documents.forgetBefore(document.format(), number);
            }
        });
    }

    /** Scores of the vulnerabilities of known updates, where they changed. */
    private void storeScores(Evidence before, Evidence after) {
        after.scoreHistory().forEach((cve, history) -> {
            int known = before.scoreHistory().getOrDefault(cve, List.of()).size();
            history.subList(known, history.size()).forEach(mapper::addScore);
        });
    }

    /**
     * @throws RefusedDocumentException if it would take the place of one that lists more than twice as much: nobody
     *     said that it is whole
     */
    private static <C extends Content.OfEvidence> void requireWhole(EvidenceKind<C> kind, C said, Evidence known) {
        kind.listsInPlaceOfAll(said).ifPresent(lists -> {
            int before = kind.listed(known);
            if (2L * lists < before) {
                throw new RefusedDocumentException(
                        "",
                        "it lists " + lists + ", the one before " + before
                                + ": it may have been cut off. The one before still counts. Try it again to take it all the same");
            }
        });
    }

    /** What in a document does not count yet: it speaks of updates or hosts that nobody has told of. */
    private static <C extends Content.OfEvidence> List<Problem> remarks(
            EvidenceKind<C> kind, C said, Snapshot snapshot) {
        List<Problem> remarks = new ArrayList<>();
        kind.speaksOf(said).stream()
                .filter(id -> snapshot.catalogue().update(id).isEmpty())
                .forEach(id -> remarks.add(new Problem(
                        id.value(), "no update of this name is known; what is said of it counts once it is")));
        kind.speaksOfHosts(said).stream()
                .filter(name -> snapshot.fleet().host(name).isEmpty())
                .forEach(name ->
                        remarks.add(new Problem(name.value(), "no host of this name is known; it counts once it is")));
        return remarks;
    }

    @Override
    public UnaryOperator<Snapshot> load() {
        Snapshot told = Snapshot.EMPTY.with(Evidence.NONE);
        for (EvidenceKind<?> kind : kinds) {
            told = kind.load(told);
        }
        Evidence evidence = told.evidence();
        return snapshot -> snapshot.with(evidence.judged(snapshot.evidence().judgements()));
    }

    @Override
    public void store(long document, Content content) {
        store(kind(content), document, content);
    }

    private static <C extends Content.OfEvidence> void store(EvidenceKind<C> kind, long document, Content content) {
        kind.store(document, kind.of(content));
    }

    @Override
    public List<ReadingDifference> differences(long document, Content content) {
        return differences(kind(content), document, content);
    }

    private static <C extends Content.OfEvidence> List<ReadingDifference> differences(
            EvidenceKind<C> kind, long document, Content content) {
        Map<String, Record> before = kind.storedBySubject(document);
        Map<String, Record> now = kind.bySubject(kind.of(content));
        Set<String> subjects = new TreeSet<>(before.keySet());
        subjects.addAll(now.keySet());
        return subjects.stream()
                .flatMap(subject -> ReadingDifference.between(
                        subject,
                        Optional.ofNullable(before.get(subject)),
                        Optional.ofNullable(now.get(subject)).map(one -> kind.asStored(one, before.get(subject))))
                        .stream())
                .toList();
    }
}
