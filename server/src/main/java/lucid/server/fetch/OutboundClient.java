package lucid.server.fetch;

import java.io.ByteArrayOutputStream;
import java.io.IOException;
import java.io.InputStream;
import java.net.InetAddress;
import java.net.URI;
import java.net.URISyntaxException;
import java.net.UnknownHostException;
import java.time.DateTimeException;
import java.time.Duration;
import java.time.Instant;
import java.time.format.DateTimeFormatter;
import java.util.Locale;
import java.util.Optional;
import java.util.concurrent.TimeUnit;
import lucid.server.web.ProblemException;
import org.apache.hc.client5.http.DnsResolver;
import org.apache.hc.client5.http.SystemDefaultDnsResolver;
import org.apache.hc.client5.http.classic.methods.HttpGet;
import org.apache.hc.client5.http.config.ConnectionConfig;
import org.apache.hc.client5.http.config.RequestConfig;
import org.apache.hc.client5.http.impl.classic.CloseableHttpClient;
import org.apache.hc.client5.http.impl.classic.HttpClients;
import org.apache.hc.client5.http.impl.io.PoolingHttpClientConnectionManagerBuilder;
import org.apache.hc.core5.http.ClassicHttpResponse;
import org.apache.hc.core5.http.HttpEntity;
import org.apache.hc.core5.http.HttpHeaders;
import org.apache.hc.core5.util.Timeout;
import org.springframework.http.HttpStatus;
import org.springframework.stereotype.Component;

/**
 * The one client by which the server fetches from addresses that people give it. It connects to public addresses only,
 * so that nobody can look into the server's own network through it; an administrator can allow single hosts by name.
 * The check stands where names become addresses, behind every redirect, and the connection goes to the very address
 * that was checked.
 */
@Component
public class OutboundClient {

    private static final Timeout CONNECT = Timeout.ofSeconds(10);
    private static final Timeout ANSWER = Timeout.ofSeconds(30);
    private static final Duration WHOLE = Duration.ofMinutes(2);
    private static final int MOST_REDIRECTS = 5;

    /**
     * @param name last part of the path
     * @param validators by which the same content is known again
     */
    public record Fetched(String name, byte[] content, Validators validators) {}

    /** What a server told of a content, to ask for it only if it has changed since (RFC 9110, section 8.8). */
    public record Validators(Optional<String> etag, Optional<String> lastModified) {
        public static final Validators NONE = new Validators(Optional.empty(), Optional.empty());
    }

    /** The server there wants to be left alone for a while (RFC 9110, section 10.2.3). */
    public static final class AskedToWaitException extends ProblemException {

        private final Duration asked;

        AskedToWaitException(int status, Duration asked) {
            super(
                    HttpStatus.UNPROCESSABLE_CONTENT,
                    "address",
                    "it could not be fetched: the server there answered " + status + " and asks to be left alone for "
                            + asked.toSeconds() + " seconds");
            this.asked = asked;
        }

        public Duration asked() {
            return asked;
        }
    }

    private final CloseableHttpClient http;

    OutboundClient(AllowedHosts allowed) {
        this.http = HttpClients.custom()
                .setConnectionManager(PoolingHttpClientConnectionManagerBuilder.create()
                        .setDnsResolver(new GuardedResolver(allowed))
                        .setDefaultConnectionConfig(ConnectionConfig.custom()
                                .setConnectTimeout(CONNECT)
                                .setSocketTimeout(ANSWER)
                                .build())
                        .build())
                .setDefaultRequestConfig(RequestConfig.custom()
                        .setResponseTimeout(ANSWER)
                        .setMaxRedirects(MOST_REDIRECTS)
                        .build())
                .setUserAgent("lucid-verdict")
                // Each request looks its name up anew, and is checked anew.
                .setConnectionReuseStrategy((request, response, context) -> false)
                .disableCookieManagement()
                .disableAuthCaching()
                .disableContentCompression()
                .disableAutomaticRetries()
                .build();
    }

    /** Looks names up and lets only public addresses and allowed hosts through. */
    private record GuardedResolver(AllowedHosts allowed) implements DnsResolver {
        @Override
        public InetAddress[] resolve(String host) throws UnknownHostException {
            InetAddress[] addresses = SystemDefaultDnsResolver.INSTANCE.resolve(host);
            if (!allowed.contains(host)) {
                for (InetAddress address : addresses) {
                    if (!PublicAddresses.contains(address)) {
                        throw new NotAllowedException(
                                host
                                        + " is not on the public internet; an administrator can allow it by name on the page Access");
                    }
                }
            }
            return addresses;
        }

        @Override
        public String resolveCanonicalHostname(String host) {
            return host;
        }
    }

    private static final class NotAllowedException extends UnknownHostException {
        NotAllowedException(String message) {
            super(message);
        }
    }

