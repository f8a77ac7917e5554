package lucid.server.access;

import java.util.Optional;
import lucid.server.storage.Settings;
import org.springframework.stereotype.Component;
import tools.jackson.databind.json.JsonMapper;

/** Who vouches for people beside their passwords here (OpenID Connect Core 1.0), as an administrator set it. */
@Component
class OpenIdProvider {

    private static final String SETTING = "openid-provider";

    private final Settings settings;
    private final JsonMapper json;

    OpenIdProvider(Settings settings, JsonMapper json) {
        this.settings = settings;
        this.json = json;
    }

    /**
     * @param name by which people know it
     * @param issuer its address, under which it describes itself
     * @param client by which it knows this server
     * @param secret of the client, kept as it is in the database, which its owner alone can read; none: the client is
     *     public
     * @param address of this server, to which it sends browsers back
     */
    record Configured(String name, String issuer, String client, Optional<String> secret, String address) {
        /** Where browsers come back to; the provider must know it. */
        String comeBack() {
            return address + "/signed-in";
        }
    }

    Optional<Configured> configured() {
        return settings.find(SETTING)
                .filter(text -> !text.isEmpty())
                .map(text -> json.readValue(text, Configured.class));
    }

    /** Only within a write. */
    void keep(Optional<Configured> configured) {
        settings.keep(SETTING, configured.map(json::writeValueAsString).orElse(""));
    }
}
