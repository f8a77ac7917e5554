package lucid.server.web;

import com.fasterxml.jackson.annotation.Nulls;
import jakarta.servlet.FilterChain;
import jakarta.servlet.ServletException;
import jakarta.servlet.http.HttpServletRequest;
import jakarta.servlet.http.HttpServletResponse;
import java.io.IOException;
import java.net.URLDecoder;
import java.nio.ByteBuffer;
import java.nio.charset.CharacterCodingException;
import java.nio.charset.StandardCharsets;
import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import lucid.formats.document.Texts;
import org.springframework.boot.jackson.autoconfigure.JsonMapperBuilderCustomizer;
import org.springframework.boot.web.servlet.FilterRegistrationBean;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;
import org.springframework.core.Ordered;
import org.springframework.core.convert.converter.Converter;
import org.springframework.http.HttpStatus;
import org.springframework.http.MediaType;
import org.springframework.web.filter.OncePerRequestFilter;
import tools.jackson.core.JsonParser;
import tools.jackson.core.JsonToken;
import tools.jackson.databind.DeserializationContext;
import tools.jackson.databind.cfg.EnumFeature;
import tools.jackson.databind.deser.std.StdScalarDeserializer;
import tools.jackson.databind.module.SimpleModule;

/**
 * Every text, day and instant in the body of a request passes here, whatever it is for: it must be one that can be
 * shown and kept ({@link Texts}). Words are words: a number stands for none of them.
 */
@Configuration
class RequestTexts {

    @Bean
    JsonMapperBuilderCustomizer checkedTexts() {
        SimpleModule module = new SimpleModule("texts of requests");
        module.addDeserializer(String.class, new OfText());
        module.addDeserializer(LocalDate.class, new OfDay());
        module.addDeserializer(Instant.class, new OfInstant());
        return builder -> builder.enable(EnumFeature.FAIL_ON_NUMBERS_FOR_ENUMS)
                .changeDefaultNullHandling(nulls -> nulls.withContentNulls(Nulls.FAIL))
                .addModule(module);
    }

    /** The same for what stands in addresses, before anything looks at it. */
    @Bean
    FilterRegistrationBean<OncePerRequestFilter> checkedAddresses() {
        FilterRegistrationBean<OncePerRequestFilter> filter = new FilterRegistrationBean<>(new OfAddress());
        filter.setOrder(Ordered.HIGHEST_PRECEDENCE);
        return filter;
    }

    /** Days that stand in addresses. */
    @Bean
    DayOfAddress dayOfAddress() {
        return new DayOfAddress();
    }

    static final class DayOfAddress implements Converter<String, LocalDate> {
        @Override
        public LocalDate convert(String text) {
            LocalDate day = LocalDate.parse(text.strip());
            Texts.plausible(day.atStartOfDay(ZoneOffset.UTC).toInstant());
            return day;
        }
    }

    private static final class OfAddress extends OncePerRequestFilter {
        @Override
        protected void doFilterInternal(HttpServletRequest request, HttpServletResponse response, FilterChain chain)
                throws ServletException, IOException {
            try {
                check(request.getRequestURI().replace("+", "%2B"));
                if (request.getQueryString() != null) {
                    check(request.getQueryString());
                }
            } catch (CharacterCodingException | IllegalArgumentException e) {
                response.setStatus(HttpStatus.BAD_REQUEST.value());
                response.setContentType(MediaType.APPLICATION_PROBLEM_JSON_VALUE);
                response.getWriter()
                        .write(
                                "{\"status\":400,\"title\":\"Bad Request\",\"detail\":\"The address holds what is no text: it must be well-formed UTF-8 without control characters.\"}");
                return;
            }
            chain.doFilter(request, response);
        }

        private static void check(String encoded) throws CharacterCodingException {
            byte[] bytes =
                    URLDecoder.decode(encoded, StandardCharsets.ISO_8859_1).getBytes(StandardCharsets.ISO_8859_1);
            Texts.prose(StandardCharsets.UTF_8
                    .newDecoder()
                    .decode(ByteBuffer.wrap(bytes))
                    .toString());
        }
    }

    private static final class OfText extends StdScalarDeserializer<String> {
        OfText() {
            super(String.class);
        }

        @Override
        public String deserialize(JsonParser in, DeserializationContext context) {
            if (in.currentToken() != JsonToken.VALUE_STRING) {
                return (String) context.handleUnexpectedToken(String.class, in);
            }
            try {
                return Texts.prose(in.getString());
            } catch (IllegalArgumentException e) {
                throw new UnfitTextException(in.currentName(), e.getMessage());
            }
        }
    }

    private static final class OfDay extends StdScalarDeserializer<LocalDate> {
        OfDay() {
            super(LocalDate.class);
        }

        @Override
        public LocalDate deserialize(JsonParser in, DeserializationContext context) {
            String text = text(in, context, LocalDate.class);
            try {
                LocalDate day = LocalDate.parse(text);
                Texts.plausible(day.atStartOfDay(ZoneOffset.UTC).toInstant());
                return day;
            } catch (DateTimeException e) {
                throw new UnfitTextException(in.currentName(), "'" + text + "' is no day such as 2026-12-14");
            } catch (IllegalArgumentException e) {
                throw new UnfitTextException(in.currentName(), "'" + text + "' lies outside the years 1990 to 2100");
            }
        }
    }

    private static final class OfInstant extends StdScalarDeserializer<Instant> {
        OfInstant() {
            super(Instant.class);
        }

        @Override
        public Instant deserialize(JsonParser in, DeserializationContext context) {
            String text = text(in, context, Instant.class);
            try {
                return Texts.plausible(Instant.parse(text));
            } catch (DateTimeException e) {
                throw new UnfitTextException(
                        in.currentName(), "'" + text + "' is no instant such as 2026-12-14T09:00:00Z");
            } catch (IllegalArgumentException e) {
                throw new UnfitTextException(in.currentName(), e.getMessage());
            }
        }
    }

    private static String text(JsonParser in, DeserializationContext context, Class<?> type) {
        return in.currentToken() == JsonToken.VALUE_STRING
                ? in.getString().strip()
                : (String) context.handleUnexpectedToken(type, in);
    }

    /** A text that cannot be taken; its message begins with the field. */
    static final class UnfitTextException extends IllegalArgumentException {
        UnfitTextException(String field, String reason) {
            super((field == null ? "body" : field) + ": " + reason);
        }
    }
}
