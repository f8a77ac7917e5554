package lucid.server.evidence;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import java.util.function.UnaryOperator;
import lucid.core.weighing.Weights;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotPart;
import org.springframework.stereotype.Component;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ObjectNode;

/** The settings of the weighing as they are stored: every time they were changed, whole. */
@Component
class StoredWeights implements SnapshotPart {

    private final EvidenceMapper mapper;
    private final JsonMapper json;

    StoredWeights(EvidenceMapper mapper, JsonMapper json) {
        this.mapper = mapper;
        this.json = json;
    }

    @Override
    public UnaryOperator<Snapshot> load() {
        Weights newest = newest().map(this::weights).orElse(Weights.USUAL);
        return snapshot -> snapshot.with(newest);
    }

    /** What an older version did not know yet is as in a new instance. */
    private Weights weights(EvidenceMapper.WeightsRow row) {
        ObjectNode whole = json.valueToTree(Weights.USUAL);
        fill(whole, json.readTree(row.content()));
        return json.treeToValue(whole, Weights.class);
    }

    private static void fill(ObjectNode whole, JsonNode stored) {
        stored.properties().forEach(entry -> {
            if (entry.getValue().isObject() && whole.path(entry.getKey()).isObject()) {
                fill((ObjectNode) whole.get(entry.getKey()), entry.getValue());
            } else if (whole.has(entry.getKey())) {
                whole.set(entry.getKey(), entry.getValue());
            }
        });
    }

    Optional<EvidenceMapper.WeightsRow> newest() {
        return mapper.weights(1).stream().findFirst();
    }

    /** Those that held before the newest ones; empty if these are not number {@code newest}. */
    Optional<Weights> before(long newest) {
        List<EvidenceMapper.WeightsRow> rows = mapper.weights(2);
        if (rows.isEmpty() || rows.get(0).number() != newest) {
            return Optional.empty();
        }
        return Optional.of(rows.size() < 2 ? Weights.USUAL : weights(rows.get(1)));
    }

    /**
     * Within {@link lucid.server.snapshot.SnapshotStore#write}.
     *
     * @return their number
     */
    long keep(Weights weights, String author, Instant createdAt) {
        mapper.addWeights(json.writeValueAsString(weights), author, createdAt);
        return newest().orElseThrow().number();
    }
}
