package lucid.server.web;

import java.util.Locale;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.beans.TypeMismatchException;
import org.springframework.core.ResolvableType;
import org.springframework.dao.DataIntegrityViolationException;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.http.HttpStatusCode;
import org.springframework.http.ProblemDetail;
import org.springframework.http.ResponseEntity;
import org.springframework.http.converter.HttpMessageNotReadableException;
import org.springframework.validation.FieldError;
import org.springframework.web.bind.MethodArgumentNotValidException;
import org.springframework.web.bind.MissingServletRequestParameterException;
import org.springframework.web.bind.annotation.ExceptionHandler;
import org.springframework.web.bind.annotation.RestControllerAdvice;
import org.springframework.web.context.request.WebRequest;
import org.springframework.web.method.annotation.MethodArgumentTypeMismatchException;
import org.springframework.web.multipart.MultipartException;
import org.springframework.web.servlet.mvc.method.annotation.ResponseEntityExceptionHandler;
import tools.jackson.core.JacksonException;
import tools.jackson.core.exc.InputCoercionException;
import tools.jackson.core.exc.StreamReadException;
import tools.jackson.databind.exc.InvalidFormatException;
import tools.jackson.databind.exc.MismatchedInputException;

/** Every failure as problem details (RFC 9457); what the server did wrong itself is logged and not told in detail. */
@RestControllerAdvice
class ProblemAdvice extends ResponseEntityExceptionHandler {

    private static final Logger LOG = LoggerFactory.getLogger(ProblemAdvice.class);
    private static final Pattern TOO_LONG = Pattern.compile("Value too long for column \"(\\w+) [A-Z ]+\\((\\d+)\\)");

    @ExceptionHandler
    ProblemDetail problem(ProblemException e) {
        ProblemDetail detail = ProblemDetail.forStatusAndDetail(e.status(), e.getMessage());
        if (!e.field().isEmpty()) {
            detail.setProperty("field", e.field());
        }
        if (e.position() != null) {
            detail.setProperty("position", e.position());
        }
        return detail;
    }

    /** What a value of ours says against its parts, with the part before the colon as the field. */
    @Override
    protected ResponseEntity<Object> handleHttpMessageNotReadable(
            HttpMessageNotReadableException e, HttpHeaders headers, HttpStatusCode status, WebRequest request) {
        for (Throwable cause = e; cause != null; cause = cause.getCause()) {
            if (cause instanceof BodyLimitException limit) {
                return handleExceptionInternal(
                        e,
                        ProblemDetail.forStatusAndDetail(limit.status(), limit.getMessage()),
                        headers,
                        limit.status(),
                        request);
            }
        }
        if (e.getRootCause() instanceof IllegalArgumentException fault && fault.getMessage() != null) {
            ProblemDetail detail =
                    ProblemDetail.forStatusAndDetail(HttpStatus.UNPROCESSABLE_CONTENT, fault.getMessage());
            detail.setProperty("field", fault.getMessage().split(":")[0]);
            return handleExceptionInternal(e, detail, headers, HttpStatus.UNPROCESSABLE_CONTENT, request);
        }
        if (e.getCause() instanceof JacksonException fault) {
            ProblemDetail detail = ProblemDetail.forStatusAndDetail(HttpStatus.BAD_REQUEST, reason(fault));
            if (!fault.getPath().isEmpty()) {
                detail.setProperty(
                        "field",
                        fault.getPath().stream().map(ProblemAdvice::step).collect(Collectors.joining(".")));
            }
            return handleExceptionInternal(e, detail, headers, HttpStatus.BAD_REQUEST, request);
        }
        return super.handleHttpMessageNotReadable(e, headers, status, request);
    }

    /** A parameter of the address that cannot be read: which, and what it may be. */
    @Override
    protected ResponseEntity<Object> handleMethodArgumentNotValid(
            MethodArgumentNotValidException e, HttpHeaders headers, HttpStatusCode status, WebRequest request) {
        FieldError wrong = e.getFieldError();
        if (wrong == null) {
            return super.handleMethodArgumentNotValid(e, headers, status, request);
        }
        Class<?> wanted = Stream.of(e.getParameter().getParameterType().getRecordComponents())
                .filter(component -> component.getName().equals(wrong.getField()))
                .map(component -> ResolvableType.forType(component.getGenericType()))
                .map(type -> type.hasGenerics() ? type.getGeneric(0).toClass() : type.toClass())
                .findFirst()
                .orElse(String.class);
        ProblemDetail detail = ProblemDetail.forStatusAndDetail(
                HttpStatus.UNPROCESSABLE_CONTENT, expected(wanted, wrong.getRejectedValue()));
        detail.setProperty("field", wrong.getField());
        return handleExceptionInternal(e, detail, headers, HttpStatus.UNPROCESSABLE_CONTENT, request);
    }

