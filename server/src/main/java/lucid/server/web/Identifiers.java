package lucid.server.web;

import com.fasterxml.jackson.annotation.JsonCreator;
import com.fasterxml.jackson.annotation.JsonValue;
import lucid.core.fleet.HostName;
import lucid.core.fleet.PopulationId;
import lucid.core.pilot.PilotNumber;
import lucid.core.ruling.DecisionNumber;
import lucid.core.update.UpdateId;
import org.springdoc.core.utils.SpringDocUtils;
import org.springframework.boot.jackson.autoconfigure.JsonMapperBuilderCustomizer;
import org.springframework.context.annotation.Bean;
import org.springframework.context.annotation.Configuration;

/** Identifiers have types of their own here; whoever speaks to the API sees plain texts and numbers. */
@Configuration
class Identifiers {

    static {
        SpringDocUtils.getConfig()
                .replaceWithClass(UpdateId.class, String.class)
                .replaceWithClass(HostName.class, String.class)
                .replaceWithClass(PopulationId.class, String.class)
                .replaceWithClass(DecisionNumber.class, Long.class)
                .replaceWithClass(DecisionNumber.OfVerdict.class, Long.class)
                .replaceWithClass(PilotNumber.class, Long.class)
                .replaceWithClass(DecisionNumber.OfFreeze.class, Long.class)
                .replaceWithClass(DecisionNumber.OfCaution.class, Long.class)
                .replaceWithClass(DecisionNumber.OfException.class, Long.class)
                .replaceWithClass(DecisionNumber.OfAcknowledgement.class, Long.class);
    }

    /** What their JSON is; nobody calls these. */
    @SuppressWarnings("unused")
    private abstract static class AsText {
        @JsonCreator(mode = JsonCreator.Mode.DELEGATING)
        AsText(String value) {}

        @JsonValue
        abstract String value();
    }

    @SuppressWarnings("unused")
    private abstract static class AsNumber {
        @JsonCreator(mode = JsonCreator.Mode.DELEGATING)
        AsNumber(long value) {}

        @JsonValue
        abstract long value();
    }

    @Bean
    JsonMapperBuilderCustomizer plainIdentifiers() {
        return builder -> builder.addMixIn(UpdateId.class, AsText.class)
                .addMixIn(HostName.class, AsText.class)
                .addMixIn(PopulationId.class, AsText.class)
                .addMixIn(DecisionNumber.OfVerdict.class, AsNumber.class)
                .addMixIn(PilotNumber.class, AsNumber.class)
                .addMixIn(DecisionNumber.OfFreeze.class, AsNumber.class)
                .addMixIn(DecisionNumber.OfCaution.class, AsNumber.class)
                .addMixIn(DecisionNumber.OfException.class, AsNumber.class)
                .addMixIn(DecisionNumber.OfAcknowledgement.class, AsNumber.class);
    }
}
