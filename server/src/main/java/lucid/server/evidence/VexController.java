package lucid.server.evidence;

import java.time.Clock;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import lucid.core.carriage.Carriage;
import lucid.core.evidence.NotAffectedNote;
import lucid.core.update.PackageReference;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.core.update.Vulnerability;
import lucid.formats.vex.CsafVexWriter;
import lucid.formats.vex.OpenVexWriter;
import lucid.formats.vex.OwnNote;
import lucid.server.snapshot.Snapshot;
import lucid.server.web.ProblemException;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.http.HttpHeaders;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.servlet.support.ServletUriComponentsBuilder;

/** What is noted here not to matter on hosts, in the formats in which others read such statements. */
@RestController
@RequestMapping("/api/cases/{id}")
class VexController {

    private static final String PUBLISHER = "Whoever runs this Lucid Verdict";

    private final Clock clock;

    VexController(Clock clock) {
        this.clock = clock;
    }

    @GetMapping(path = "/openvex", produces = "application/json")
    ResponseEntity<String> openVex(@PathVariable UpdateId id, Snapshot snapshot) {
        Update update = snapshot.update(id);
        return file(
                "openvex-" + fileName(id),
                OpenVexWriter.write(id.value(), PUBLISHER, notes(update, snapshot), clock.instant()));
    }

    @GetMapping(path = "/csaf-vex", produces = "application/json")
    ResponseEntity<String> csafVex(@PathVariable UpdateId id, Snapshot snapshot) {
        Update update = snapshot.update(id);
        return file(
                "csaf-vex-" + fileName(id),
                CsafVexWriter.write(
                        id.value(),
                        update.title(),
                        PUBLISHER,
                        ServletUriComponentsBuilder.fromCurrentContextPath()
                                .build()
                                .toUriString(),
                        notes(update, snapshot),
                        clock.instant()));
    }

    private static String fileName(UpdateId id) {
        return id.value().replaceAll("[^A-Za-z0-9.-]", "_") + ".json";
    }

    private static ResponseEntity<String> file(String name, String text) {
        return ResponseEntity.ok()
                .header(HttpHeaders.CONTENT_DISPOSITION, "attachment; filename=\"" + name + "\"")
                .body(text);
    }

    /** Those that stand and are true of some host, with the hosts that lack the update. */
    private List<OwnNote> notes(Update update, Snapshot snapshot) {
        Instant now = clock.instant();
        List<String> vulnerabilities = update.vulnerabilities().stream()
                .map(Vulnerability::id)
                .sorted()
                .toList();
        Carriage carriage = snapshot.carriage(update, now);
        List<OwnNote> notes = snapshot.evidence().notesOn(update.id()).stream()
                .filter(NotAffectedNote::stands)
                .map(note -> new OwnNote(
                        note.number(),
                        vulnerabilities,
                        note.reason(),
                        note.hosts().toString(),
                        note.author(),
                        note.createdAt(),
                        hosts(update, snapshot.fleet().matching(note.hosts(), carriage.lacking()), snapshot)))
                .filter(note -> !note.hosts().isEmpty())
                .toList();
        if (notes.isEmpty() || vulnerabilities.isEmpty()) {
            throw ProblemException.notFound(
                    "no note on " + update.id() + " says of hosts that lack it that they are not affected");
        }
        return notes;
    }

    private static List<OwnNote.OnHost> hosts(Update update, RoaringBitmap hosts, Snapshot snapshot) {
        return snapshot.fleet()
                .hosts(hosts)
                .map(host -> new OwnNote.OnHost(
                        host.name(),
                        update.fixes().stream()
                                .flatMap(fix -> host.spokenOf(fix).stream())
                                .map(one -> new PackageReference(
                                        one.product().build(),
                                        Optional.of(one.product().version())))
                                .distinct()
                                .toList()))
                .toList();
    }
}
