package lucid.server.audit;

import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.List;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.server.web.ListFile;
import org.springdoc.core.annotations.ParameterObject;
import org.springframework.http.HttpHeaders;
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
    private static final int EXPORT_PAGE = 5_000;

    private final AuditMapper mapper;
    private final Clock clock;

    AuditController(AuditMapper mapper, Clock clock) {
        this.mapper = mapper;
        this.clock = clock;
    }

    /**
     * Which entries are asked for; everything that is named must be so.
     *
     * @param subject identifier of an update
     * @param from first day, in UTC
     * @param to last day, in UTC
     * @param text part of the sentence, in any case
     */
    record Asked(
            Optional<String> subject,
            Optional<AuditEntry.Kind> kind,
            Optional<String> person,
            Optional<LocalDate> from,
            Optional<LocalDate> to,
            Optional<String> text) {

        private AuditMapper.Question question() {
            return new AuditMapper.Question(
                    subject.orElse(null),
                    kind.orElse(null),
                    person.orElse(null),
                    from.map(Asked::start).orElse(null),
                    to.map(day -> start(day.plusDays(1))).orElse(null),
                    text.map(String::strip)
                            .filter(words -> !words.isEmpty())
                            .map(Asked::pattern)
                            .orElse(null));
        }

        private static Instant start(LocalDate day) {
            return day.atStartOfDay(ZoneOffset.UTC).toInstant();
        }

        private static String pattern(String words) {
            return "%" + words.toLowerCase().replaceAll("([\\\\%_])", "\\\\$1") + "%";
        }
    }

    /**
     * @param next cursor for the entries before these, if there are more
     * @param people who has an entry in the record
     * @param takenBack which of the entries tell of a decision that was taken back later
     */
    record RecordPage(
            List<AuditEntry> entries,
            Optional<Long> next,
            List<String> people,
            List<AuditMapper.TakenBack> takenBack) {}

    /** The newest first. */
    @GetMapping
    RecordPage page(@ParameterObject Asked asked, @RequestParam Optional<Long> before) {
        List<AuditEntry> entries = mapper.page(asked.question(), before.orElse(null), PAGE + 1);
        boolean more = entries.size() > PAGE;
        List<AuditEntry> page = more ? entries.subList(0, PAGE) : entries;
        return new RecordPage(
                page,
                more ? Optional.of(page.get(PAGE - 1).number()) : Optional.empty(),
                mapper.people(),
                page.isEmpty()
                        ? List.of()
                        : mapper.takenBack(
                                page.get(page.size() - 1).number(), page.get(0).number()));
    }

    private static final List<String> HEADINGS =
            List.of("number", "at", "author", "kind", "subject", "sentence", "hash");

    @GetMapping(path = "/entries.csv", produces = "text/csv")
    ResponseEntity<ListFile> csv(@ParameterObject Asked asked) {
        return ListFile.csv("record.csv", HEADINGS, rows(asked));
    }

    @GetMapping(path = "/entries.json", produces = "application/json")
    ResponseEntity<ListFile> json(@ParameterObject Asked asked) {
        return ListFile.json("record.json", HEADINGS, rows(asked));
    }

    /** Page by page, so that a long record is never whole in memory. */
    private Stream<List<?>> rows(Asked asked) {
        AuditMapper.Question question = asked.question();
        return Stream.iterate(
                        mapper.page(question, null, EXPORT_PAGE),
                        page -> !page.isEmpty(),
                        page -> page.size() < EXPORT_PAGE
                                ? List.of()
                                : mapper.page(
                                        question, page.get(page.size() - 1).number(), EXPORT_PAGE))
                .flatMap(List::stream)
                .map(entry -> List.of(
                        entry.number(),
                        entry.at(),
                        entry.author(),
                        entry.kind(),
                        entry.subject(),
                        entry.sentence(),
                        entry.hash()));
    }

    /** The newest entries, for a program that shows feeds. */
    @GetMapping(path = "/feed", produces = "application/atom+xml;charset=UTF-8")
    ResponseEntity<String> feed() {
        AuditMapper.Question all = new Asked(
                        Optional.empty(),
                        Optional.empty(),
                        Optional.empty(),
                        Optional.empty(),
                        Optional.empty(),
                        Optional.empty())
                .question();
        return ResponseEntity.ok()
                .header(HttpHeaders.CACHE_CONTROL, "private, no-cache")
                .body(RecordFeed.of(mapper.page(all, null, PAGE), clock.instant()));
    }
}
