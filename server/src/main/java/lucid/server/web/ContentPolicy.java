package lucid.server.web;

import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.security.SecureRandom;
import java.util.Base64;
import org.springframework.security.web.header.HeaderWriter;

/**
 * What a page may load and do (Content Security Policy Level 3): everything from here only. Components write their
 * styles into the page; those are known by a number that is made for each answer and that nobody else can know.
 */
public final class ContentPolicy implements HeaderWriter {

    private static final String ATTRIBUTE = ContentPolicy.class.getName();
    private static final SecureRandom RANDOM = new SecureRandom();

    /** The number of a request's answer. */
    static String nonce(HttpServletRequest request) {
        Object known = request.getAttribute(ATTRIBUTE);
        if (known instanceof String nonce) {
            return nonce;
        }
        byte[] bytes = new byte[18];
        RANDOM.nextBytes(bytes);
        String nonce = Base64.getUrlEncoder().withoutPadding().encodeToString(bytes);
        request.setAttribute(ATTRIBUTE, nonce);
        return nonce;
    }

    @Override
    public void writeHeaders(HttpServletRequest request, HttpServletResponse response) {
        response.setHeader(
                "Content-Security-Policy",
                "default-src 'self'; style-src 'self' 'nonce-" + nonce(request)
                        + "'; img-src 'self' data:; object-src 'none'; base-uri 'none'; frame-ancestors 'none'; form-action 'self'");
    }
}