    /**
     * Fetches one document.
     *
     * @param longest bytes that are taken at the most
     * @throws ProblemException naming the field {@code address} and why it could not be fetched
     */
    public Fetched fetch(String address, int longest) {
        return fetchIfChanged(address, longest, Validators.NONE)
                .orElseThrow(() -> ProblemException.badField(
                        "address", "the server there says that nothing has changed, although nothing was known"));
    }

    /** As {@link #fetch}; empty if the content is still the one that these belong to. */
    public Optional<Fetched> fetchIfChanged(String address, int longest, Validators known) {
        URI uri = requireWebAddress(address);
        HttpGet request = new HttpGet(uri);
        known.etag().ifPresent(etag -> request.setHeader(HttpHeaders.IF_NONE_MATCH, etag));
        known.lastModified().ifPresent(instant -> request.setHeader(HttpHeaders.IF_MODIFIED_SINCE, instant));
        try {
            return http.execute(request, response -> {
                if (response.getCode() == 304) {
                    return Optional.<Fetched>empty();
                }
                Validators validators =
                        new Validators(header(response, HttpHeaders.ETAG), header(response, HttpHeaders.LAST_MODIFIED));
                return Optional.of(new Fetched(name(uri), body(response, longest), validators));
            });
        } catch (NotAllowedException e) {
            throw ProblemException.badField("address", e.getMessage());
        } catch (UnknownHostException e) {
            throw ProblemException.badField("address", "there is no host " + uri.getHost());
        } catch (IOException e) {
            throw ProblemException.badField("address", "it could not be fetched: " + e.getMessage());
        }
    }

    private static Optional<String> header(ClassicHttpResponse response, String name) {
        return Optional.ofNullable(response.getFirstHeader(name))
                .map(header -> header.getValue())
                .filter(value -> value.length() <= 100);
    }

    /**
     * How long the server asks to be left alone: in seconds, or until an instant that counts from what time it is
     * there.
     */
    private static Optional<Duration> retryAfter(ClassicHttpResponse response) {
        Optional<String> after = header(response, HttpHeaders.RETRY_AFTER);
        if (after.filter(text -> text.matches("\\d{1,9}")).isPresent()) {
            return after.map(seconds -> Duration.ofSeconds(Long.parseLong(seconds)));
        }
        try {
            return after.flatMap(until -> header(response, HttpHeaders.DATE)
                            .map(now -> Duration.between(instant(now), instant(until))))
                    .filter(asked -> !asked.isNegative());
        } catch (DateTimeException e) {
            return Optional.empty();
        }
    }

    private static Instant instant(String date) {
        return Instant.from(DateTimeFormatter.RFC_1123_DATE_TIME.parse(date));
    }

    private static byte[] body(ClassicHttpResponse response, int longest) throws IOException {
        Optional<Duration> asked =
                response.getCode() == 429 || response.getCode() == 503 ? retryAfter(response) : Optional.empty();
        if (asked.isPresent()) {
            throw new AskedToWaitException(response.getCode(), asked.get());
        }
        if (response.getCode() != 200) {
            throw new IOException("the server there answered " + response.getCode());
        }
        HttpEntity entity = response.getEntity();
        if (entity == null) {
            throw new IOException("the server there sent nothing");
        }
        long deadline = System.nanoTime() + TimeUnit.NANOSECONDS.convert(WHOLE);
        ByteArrayOutputStream content = new ByteArrayOutputStream();
        byte[] buffer = new byte[64 * 1024];
        try (InputStream in = entity.getContent()) {
            for (int read = in.read(buffer); read >= 0; read = in.read(buffer)) {
                content.write(buffer, 0, read);
                if (content.size() > longest) {
                    throw new IOException("it is longer than " + longest / 1024 / 1024 + " MB");
                }
                if (System.nanoTime() > deadline) {
                    throw new IOException("it took longer than " + WHOLE.toMinutes() + " minutes");
                }
            }
        }
        return content.toByteArray();
    }

    private static String name(URI uri) {
        String path = uri.getPath() == null ? "" : uri.getPath();
        String last = path.substring(path.lastIndexOf('/') + 1);
        return last.isEmpty() ? uri.getHost() : last;
    }

    private static URI requireWebAddress(String address) {
        try {
            URI uri = new URI(address.strip());
            String scheme = String.valueOf(uri.getScheme()).toLowerCase(Locale.ROOT);
            if (uri.getHost() != null
                    && uri.getUserInfo() == null
                    && uri.getPort() <= 65_535
                    && (scheme.equals("http") || scheme.equals("https"))) {
                return uri;
            }
        } catch (URISyntaxException e) {
            // Told below, as every other text that is no address.
        }
        throw ProblemException.badField(
                "address", "'" + address + "' is no web address such as https://vendor.example/advisory.json");
    }
}
