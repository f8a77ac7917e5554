package lucid.server.intake;

import java.io.IOException;
import java.net.ConnectException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublisher;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Instant;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.Optional;
import java.util.UUID;
import lucid.formats.Content;
import lucid.formats.Documents;
import lucid.formats.ReadingHints;
import lucid.formats.RefusedDocumentException;
import lucid.server.UsageException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** {@code lucid import FILE…}: sends files to a running server and prints a line for each. */
public final class ImportCommand {

    private static final HttpClient HTTP = HttpClient.newHttpClient();

    private ImportCommand() {}

    private record Target(URI server, String token, Optional<String> namespace, Optional<String> distro) {}

    /** @return 0 if every document was taken or already known, 1 if one was refused */
    public static int run(List<String> words) {
        Optional<URI> server = Optional.empty();
        Optional<Path> tokenFile = Optional.empty();
        Optional<String> namespace = Optional.empty();
        Optional<String> distro = Optional.empty();
        Path data = Path.of("data");
        List<Path> files = new ArrayList<>();
        Iterator<String> rest = words.iterator();
        while (rest.hasNext()) {
            String word = rest.next();
            if (List.of("--server", "--token-file", "--data", "--namespace", "--distro")
                            .contains(word)
                    && !rest.hasNext()) {
                throw new UsageException(word + " needs a value");
            }
            switch (word) {
                case "--server" -> server = Optional.of(URI.create(rest.next()));
                case "--token-file" -> tokenFile = Optional.of(Path.of(rest.next()));
                case "--data" -> data = Path.of(rest.next());
                case "--namespace" -> namespace = Optional.of(rest.next());
                case "--distro" -> distro = Optional.of(rest.next());
                default -> files.add(Path.of(word));
            }
        }
        if (files.isEmpty()) {
            throw new UsageException(
                    "import takes one file or more, and --server ADDRESS with --token-file FILE, or the --data FOLDER of a server on this machine; "
                            + "for an updateinfo also --namespace NAME and --distro NAME");
        }
        String token = read(tokenFile.orElse(data.resolve("import-token")), "the token file")
                .strip();
        Path addressFile = data.resolve("address");
        Target target = new Target(
                server.orElseGet(() -> Files.exists(addressFile)
                        ? URI.create(read(addressFile, "the address file").strip())
                        : URI.create("http://127.0.0.1:8040")),
                token,
                namespace,
                distro);
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
            if (file.toFile().length() > Documents.LONGEST) {
                System.out.println(
                        "rejected  " + file + ": longer than " + Documents.LONGEST / 1024 / 1024 + " MB, not sent");
                return 1;
            }
        }
        String boundary = UUID.randomUUID().toString();
        try {
            HttpResponse<String> response = HTTP.send(
                    HttpRequest.newBuilder(target.server().resolve("/api/documents"))
                            .header("Authorization", "Bearer " + target.token())
                            .header("Content-Type", "multipart/form-data; boundary=" + boundary)
                            .POST(BodyPublishers.concat(
                                    parts(target, files, boundary).toArray(BodyPublisher[]::new)))
                            .build(),
                    HttpResponse.BodyHandlers.ofString(StandardCharsets.UTF_8));
            if (response.statusCode() != 200) {
                throw new UsageException("the server answered " + response.statusCode() + ": " + response.body());
            }
            return print(new JsonMapper().readTree(response.body()));
        } catch (ConnectException e) {
            throw new UsageException("no server answers at " + target.server()
                    + "; start one with './lucid run' or name it with --server");
        } catch (IOException e) {
            System.out.println("rejected  " + files.get(0) + ": the connection broke while it was sent ("
                    + e.getMessage() + "); send it again");
            return 1;
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new UsageException("interrupted");
        }
    }

    private static List<BodyPublisher> parts(Target target, List<Path> files, String boundary) throws IOException {
        List<BodyPublisher> parts = new ArrayList<>();
        target.namespace().ifPresent(value -> parts.add(field(boundary, "namespace", value)));
        target.distro().ifPresent(value -> parts.add(field(boundary, "distro", value)));
        for (Path file : files) {
            parts.add(BodyPublishers.ofString(
                    "--" + boundary + "\r\nContent-Disposition: form-data; name=\"files\"; filename=\""
                            + file.getFileName().toString().replace("\"", "'")
                            + "\"\r\nContent-Type: application/octet-stream\r\n\r\n"));
            parts.add(BodyPublishers.ofFile(file));
            parts.add(BodyPublishers.ofString("\r\n"));
        }
        parts.add(BodyPublishers.ofString("--" + boundary + "--\r\n"));
        return parts;
    }

    private static BodyPublisher field(String boundary, String name, String value) {
        return BodyPublishers.ofString(
                "--" + boundary + "\r\nContent-Disposition: form-data; name=\"" + name + "\"\r\n\r\n" + value + "\r\n");
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
