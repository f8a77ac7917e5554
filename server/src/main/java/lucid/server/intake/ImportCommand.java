package lucid.server.intake;

import java.io.IOException;
import java.net.ConnectException;
import java.net.URI;
import java.net.http.HttpClient;
import java.net.http.HttpRequest;
import java.net.http.HttpRequest.BodyPublishers;
import java.net.http.HttpResponse;
import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.Iterator;
import java.util.List;
import java.util.UUID;
import lucid.formats.Documents;
import lucid.server.UsageException;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** {@code lucid import FILE…}: sends files to a running server and prints a line for each. */
public final class ImportCommand {

    private ImportCommand() {}

    /** @return 0 if every document was taken or already known, 1 if one was refused */
    public static int run(List<String> words) {
        URI server = URI.create("http://127.0.0.1:8040");
        Path tokenFile = Path.of("data", "import-token");
        List<Path> files = new ArrayList<>();
        Iterator<String> rest = words.iterator();
        while (rest.hasNext()) {
            String word = rest.next();
            if (List.of("--server", "--token-file").contains(word) && !rest.hasNext()) {
                throw new UsageException(word + " needs a value");
            }
            switch (word) {
                case "--server" -> server = URI.create(rest.next());
                case "--token-file" -> tokenFile = Path.of(rest.next());
                default -> files.add(Path.of(word));
            }
        }
        if (files.isEmpty()) {
            throw new UsageException("import takes one file or more, and --server ADDRESS and --token-file FILE");
        }
        int refused = 0;
        String token = read(tokenFile, "the token file").strip();
        for (Path file : files) {
            refused += send(server, token, file);
        }
        return refused == 0 ? 0 : 1;
    }

    /** One file a request, so that a long list shows its progress. */
    private static int send(URI server, String token, Path file) {
        if (!Files.isRegularFile(file)) {
            System.out.println("refused  " + file + ": there is no such file");
            return 1;
        }
        if (file.toFile().length() > Documents.LONGEST) {
            System.out.println("refused  " + file + ": longer than " + Documents.LONGEST / 1024 / 1024 + " MB, not sent");
            return 1;
        }
        String boundary = UUID.randomUUID().toString();
        String head = "--" + boundary + "\r\nContent-Disposition: form-data; name=\"files\"; filename=\"" + file.getFileName().toString().replace("\"", "'")
                + "\"\r\nContent-Type: application/octet-stream\r\n\r\n";
        try {
            HttpResponse<String> response = HttpClient.newHttpClient().send(
                    HttpRequest.newBuilder(server.resolve("/api/documents"))
                            .header("Authorization", "Bearer " + token)
                            .header("Content-Type", "multipart/form-data; boundary=" + boundary)
                            .POST(BodyPublishers.concat(BodyPublishers.ofString(head), BodyPublishers.ofFile(file), BodyPublishers.ofString("\r\n--" + boundary + "--\r\n")))
                            .build(),
                    HttpResponse.BodyHandlers.ofString(StandardCharsets.UTF_8));
            if (response.statusCode() != 200) {
                throw new UsageException("the server answered " + response.statusCode() + ": " + response.body());
            }
            return print(new JsonMapper().readTree(response.body()));
        } catch (ConnectException e) {
            throw new UsageException("no server answers at " + server + "; start one with './lucid run' or name it with --server");
        } catch (IOException e) {
            System.out.println("refused  " + file + ": the connection broke while it was sent (" + e.getMessage() + "); send it again");
            return 1;
        } catch (InterruptedException e) {
            Thread.currentThread().interrupt();
            throw new UsageException("interrupted");
        }
    }

    private static int print(JsonNode results) {
        int refused = 0;
        for (JsonNode result : results) {
            String outcome = result.path("outcome").asString();
            System.out.printf("%-8s %s %s%n", outcome.toLowerCase(), result.path("name").asString(), result.path("subject").asString());
            for (JsonNode problem : result.path("problems")) {
                String place = problem.path("place").asString();
                System.out.println("         " + (place.isEmpty() ? "" : place + ": ") + problem.path("reason").asString());
            }
            refused += outcome.equals("REFUSED") ? 1 : 0;
        }
        return refused;
    }

    private static String read(Path file, String what) {
        try {
            return Files.readString(file);
        } catch (IOException e) {
            throw new UsageException(what + " " + file + " cannot be read; the server writes it into its data folder at first start");
        }
    }
}
