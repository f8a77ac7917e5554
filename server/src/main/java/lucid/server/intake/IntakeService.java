package lucid.server.intake;

import java.security.Principal;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import lucid.core.version.VersionOrdering;
import lucid.formats.Content;
import lucid.formats.Documents;
import lucid.formats.Format;
import lucid.formats.Problem;
import lucid.formats.ReadDocument;
import lucid.formats.RefusedDocumentException;
import lucid.server.intake.DocumentMapper.NewDocument;
import lucid.server.intake.DocumentMapper.Outcome;
import lucid.server.record.RecordEntry;
import lucid.server.state.Picture;
import lucid.server.state.State;
import org.springframework.stereotype.Service;

/** Takes documents in: each by itself, so that the good ones of a batch are kept. */
@Service
class IntakeService {

    private static final int MOST_PROBLEMS = 1_000;

    private final State state;
    private final DocumentMapper documents;
    private final HostIntake hosts;
    private final Clock clock;

    IntakeService(State state, DocumentMapper documents, HostIntake hosts, Clock clock) {
        this.state = state;
        this.documents = documents;
        this.hosts = hosts;
        this.clock = clock;
    }

    /**
     * How one document fared.
     *
     * @param subject the update's identifier, the host's name, or how many
     * @param problems what was left out, or why it was refused
     */
    record Result(String name, Optional<Format> format, String subject, Outcome outcome, List<Problem> problems) {}

    /** Reads, stores and records one document. */
    Result take(String name, byte[] content, Principal sender) {
        ReadDocument document;
        try {
            document = Documents.read(content);
        } catch (RefusedDocumentException e) {
            return refuse(name, content, Optional.empty(), e.problems(), sender);
        }
        try {
            return state.write(picture -> take(picture, document, name, content, sender, clock.instant()));
        } catch (RefusedDocumentException e) {
            return refuse(name, content, Optional.of(document), e.problems(), sender);
        }
    }

    /** As {@link #take}, for the reports of hosts: one without any problem leaves no line on the Intake page. */
    Result takeReport(byte[] content, Principal sender) {
        ReadDocument document;
        try {
            document = Documents.read(content);
        } catch (RefusedDocumentException e) {
            return refuse("host report", content, Optional.empty(), e.problems(), sender);
        }
        if (!(document.content() instanceof Content.OfInventory inventory)) {
            return refuse("host report", content, Optional.of(document),
                    List.of(new Problem("", "only host inventories are taken here; send other documents to /api/documents")), sender);
        }
        return state.write(picture -> {
            State.Written<HostIntake.Taken> hostsTaken = hosts.take(picture, inventory.reports());
            List<Problem> problems = join(document.problems(), hostsTaken.answer().problems());
            if (!problems.isEmpty()) {
                keep(documentOf(document, "host report", content, hostsTaken.answer().taken() > 0 ? Outcome.TAKEN : Outcome.REFUSED, sender, clock.instant(), content), problems);
            }
            return new State.Written<>(hostsTaken.next(), new Result("host report", Optional.of(Format.INVENTORY), document.subject(),
                    hostsTaken.answer().taken() > 0 ? Outcome.TAKEN : problems.isEmpty() ? Outcome.KNOWN : Outcome.REFUSED, problems));
        });
    }

    private State.Written<Result> take(Picture picture, ReadDocument document, String name, byte[] content, Principal sender, Instant now) {
        if (document.content() instanceof Content.OfInventory inventory) {
            State.Written<HostIntake.Taken> taken = hosts.take(picture, inventory.reports());
            List<Problem> problems = join(document.problems(), taken.answer().problems());
            Outcome outcome = taken.answer().taken() > 0 ? Outcome.TAKEN : problems.isEmpty() ? Outcome.KNOWN : Outcome.REFUSED;
            return kept(taken.next(), document, name, content, outcome, problems, sender, now);
        }
        Outcome outcome = outcome(document, content);
        if (outcome != Outcome.TAKEN) {
            return kept(picture, document, name, content, outcome, document.problems(), sender, now);
        }
        return kept(next(picture, document, now), document, name, content, outcome, document.problems(), sender, now);
    }

