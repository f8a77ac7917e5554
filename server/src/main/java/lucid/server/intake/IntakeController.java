package lucid.server.intake;

import java.io.IOException;
import java.time.Clock;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import java.util.Objects;
import java.util.Optional;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.update.ProductMappings;
import lucid.formats.Documents;
import lucid.formats.document.Format;
import lucid.formats.document.Limits;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.RefusedDocumentException;
import lucid.formats.document.Schemas;
import lucid.formats.table.HostTableReader;
import lucid.server.access.Caller;
import lucid.server.access.Role;
import lucid.server.fetch.OutboundClient;
import lucid.server.snapshot.RequestKey;
import lucid.server.snapshot.RequestKeys;
import lucid.server.snapshot.Snapshot;
import lucid.server.web.Digests;
import lucid.server.web.ProblemException;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;
import org.springframework.web.multipart.MultipartFile;
import tools.jackson.core.JacksonException;
import tools.jackson.core.type.TypeReference;
import tools.jackson.databind.json.JsonMapper;

/** Documents and host reports come in here; what came in can be looked up. */
@RestController
@RequestMapping("/api")
class IntakeController {

    private static final int PAGE = 100;
    private static final int LONGEST_WORDS = 1000;
    private static final TypeReference<Map<String, String>> COLUMNS = new TypeReference<>() {};

    private final IntakeService intake;
    private final DocumentMapper documents;
    private final DocumentReadings readings;
    private final SharingLimit sharing;
    private final OutboundClient outbound;
    private final RequestKeys requestKeys;
    private final JsonMapper json;
    private final Clock clock;

    IntakeController(
            IntakeService intake,
            DocumentMapper documents,
            DocumentReadings readings,
            SharingLimit sharing,
            OutboundClient outbound,
            RequestKeys requestKeys,
            JsonMapper json,
            Clock clock) {
        this.intake = intake;
        this.documents = documents;
        this.readings = readings;
        this.sharing = sharing;
        this.outbound = outbound;
        this.requestKeys = requestKeys;
        this.json = json;
        this.clock = clock;
    }

    /**
     * A document that came in.
     *
     * @param kept true if the document itself can be had
     * @param triedAgain of a refused one: the number of the document that it became
     * @param signedBy fingerprint of the trusted key that signed it, where that was checked
     * @param distrusted true if it is held because no trusted key signed it, or it was altered
     * @param dismissedBy who put it aside, if somebody did
     * @param problems what was left out of it, or why it was refused
     */
    record Document(
            long number,
            String name,
            Optional<Format> format,
            Optional<String> formatTitle,
            String subject,
            String revision,
            IntakeOutcome outcome,
            Instant received,
            String sender,
            boolean kept,
            Optional<Long> triedAgain,
            Optional<String> signedBy,
            boolean distrusted,
            Optional<String> dismissedBy,
            List<Problem> problems) {}

    /**
     * @param lastHostReport when the newest host report was taken by its host, if any was
     * @param namespaces namespaces of the rpm packages that hosts report
     */
    record DocumentPage(
            List<Document> documents,
            Optional<Long> next,
            int refused,
            int hosts,
            int unknownHosts,
            Optional<Instant> lastHostReport,
            List<String> namespaces) {}

    /** Takes documents of any format that is read; each is taken or refused by itself. */
    @PostMapping(path = "/documents", consumes = MediaType.MULTIPART_FORM_DATA_VALUE)
    List<IntakeResult> take(
            @RequestParam("files") List<MultipartFile> files,
            @RequestParam Optional<String> namespace,
            @RequestParam Optional<String> distro,
            @RequestParam Optional<String> columns,
            @RequestHeader(name = "Idempotency-Key", required = false) String key,
            @AuthenticationPrincipal Caller sender)
            throws IOException {
        Map<String, String> uses = columns(columns);
        List<Incoming> incoming = new ArrayList<>();
        List<Optional<RequestKey>> keys = new ArrayList<>();
        for (MultipartFile file : files) {
            byte[] content = file.getBytes();
            incoming.add(new Incoming(
                    Optional.ofNullable(file.getOriginalFilename())
                            .filter(n -> !n.isBlank())
                            .orElse("document"),
                    content,
                    namespace,
                    distro,
                    uses));
            keys.add(requestKeys.of(
                    key, sender, "document " + keys.size(), List.of(Digests.sha256(content), namespace, distro, uses)));
        }
        return intake.takeBatch(incoming, sender, keys);
    }

    private Map<String, String> columns(Optional<String> text) {
        try {
            return text.filter(t -> !t.isBlank())
                    .map(t -> json.readValue(t, COLUMNS))
                    .orElse(Map.of());
        } catch (JacksonException e) {
            throw ProblemException.badField("columns", "expected a JSON object of headings and what each column is");
        }
    }

    /** Shows what a table of hosts would be read as; nothing is kept. */
    @PostMapping(path = "/documents/preview", consumes = MediaType.MULTIPART_FORM_DATA_VALUE)
    HostTableReader.Preview preview(@RequestParam("file") MultipartFile file, @RequestParam Optional<String> columns)
            throws IOException {
        try {
            return Documents.preview(
                    file.getBytes(),
                    new ReadingHints(
                            Optional.empty(),
                            Optional.empty(),
                            columns(columns),
                            ProductMappings.NONE,
                            clock.instant()));
        } catch (RefusedDocumentException e) {
            throw ProblemException.badField("file", e.getMessage());
        }
    }

    /** @param address http or https */
    record Fetch(String address, Optional<String> namespace, Optional<String> distro) {}

