package lucid.server;

import static org.assertj.core.api.Assertions.assertThat;

import java.nio.file.Files;
import java.nio.file.Path;
import org.junit.jupiter.api.Test;
import org.junit.jupiter.api.extension.RegisterExtension;
import tools.jackson.databind.SerializationFeature;
import tools.jackson.databind.json.JsonMapper;

/** The API's description that is checked in, from which the browser's types are made, is that of the running server. */
class OpenApiTest {

    @RegisterExtension
    static final LucidServer SERVER = new LucidServer();

    private static final Path CHECKED_IN = Path.of("..", "docs", "openapi.json");

    /** With {@code -Dlucid.write-openapi=true} the file is written instead of compared. */
    @Test
    void theDescriptionThatIsCheckedInIsCurrent() throws Exception {
        JsonMapper json =
                JsonMapper.builder().enable(SerializationFeature.INDENT_OUTPUT).build();
        var served = SERVER.nobody().get("/api/openapi").json();
        if (Boolean.getBoolean("lucid.write-openapi")) {
            Files.writeString(CHECKED_IN, json.writeValueAsString(served) + "\n");
        }
        assertThat(json.readTree(Files.readString(CHECKED_IN)))
                .as(
                        "docs/openapi.json; write it anew with: mvn -pl server -am test -Dtest=OpenApiTest -Dsurefire.failIfNoSpecifiedTests=false -Dlucid.write-openapi=true")
                .isEqualTo(served);
    }
}
