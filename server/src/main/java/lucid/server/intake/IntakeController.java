package lucid.server.intake;

import java.io.IOException;
import java.io.InputStream;
import java.security.Principal;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import java.util.zip.GZIPInputStream;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.formats.Documents;
import lucid.formats.Format;
import lucid.formats.Problem;
import lucid.formats.Schemas;
import lucid.server.intake.DocumentMapper.Outcome;
import lucid.server.state.State;
import lucid.server.web.ProblemException;
import org.springframework.core.io.InputStreamResource;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.multipart.MultipartFile;

/** Documents and host reports come in here; what came in can be looked up. */
@RestController
@RequestMapping("/api")
class IntakeController {

    private static final int PAGE = 100;

    private final IntakeService intake;
    private final DocumentMapper documents;
    private final State state;
    private final Clock clock;

    IntakeController(IntakeService intake, DocumentMapper documents, State state, Clock clock) {
        this.intake = intake;
        this.documents = documents;
        this.state = state;
        this.clock = clock;
    }

    /** A document that came in. @param problems what was left out of it, or why it was refused */
    record Document(long number, String name, Optional<Format> format, Optional<String> formatTitle, String subject, String revision, Outcome outcome,
            Instant received, String sender, List<Problem> problems) {}

    /** @param lastHostReport when the newest host report was taken by its host, if any was */
    record DocumentPage(List<Document> documents, Optional<Long> next, int refused, int hosts, int unknownHosts, Optional<Instant> lastHostReport) {}

    /** Takes documents of any format that is read; each is taken or refused by itself. */
    @PostMapping(path = "/documents", consumes = MediaType.MULTIPART_FORM_DATA_VALUE)
    List<IntakeService.Result> take(@RequestParam("files") List<MultipartFile> files, Principal sender) throws IOException {
        List<IntakeService.Result> results = new ArrayList<>();
        for (MultipartFile file : files) {
            results.add(intake.take(Optional.ofNullable(file.getOriginalFilename()).orElse("document"), file.getBytes(), sender));
        }
        return results;
    }

    /** Takes a host inventory in JSON lines, plain or with {@code Content-Encoding: gzip}. */
    @PostMapping(path = "/reports", consumes = MediaType.ALL_VALUE)
    ResponseEntity<IntakeService.Result> report(@RequestBody InputStreamResource body, @RequestHeader(name = HttpHeaders.CONTENT_ENCODING, required = false) String encoding,
            Principal sender) throws IOException {
        IntakeService.Result result = intake.takeReport("gzip".equals(encoding) ? expanded(body.getInputStream()) : start(body.getInputStream()), sender);
        return ResponseEntity.status(result.outcome() == Outcome.REFUSED ? HttpStatus.UNPROCESSABLE_CONTENT : HttpStatus.OK).body(result);
    }

    /** One byte more than allowed is enough to be refused, however much there is or whatever it would expand to. */
    private static byte[] start(InputStream in) throws IOException {
        return in.readNBytes(Documents.LONGEST + 1);
    }

    private static byte[] expanded(InputStream body) {
        try (GZIPInputStream in = new GZIPInputStream(body)) {
            return start(in);
        } catch (IOException e) {
            throw ProblemException.badField("body", "the body is not whole gzip: " + e.getMessage());
        }
    }

    @GetMapping("/documents")
    DocumentPage page(@RequestParam Optional<Outcome> outcome, @RequestParam Optional<Long> before) {
        List<DocumentMapper.Row> rows = documents.page(outcome.orElse(null), before.orElse(null), PAGE + 1);
        boolean more = rows.size() > PAGE;
        List<DocumentMapper.Row> page = more ? rows.subList(0, PAGE) : rows;
        List<DocumentMapper.ProblemRow> problems = page.isEmpty() ? List.of() : documents.problems(page.get(page.size() - 1).number(), page.get(0).number());
        Fleet fleet = state.picture().fleet();
        return new DocumentPage(
                page.stream().map(row -> document(row, problems)).toList(),
                more ? Optional.of(page.get(PAGE - 1).number()) : Optional.empty(),
                documents.count(Outcome.REFUSED),
                fleet.all().getCardinality(),
                fleet.unknownAt(clock.instant()).getCardinality(),
                fleet.hosts(fleet.all()).map(Host::lastReport).max(Instant::compareTo));
    }

    private static Document document(DocumentMapper.Row row, List<DocumentMapper.ProblemRow> problems) {
        Optional<Format> format = Optional.ofNullable(row.format());
        return new Document(row.number(), row.name(), format, format.map(Format::title), row.subject(), row.revision(), row.outcome(), row.received(), row.sender(),
                problems.stream().filter(p -> p.document() == row.number()).map(p -> new Problem(p.place(), p.reason())).toList());
    }

    /** The document itself, as it came in; good host inventories are not kept. */
    @GetMapping(path = "/documents/{number}/content")
    ResponseEntity<byte[]> content(@PathVariable long number) {
        byte[] content = documents.content(number).stream().findFirst()
                .orElseThrow(() -> ProblemException.notFound("the content of document " + number + " is not kept"));
        return ResponseEntity.ok().contentType(MediaType.APPLICATION_OCTET_STREAM)
                .header(HttpHeaders.CONTENT_DISPOSITION, "attachment; filename=\"document-" + number + ".json\"").body(content);
    }

    /** The JSON Schemas of our own formats. */
    @GetMapping(path = "/schemas/{name}", produces = "application/schema+json")
    String schema(@PathVariable String name) {
        return Schemas.text(name).orElseThrow(() -> ProblemException.notFound("there is no schema " + name));
    }
}
