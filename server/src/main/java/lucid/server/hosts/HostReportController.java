package lucid.server.hosts;

import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.io.InputStream;
import java.time.DateTimeException;
import java.time.Instant;
import java.time.format.DateTimeFormatter;
import java.util.Optional;
import lucid.formats.document.Compression;
import lucid.formats.document.Limits;
import lucid.formats.document.RefusedDocumentException;
import lucid.server.access.Caller;
import lucid.server.intake.IntakeOutcome;
import lucid.server.intake.IntakeResult;
import lucid.server.web.ProblemException;
import org.springframework.core.io.InputStreamResource;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RestController;

/** Host reports come in here. */
@RestController
class HostReportController {

    private final HostReports reports;
    private final HostPace pace;

    HostReportController(HostReports reports, HostPace pace) {
        this.reports = reports;
        this.pace = pace;
    }

    /**
     * Takes a host inventory in JSON lines, plain or with {@code Content-Encoding: gzip}; {@code Date} tells what time
     * it is for the sender.
     */
    @PostMapping(path = "/api/reports", consumes = MediaType.ALL_VALUE)
    ResponseEntity<IntakeResult> report(
            @RequestBody InputStreamResource body,
            @RequestHeader(name = HttpHeaders.CONTENT_ENCODING, required = false) String encoding,
            @RequestHeader(name = HttpHeaders.DATE, required = false) String date,
            @AuthenticationPrincipal Caller sender,
            HttpServletResponse response)
            throws IOException {
        sender.onlyHost().flatMap(pace::begin).ifPresent(wait -> {
            response.setHeader(HttpHeaders.RETRY_AFTER, String.valueOf(wait.toSeconds() + 1));
            throw new ProblemException(
                    HttpStatus.TOO_MANY_REQUESTS,
                    "",
                    "this host has reported too often; it may again in " + (wait.toMinutes() + 1) + " minutes");
        });
        IntakeResult result = reports.take(
                "gzip".equals(encoding) ? expanded(body.getInputStream()) : start(body.getInputStream()),
                sender,
                Optional.ofNullable(date).map(HostReportController::instant));
        return ResponseEntity.status(
                        result.outcome() == IntakeOutcome.REJECTED ? HttpStatus.UNPROCESSABLE_CONTENT : HttpStatus.OK)
                .body(result);
    }

    /** A date of HTTP (RFC 9110, section 5.6.7). */
    private static Instant instant(String date) {
        try {
            return Instant.from(DateTimeFormatter.RFC_1123_DATE_TIME.parse(date));
        } catch (DateTimeException e) {
            throw ProblemException.badField("Date", "'" + date + "' is no date such as Wed, 25 Nov 2026 09:00:00 GMT");
        }
    }

    /** One byte more than allowed is enough to be refused, however much there is. */
    private static byte[] start(InputStream in) throws IOException {
        return in.readNBytes(Limits.LONGEST_DOCUMENT + 1);
    }

    private static byte[] expanded(InputStream body) {
        try {
            return Compression.gunzipped(body);
        } catch (RefusedDocumentException e) {
            throw ProblemException.badField("body", e.getMessage());
        }
    }
}
