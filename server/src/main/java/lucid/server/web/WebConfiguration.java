package lucid.server.web;

import com.fasterxml.jackson.databind.JavaType;
import io.swagger.v3.core.converter.ModelConverter;
import io.swagger.v3.core.util.Json;
import io.swagger.v3.oas.models.OpenAPI;
import io.swagger.v3.oas.models.info.Info;
import io.swagger.v3.oas.models.media.Schema;
import io.swagger.v3.oas.models.servers.Server;
import java.lang.reflect.RecordComponent;
import java.util.Arrays;
import java.util.List;
import java.util.Optional;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.stereotype.Controller;
import org.springframework.web.bind.annotation.GetMapping;

/** How the API describes itself, and where the browser's own addresses lead. */
@Configuration
class WebConfiguration {

    @Bean
    OpenAPI openApi() {
        return new OpenAPI().servers(List.of(new Server().url("/"))).info(new Info().title("Lucid Verdict").version("1")
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
                Schema<?> defined = schema.get$ref() == null ? schema
                        : context.getDefinedModels().get(schema.get$ref().substring(schema.get$ref().lastIndexOf('/') + 1));
                if (defined != null) {
                    defined.setRequired(required);
                }
            }
            return schema;
        };
    }

    /** The places of the browser's side all begin with the one page. */
    @Controller
    static class Places {
        @GetMapping({"/docket/**", "/cases/**", "/carriers/**", "/populations/**", "/hosts/**", "/intake/**", "/record/**", "/weights", "/access/**", "/password"})
        String page() {
            return "forward:/index.html";
        }
    }
}