    /** Fetches a document from an address and takes it. */
    @PostMapping("/documents/imports")
    IntakeResult fetch(@RequestBody Fetch fetch, @AuthenticationPrincipal Caller sender) {
        OutboundClient.Fetched fetched =
                outbound.fetch(Optional.ofNullable(fetch.address()).orElse(""), Limits.LONGEST_DOCUMENT);
        return intake.take(
                new Incoming(fetched.name(), fetched.content(), fetch.namespace(), fetch.distro(), Map.of()),
                sender,
                Optional.empty());
    }

    /** What its sender knows now and did not tell the first time. */
    record Trial(Optional<String> namespace, Optional<String> distro, Map<String, String> columns) {}

    /** Takes a refused document once more. */
    @PostMapping("/documents/{number}/retries")
    IntakeResult tryAgain(@PathVariable long number, @RequestBody Trial trial, @AuthenticationPrincipal Caller sender) {
        return intake.tryAgain(
                number,
                trial.namespace(),
                trial.distro(),
                Optional.ofNullable(trial.columns()).orElse(Map.of()),
                sender);
    }

    /** @param words why it is put aside; may be left out */
    record Dismissal(Optional<String> words) {}

    /** Puts a refused or waiting document aside: it is not asked about again. */
    @PostMapping("/documents/{number}/dismissals")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void dismiss(@PathVariable long number, @RequestBody Dismissal dismissal, @AuthenticationPrincipal Caller who) {
        String words = dismissal.words().map(String::strip).orElse("");
        if (!words.isEmpty()) {
            ProblemException.requireLine("words", words, LONGEST_WORDS, "");
        }
        intake.dismiss(number, words, who);
    }

    /** Kept documents that a newer reader reads otherwise than they count, at most fifty of them. */
    @GetMapping("/documents/readings")
    List<DocumentReadings.ReadOtherwise> readOtherwise() {
        return readings.readOtherwise();
    }

    /** Lets all documents that are read otherwise count as they are read now. */
    @PostMapping("/documents/readings")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void settleReadings(@AuthenticationPrincipal Caller who) {
        readings.settleAll(who);
    }

    /** @param asReadNow true: it counts as it is read now; false: it counts on as it was read before */
    record Reading(boolean asReadNow) {}

    /** Settles how a document counts that is read otherwise. */
    @PostMapping("/documents/{number}/readings")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void settleReading(@PathVariable long number, @RequestBody Reading reading, @AuthenticationPrincipal Caller who) {
        readings.settle(number, reading.asReadNow(), who);
    }

    @GetMapping("/documents")
    DocumentPage page(
            @RequestParam Optional<IntakeOutcome> outcome, @RequestParam Optional<Long> before, Snapshot snapshot) {
        List<DocumentMapper.Row> rows = documents.page(outcome.orElse(null), before.orElse(null), PAGE + 1);
        boolean more = rows.size() > PAGE;
        List<DocumentMapper.Row> page = more ? rows.subList(0, PAGE) : rows;
        List<DocumentMapper.ProblemRow> problems = page.isEmpty()
                ? List.of()
                : documents.problems(
                        page.get(page.size() - 1).number(), page.get(0).number());
        Fleet fleet = snapshot.fleet();
        return new DocumentPage(
                page.stream().map(row -> document(row, problems)).toList(),
                more ? Optional.of(page.get(PAGE - 1).number()) : Optional.empty(),
                documents.refused(),
                fleet.all().getCardinality(),
                fleet.unknownAt(clock.instant()).getCardinality(),
                fleet.hosts(fleet.all()).map(Host::lastReport).max(Instant::compareTo),
                intake.namespaces());
    }

    private static Document document(DocumentMapper.Row row, List<DocumentMapper.ProblemRow> problems) {
        Optional<Format> format = Optional.ofNullable(row.format());
        return new Document(
                row.number(),
                row.name(),
                format,
                format.map(Format::title),
                row.subject(),
                row.revision(),
                row.outcome(),
                row.received(),
                row.sender(),
                row.hasContent(),
                Optional.ofNullable(row.triedAgain()),
                Optional.ofNullable(row.signedBy()),
                row.distrusted(),
                Optional.ofNullable(row.dismissedBy()),
                problems.stream()
                        .filter(p -> p.document() == row.number())
                        .map(p -> new Problem(p.place(), p.reason()))
                        .toList());
    }

    /**
     * The document itself, as it came in; good host inventories are not kept. What is held because fewer people may see
     * it goes to administrators only, who may also allow it.
     */
    @GetMapping(path = "/documents/{number}/content")
    ResponseEntity<byte[]> content(@PathVariable long number, @AuthenticationPrincipal Caller who) {
        byte[] content = documents.content(number).stream()
                .filter(Objects::nonNull)
                .findFirst()
                .orElseThrow(() -> ProblemException.notFound("the content of document " + number + " is not kept"));
        boolean decides = who instanceof Caller.Person person && person.role() == Role.ADMINISTRATOR;
        if (!decides && !documents.isTaken(number) && sharing.holds(content)) {
            throw new ProblemException(
                    HttpStatus.FORBIDDEN,
                    "",
                    "document " + number
                            + " is held because fewer people may see it than have an account here; administrators can read it, or allow it on Access");
        }
        return ResponseEntity.ok()
                .contentType(MediaType.APPLICATION_OCTET_STREAM)
                .header(HttpHeaders.CONTENT_DISPOSITION, "attachment; filename=\"document-" + number + "\"")
                .body(content);
    }

    /** The JSON Schemas of our own formats. */
    @GetMapping(path = "/schemas/{name}", produces = "application/schema+json")
    String schema(@PathVariable String name) {
        return Schemas.text(name).orElseThrow(() -> ProblemException.notFound("there is no schema " + name));
    }
}
