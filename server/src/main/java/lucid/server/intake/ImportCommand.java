package lucid.server.intake;

import java.io.IOException;
import java.net.ConnectException;
import java.net.URI;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.List;
import java.util.Optional;
import lucid.formats.Documents;
import lucid.formats.document.Content;
import lucid.formats.document.Limits;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.RefusedDocumentException;
import lucid.server.command.CommandWords;
import lucid.server.command.UsageException;
import org.apache.hc.client5.http.classic.methods.HttpPost;
import org.apache.hc.client5.http.entity.mime.HttpMultipartMode;
import org.apache.hc.client5.http.entity.mime.MultipartEntityBuilder;
import org.apache.hc.client5.http.impl.classic.CloseableHttpClient;
import org.apache.hc.client5.http.impl.classic.HttpClients;
import org.apache.hc.core5.http.ContentType;
import org.apache.hc.core5.http.HttpHeaders;
import org.apache.hc.core5.http.io.entity.EntityUtils;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** {@code lucid import FILE…}: sends files to a running server and prints a line for each. */
public final class ImportCommand {

    private static final ContentType PLAIN = ContentType.TEXT_PLAIN.withCharset(StandardCharsets.UTF_8);
    private static final CommandWords.Syntax SYNTAX = new CommandWords.Syntax(
                    "import",
                    "one file or more, and --server ADDRESS with --token-file FILE, or the --data FOLDER of a server on this machine; "
                            + "for an updateinfo also --namespace NAME and --distro NAME")
            .value("server")
            .value("token-file")
            .value("data")
            .value("namespace")
            .value("distro");

    private ImportCommand() {}

    private record Target(URI server, String token, Optional<String> namespace, Optional<String> distro) {}

    /** @return 0 if every document was taken or already known, 1 if one was refused */
    public static int run(List<String> words) {
        CommandWords said = SYNTAX.parse(words);
        List<Path> files = said.files();
        Path data = said.data();
        String token = read(
                        said.value("token-file").map(Path::of).orElse(data.resolve("import-token")), "the token file")
                .strip();
        Path addressFile = data.resolve("address");
        Target target = new Target(
                said.value("server")
                        .map(URI::create)
                        .orElseGet(() -> Files.exists(addressFile)
                                ? URI.create(
                                        read(addressFile, "the address file").strip())
                                : URI.create("http://127.0.0.1:8040")),
                token,
                said.value("namespace"),
                said.value("distro"));
        int refused = 0;
        int sent = 0;
        for (Path file : files) {
            refused += send(target, withWhatItNames(file));
            if (++sent % 1000 == 0 || sent == files.size() && sent > 1) {
                System.out.println("         " + sent + " of " + files.size() + " files sent, " + refused + " refused");
            }
        }
        return refused == 0 ? 0 : 1;
    }

    /** The index of a repository is sent with the files that it names, which lie beside it. */
    private static List<Path> withWhatItNames(Path file) {
        if (!file.getFileName().toString().equals("repomd.xml") || !Files.isRegularFile(file)) {
            return List.of(file);
        }
        try {
            List<Path> files = new ArrayList<>(List.of(file));
            if (Documents.read(Files.readAllBytes(file), ReadingHints.none(Instant.EPOCH))
                            .content()
                    instanceof Content.OfRepository repository) {
                repository
                        .files()
                        .forEach(named -> files.add(file.toAbsolutePath()
                                .getParent()
                                .resolveSibling(named.location())
                                .normalize()));
            }
            return files;
        } catch (IOException | RefusedDocumentException e) {
            // The server says what is wrong with it.
            return List.of(file);
        }
    }

    /** A file a request, so that a long list shows its progress; only what belongs together goes together. */
    private static int send(Target target, List<Path> files) {
        for (Path file : files) {
            if (!Files.isRegularFile(file)) {
                System.out.println("rejected  " + file + ": there is no such file");
                return 1;
            }
            if (file.toFile().length() > Limits.LONGEST_DOCUMENT) {
                System.out.println("rejected  " + file + ": longer than " + Limits.LONGEST_DOCUMENT / 1024 / 1024
                        + " MB, not sent");
                return 1;
            }
        }
        MultipartEntityBuilder form = MultipartEntityBuilder.create().setMode(HttpMultipartMode.EXTENDED);
        target.namespace().ifPresent(value -> form.addTextBody("namespace", value, PLAIN));
        target.distro().ifPresent(value -> form.addTextBody("distro", value, PLAIN));
        files.forEach(file -> form.addBinaryBody("files", file.toFile()));
        HttpPost request = new HttpPost(target.server().resolve("/api/documents"));
        request.setHeader(HttpHeaders.AUTHORIZATION, "Bearer " + target.token());
        request.setEntity(form.build());
        try (CloseableHttpClient http = HttpClients.createDefault()) {
            return print(http.execute(request, response -> {
                String answer = EntityUtils.toString(response.getEntity(), StandardCharsets.UTF_8);
                if (response.getCode() != 200) {
                    throw new UsageException("the server answered " + response.getCode() + ": " + answer);
                }
                return new JsonMapper().readTree(answer);
            }));
        } catch (ConnectException e) {
            throw new UsageException("no server answers at " + target.server()
                    + "; start one with './lucid run' or name it with --server");
        } catch (IOException e) {
            System.out.println("rejected  " + files.get(0) + ": the connection broke while it was sent ("
                    + e.getMessage() + "); send it again");
            return 1;
        }
    }

    private static int print(JsonNode results) {
        int refused = 0;
        for (JsonNode result : results) {
            String outcome = result.path("outcome").asString();
            System.out.printf(
                    "%-9s %s %s%n",
                    outcome.toLowerCase(),
                    result.path("name").asString(),
                    result.path("subject").asString());
            for (JsonNode problem : result.path("problems")) {
                String place = problem.path("place").asString();
                System.out.println("          " + (place.isEmpty() ? "" : place + ": ")
                        + problem.path("reason").asString());
            }
            refused += outcome.equals("REJECTED") ? 1 : 0;
        }
        return refused;
    }

    private static String read(Path file, String what) {
        try {
            return Files.readString(file);
        } catch (IOException e) {
            throw new UsageException(
                    what + " " + file + " cannot be read; the server writes it into its data folder at first start");
        }
    }
}
