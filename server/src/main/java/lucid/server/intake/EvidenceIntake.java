package lucid.server.intake;

import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lucid.core.evidence.Evidence;
import lucid.core.evidence.ExploitScore;
import lucid.core.evidence.KnownExploited;
import lucid.formats.Content;
import lucid.server.evidence.EvidenceMapper;
import lucid.server.state.Picture;
import org.springframework.stereotype.Component;

/** Takes what speaks for or against updates. The documents themselves are kept and played again at start; only what they do not tell is stored beside them. */
@Component
public class EvidenceIntake {

    private final EvidenceMapper mapper;

    EvidenceIntake(EvidenceMapper mapper) {
        this.mapper = mapper;
    }

    static boolean takes(Content content) {
        return content instanceof Content.OfScores || content instanceof Content.OfExploited || content instanceof Content.OfStatements || content instanceof Content.OfIssues
                || content instanceof Content.OfReports;
    }

    /** True for what a newer document of its format replaces as a whole. */
    static boolean onlyNewestCounts(Content content) {
        return content instanceof Content.OfScores || content instanceof Content.OfExploited;
    }

    /** Scores of an earlier day than those that are known. */
    boolean isOlder(Evidence known, Content content) {
        return content instanceof Content.OfScores scores && scores.scores().scored().isBefore(known.scores().scored());
    }

    public Picture with(Picture picture, Content content) {
        Evidence evidence = picture.evidence();
        if (content instanceof Content.OfScores scores) {
            return picture.with(scores.scores());
        }
        if (content instanceof Content.OfExploited exploited) {
            return picture.with(evidence.withExploited(exploited.listed()));
        }
        if (content instanceof Content.OfStatements statements) {
            return picture.with(evidence.withStatements(statements.statements()));
        }
        if (content instanceof Content.OfIssues issues) {
            return picture.with(evidence.withIssues(issues.issues()));
        }
        return picture.with(evidence.withReports(((Content.OfReports) content).reports()));
    }

    /** Scores that changed, and weaknesses that are newly listed; within {@link lucid.server.state.State#write}. */
    void store(Evidence before, Evidence after) {
        after.scoreHistory().forEach((cve, history) -> {
            int known = before.scoreHistory().getOrDefault(cve, List.of()).size();
            history.subList(known, history.size()).forEach(mapper::addScore);
        });
        for (KnownExploited listed : after.exploited().values()) {
            if (!before.exploited().containsKey(listed.cve())) {
                mapper.addExploited(listed.cve(), listed.read());
            }
        }
    }

    /** What was known before the documents are played: each score as it was read, and since when weaknesses are listed. */
    public Evidence stored() {
        List<ExploitScore> scores = mapper.scores().stream().map(EvidenceMapper.ScoreRow::score).toList();
        return new Evidence(Evidence.NONE.scores(), Map.of(), Map.of(), Map.of(), Map.of(), Map.of(), mapper.notes().stream().map(EvidenceMapper.NoteRow::note).toList(),
                mapper.strikes().stream().map(EvidenceMapper.StrikeRow::strike).toList()).withHistory(scores);
    }

    /** The catalogue of exploited weaknesses, each as of when it was first read. */
    public Evidence since(Evidence evidence) {
        Map<String, Instant> read = new HashMap<>();
        mapper.exploited().forEach(row -> read.put(row.cve(), row.read()));
        return evidence.readSince(read);
    }
}
