package lucid.server.audit;

import java.util.List;
import java.util.Optional;
import lucid.server.web.Csv;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/** Reads the record. */
@RestController
@RequestMapping("/api/record")
class AuditController {

    private static final int PAGE = 100;
    private static final int LARGEST_EXPORT = 1_000_000;

    private final AuditMapper mapper;

    AuditController(AuditMapper mapper) {
        this.mapper = mapper;
    }

    /** @param next cursor for the entries before these, if there are more */
    record RecordPage(List<AuditEntry> entries, Optional<Long> next) {}

    /** Newest first, optionally of one update or one kind. */
    @GetMapping
    RecordPage page(
            @RequestParam Optional<String> subject,
            @RequestParam Optional<AuditEntry.Kind> kind,
            @RequestParam Optional<Long> before) {
        List<AuditEntry> entries = mapper.page(subject.orElse(null), kind.orElse(null), before.orElse(null), PAGE + 1);
        boolean more = entries.size() > PAGE;
        List<AuditEntry> page = more ? entries.subList(0, PAGE) : entries;
        return new RecordPage(page, more ? Optional.of(page.get(PAGE - 1).number()) : Optional.empty());
    }

    @GetMapping(path = "/entries.csv", produces = "text/csv")
    ResponseEntity<String> csv(@RequestParam Optional<String> subject, @RequestParam Optional<AuditEntry.Kind> kind) {
        return Csv.file(
                "record.csv",
                List.of("number", "at", "author", "kind", "subject", "sentence"),
                mapper.page(subject.orElse(null), kind.orElse(null), null, LARGEST_EXPORT).stream()
                        .map(e -> List.of(e.number(), e.at(), e.author(), e.kind(), e.subject(), e.sentence())));
    }
}