    /** The same content twice changes nothing, and an older revision never replaces a newer one. */
    private Outcome outcome(ReadDocument document, byte[] content) {
        if (document.format() == Format.POPULATIONS) {
            return Outcome.TAKEN;
        }
        if (documents.taken(InventoryText.digest(content)) > 0) {
            return Outcome.KNOWN;
        }
        boolean older = documents.newestRevision(document.format(), document.subject())
                .filter(newest -> VersionOrdering.DOTTED.compare(document.revision(), newest) < 0)
                .isPresent();
        return older ? Outcome.OLDER : Outcome.TAKEN;
    }

    private static Picture next(Picture picture, ReadDocument document, Instant now) {
        try {
            if (document.content() instanceof Content.OfAdvisory advisory) {
                return picture.withUpdate(Optional.of(advisory.advisory()), Optional.empty(), now);
            }
            if (document.content() instanceof Content.OfNotice notice) {
                return picture.withUpdate(Optional.empty(), Optional.of(notice.notice()), now);
            }
            return picture.with(((Content.OfPopulations) document.content()).ladder());
        } catch (IllegalArgumentException e) {
            // Advisory and notice are sound by themselves, but say different things of one product.
            throw new RefusedDocumentException("", "it contradicts what is known of " + document.subject() + ": " + e.getMessage());
        }
    }

    private State.Written<Result> kept(Picture next, ReadDocument document, String name, byte[] content, Outcome outcome, List<Problem> problems, Principal sender, Instant now) {
        boolean storesContent = document.format() != Format.INVENTORY || outcome == Outcome.REFUSED;
        keep(documentOf(document, name, content, outcome, sender, now, storesContent ? content : null), problems);
        if (outcome == Outcome.TAKEN) {
            boolean update = document.format() == Format.CSAF || document.format() == Format.UPDATE_NOTICE;
            state.record(document.format() == Format.POPULATIONS ? RecordEntry.Kind.POPULATIONS : RecordEntry.Kind.IMPORT, update ? document.subject() : "", sender,
                    document.format().title() + " taken: " + document.subject()
                            + (document.revision().isEmpty() ? "" : ", revision " + document.revision())
                            + (problems.isEmpty() ? "." : "; " + problems.size() + " parts left out."));
        }
        return new State.Written<>(next, new Result(name, Optional.of(document.format()), document.subject(), outcome, problems));
    }

    private Result refuse(String name, byte[] content, Optional<ReadDocument> document, List<Problem> problems, Principal sender) {
        return state.write(picture -> {
            keep(new NewDocument(shortened(name), InventoryText.digest(content), document.map(ReadDocument::format).orElse(null),
                    document.map(ReadDocument::subject).orElse(""), "", Outcome.REFUSED, clock.instant(), sender.getName(),
                    content.length > Documents.LONGEST ? null : content), problems);
            state.record(RecordEntry.Kind.IMPORT, "", sender, "Refused: " + shortened(name) + ".");
            return new State.Written<>(picture, new Result(name, document.map(ReadDocument::format), document.map(ReadDocument::subject).orElse(""), Outcome.REFUSED, problems));
        });
    }

    private NewDocument documentOf(ReadDocument document, String name, byte[] content, Outcome outcome, Principal sender, Instant now, byte[] kept) {
        return new NewDocument(shortened(name), InventoryText.digest(content), document.format(), document.subject(), document.revision(),
                outcome, now, sender.getName(), kept);
    }

    private void keep(NewDocument document, List<Problem> problems) {
        documents.add(document);
        for (int i = 0; i < Math.min(problems.size(), MOST_PROBLEMS); i++) {
            documents.addProblem(document.number, i, cut(problems.get(i).place(), 1000), cut(problems.get(i).reason(), 4000));
        }
    }

    private static List<Problem> join(List<Problem> first, List<Problem> second) {
        List<Problem> all = new ArrayList<>(first);
        all.addAll(second);
        return all;
    }

    private static String shortened(String name) {
        return cut(name, 500);
    }

    private static String cut(String text, int longest) {
        return text.length() <= longest ? text : text.substring(0, longest - 1) + "…";
    }
}
