package lucid.server.web;

import com.fasterxml.jackson.databind.JavaType;
import io.swagger.v3.core.converter.ModelConverter;
import io.swagger.v3.core.util.Json;
import io.swagger.v3.oas.annotations.Hidden;
import io.swagger.v3.oas.models.OpenAPI;
import io.swagger.v3.oas.models.info.Info;
import io.swagger.v3.oas.models.media.Schema;
import io.swagger.v3.oas.models.servers.Server;
import jakarta.servlet.http.HttpServletRequest;
import java.io.IOException;
import java.lang.reflect.RecordComponent;
import java.nio.charset.StandardCharsets;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.springdoc.core.utils.SpringDocUtils;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.core.io.ClassPathResource;
import org.springframework.http.CacheControl;
import org.springframework.http.MediaType;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;

/** How the API describes itself, and where the browser's own addresses lead. */
@Configuration
class WebConfiguration {

    static {
        SpringDocUtils.getConfig().replaceWithClass(ListFile.class, String.class);
    }

    @Bean
    OpenAPI openApi() {
        return new OpenAPI()
                .servers(List.of(new Server().url("/")))
                .info(new Info()
                        .title("Lucid Verdict")
                        .version("1")
                        .description("Everything on a screen can be had from here. Instants are ISO 8601 in UTC."));
    }

    /** A component of a record is always there, unless it is an Optional. */
    @Bean
    ModelConverter requiredComponents() {
        return (type, context, chain) -> {
            Schema<?> schema = chain.hasNext() ? chain.next().resolve(type, context, chain) : null;
            JavaType javaType = Json.mapper().constructType(type.getType());
            if (schema != null && javaType != null && javaType.getRawClass().isRecord()) {
                List<String> required = Arrays.stream(javaType.getRawClass().getRecordComponents())
                        .filter(component -> component.getType() != Optional.class)
                        .map(RecordComponent::getName)
                        .toList();
                Schema<?> defined = schema.get$ref() == null
                        ? schema
                        : context.getDefinedModels()
                                .get(schema.get$ref().substring(schema.get$ref().lastIndexOf('/') + 1));
                if (defined != null) {
                    defined.setRequired(required);
                }
            }
            return schema;
        };
    }

    /**
     * The places of the browser's side all begin with the one page, in which the number for its styles is filled in.
     */
    @RestController
    @Hidden
    static class Places {
        /** What the build of the page writes where the number belongs. */
        private static final String NONCE = "style-nonce-of-this-answer";

        private final String page;

        Places() throws IOException {
            ClassPathResource built = new ClassPathResource("static/index.html");
            page = built.exists() ? built.getContentAsString(StandardCharsets.UTF_8) : "";
        }

        @GetMapping(
                path = {
                    "/",
                    "/index.html",
                    "/docket/**",
                    "/cases/**",
                    "/decide",
                    "/by-operator",
                    "/carriers/**",
                    "/populations/**",
                    "/hosts/**",
                    "/intake/**",
                    "/record/**",
                    "/in-force",
                    "/pilots/**",
                    "/exceptions",
                    "/report/**",
                    "/digest",
                    "/objection",
                    "/weights",
                    "/access/**",
                    "/account",
                    "/signed-in",
                    "/help"
                },
                produces = MediaType.TEXT_HTML_VALUE)
        ResponseEntity<String> page(HttpServletRequest request) {
            return ResponseEntity.ok()
                    .cacheControl(CacheControl.noStore())
                    .body(page.replace(NONCE, ContentPolicy.nonce(request)));
        }
    }
}
