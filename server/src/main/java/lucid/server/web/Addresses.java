package lucid.server.web;

import java.net.URLEncoder;
import java.nio.charset.StandardCharsets;

/** Text as a part of an address (RFC 3986, section 2.1). */
public final class Addresses {

    private Addresses() {}

    public static String encoded(String text) {
        return URLEncoder.encode(text, StandardCharsets.UTF_8).replace("+", "%20");
    }
}
