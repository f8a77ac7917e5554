package lucid.server.evidence;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import lucid.core.weighing.Weights;
import org.springframework.stereotype.Component;
import tools.jackson.databind.json.JsonMapper;

/** The settings of the weighing as they are stored: every time they were changed, whole. */
@Component
public class StoredWeights {

    private final EvidenceMapper mapper;
    private final JsonMapper json;

    StoredWeights(EvidenceMapper mapper, JsonMapper json) {
        this.mapper = mapper;
        this.json = json;
    }

    public Weights stored() {
        return newest().map(row -> json.readValue(row.content(), Weights.class)).orElse(Weights.USUAL);
    }

    Optional<EvidenceMapper.WeightsRow> newest() {
        List<EvidenceMapper.WeightsRow> rows = mapper.weights(1);
        return rows.stream().findFirst();
    }

    /** Within {@link lucid.server.snapshot.SnapshotStore#write}. */
    void keep(Weights weights, String author, Instant since) {
        mapper.addWeights(new EvidenceMapper.WeightsRow(json.writeValueAsString(weights), author, since));
    }
}