    private static String step(JacksonException.Reference step) {
        return step.getPropertyName() != null ? step.getPropertyName() : String.valueOf(step.getIndex());
    }

    /** In words that a caller can act on; the library's own name classes of ours. */
    private static String reason(JacksonException fault) {
        if (fault instanceof StreamReadException && !(fault instanceof InputCoercionException)) {
            return "the body is not valid JSON, at line " + fault.getLocation().getLineNr() + ", column "
                    + fault.getLocation().getColumnNr();
        }
        if (fault instanceof InvalidFormatException wrong) {
            return expected(wrong.getTargetType(), wrong.getValue());
        }
        if (fault instanceof InputCoercionException wrong) {
            return expected(wrong.getTargetType()) + ", and this is out of its range";
        }
        if (fault.getPath().isEmpty()
                && fault instanceof MismatchedInputException wrong
                && wrong.getTargetType() != null
                && wrong.getTargetType().isRecord()) {
            return Wanted.object(wrong.getTargetType()) + " is expected";
        }
        return fault instanceof MismatchedInputException wrong && wrong.getTargetType() != null
                ? expected(wrong.getTargetType())
                : "it cannot be read";
    }

    /** A parameter of the address by itself: which, and what it may be. */
    @Override
    protected ResponseEntity<Object> handleTypeMismatch(
            TypeMismatchException e, HttpHeaders headers, HttpStatusCode status, WebRequest request) {
        Class<?> wanted = e.getRequiredType();
        String name = e.getPropertyName();
        if (e instanceof MethodArgumentTypeMismatchException argument) {
            wanted = argument.getParameter().nestedIfOptional().getNestedParameterType();
            name = argument.getName();
        }
        ProblemDetail detail = ProblemDetail.forStatusAndDetail(
                HttpStatus.BAD_REQUEST, expected(wanted == null ? String.class : wanted, e.getValue()));
        detail.setProperty("field", name);
        return handleExceptionInternal(e, detail, headers, HttpStatus.BAD_REQUEST, request);
    }

    @Override
    protected ResponseEntity<Object> handleMissingServletRequestParameter(
            MissingServletRequestParameterException e, HttpHeaders headers, HttpStatusCode status, WebRequest request) {
        ProblemDetail detail = ProblemDetail.forStatusAndDetail(
                status, expected(e.getMethodParameter().getParameterType()) + ", and nothing is given");
        detail.setProperty("field", e.getParameterName());
        return handleExceptionInternal(e, detail, headers, status, request);
    }

    private static String expected(Class<?> type) {
        return Wanted.words(type) + " is expected";
    }

    private static String expected(Class<?> type, Object given) {
        return expected(type) + ", not '" + given + "'";
    }

    /**
     * Parts of a form are laid on the disk while they come in, for which there may be no room; otherwise it is the form
     * that cannot be read.
     */
    @ExceptionHandler
    ProblemDetail unreadableForm(MultipartException e) {
        return String.valueOf(e.getMostSpecificCause().getMessage()).contains("No space left")
                ? ProblemDetail.forStatusAndDetail(
                        HttpStatus.INSUFFICIENT_STORAGE,
                        "The server's disk is full. Nothing of this was kept; what was there before can be read. Send it again when there is room.")
                : ProblemDetail.forStatusAndDetail(
                        HttpStatus.BAD_REQUEST,
                        "The form cannot be read: it is no multipart form, or was cut off. Nothing of it was kept.");
    }

    /** What a column does not take was not asked for its length before; nothing of it was kept. */
    @ExceptionHandler
    ProblemDetail tooLong(DataIntegrityViolationException e) {
        Matcher column =
                TOO_LONG.matcher(String.valueOf(e.getMostSpecificCause().getMessage()));
        if (!column.find()) {
            return unexpected(e);
        }
        ProblemDetail detail = ProblemDetail.forStatusAndDetail(
                HttpStatus.UNPROCESSABLE_CONTENT,
                "this is too long: at most " + column.group(2) + " characters are kept");
        detail.setProperty("field", column.group(1).toLowerCase(Locale.ROOT).replace('_', ' '));
        return detail;
    }

    @ExceptionHandler
    ProblemDetail unexpected(RuntimeException e) {
        LOG.error("A request failed", e);
        return ProblemDetail.forStatusAndDetail(
                HttpStatus.INTERNAL_SERVER_ERROR,
                "The server failed on this request; nothing of it was kept. Its log says more.");
    }
}
