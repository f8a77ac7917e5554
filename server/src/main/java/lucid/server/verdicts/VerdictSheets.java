package lucid.server.verdicts;

import java.util.List;
import java.util.Optional;
import lucid.core.forecast.GroupForecast;
import lucid.core.forecast.LeftOpen;
import lucid.core.reporting.Foresight;
import lucid.core.ruling.Consequence;
import lucid.core.ruling.DecisionNumber;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.verdicts.CasesAtHand.CaseThen;
import lucid.server.verdicts.Wording.Worded;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.roaringbitmap.RoaringBitmap;
import org.slf4j.Logger;
import org.slf4j.LoggerFactory;
import org.springframework.stereotype.Component;
import tools.jackson.core.JacksonException;
import tools.jackson.databind.json.JsonMapper;

/** What was known, and what was foreseen, when verdicts were handed down. */
@Component
public class VerdictSheets {

    private static final Logger LOG = LoggerFactory.getLogger(VerdictSheets.class);

    private final SheetMapper mapper;
    private final JsonMapper json;

    VerdictSheets(SheetMapper mapper, JsonMapper json) {
        this.mapper = mapper;
        this.json = json;
    }

    /** The table of sheets. */
    @Mapper
    interface SheetMapper {
        @Insert("insert into verdict_sheet (verdict, content) values (#{verdict.value}, #{content})")
        void add(@Param("verdict") DecisionNumber.OfVerdict verdict, @Param("content") String content);

        @Select("select content from verdict_sheet where verdict = #{verdict.value}")
        Optional<String> find(@Param("verdict") DecisionNumber.OfVerdict verdict);
    }

    /** @param contained true if only an earlier update that it contains closes it */
    public record OpenThen(String vulnerability, boolean contained, int hosts) {}

    /**
     * What a verdict would do, as it was foreseen; hosts by number.
     *
     * @param carrying had it already
     * @param decided those for which it is what is in force
     * @param claimed lacked it, and something else went on being in force for them
     * @param unknown of the decided ones, their last report was too old to tell
     * @param otherSupply of the decided ones, they took updates from elsewhere
     * @param foresight of what it offers: when they would have it
     * @param leftOpen of what it withholds
     * @param hostDays for which that stays open, over all hosts
     */
    public record ForeseenThen(
            int carrying,
            int decided,
            int claimed,
            int unknown,
            int otherSupply,
            int inBusyHours,
            int late,
            int dueLater,
            int silent,
            int byOthers,
            int notForeseen,
            Foresight foresight,
            List<OpenThen> leftOpen,
            double hostDays) {}

    public record Sheet(CaseThen stood, ForeseenThen foreseen) {}

    /** Only within {@link SnapshotStore#write}. */
    void keep(DecisionNumber.OfVerdict verdict, Worded worded, CaseThen stood) {
        mapper.add(verdict, json.writeValueAsString(new Sheet(stood, foreseen(worded))));
    }

    private static ForeseenThen foreseen(Worded worded) {
        Consequence consequence = worded.consequence();
        Optional<GroupForecast> forecast = worded.foreseen().forecast();
        Optional<LeftOpen> open = worded.foreseen().leftOpen();
        return new ForeseenThen(
                consequence.carrying().getCardinality(),
                consequence.decided().getCardinality(),
                consequence.claimed().stream()
                        .mapToInt(group -> group.hosts().getCardinality())
                        .sum(),
                consequence.unknown().getCardinality(),
                consequence.otherSupply().getCardinality(),
                count(forecast.map(GroupForecast::inBusyHours)),
                count(forecast.map(GroupForecast::late)),
                count(forecast.map(GroupForecast::dueLater)),
                count(forecast.map(GroupForecast::silent)),
                count(forecast.map(GroupForecast::byOthers)),
                count(forecast.map(GroupForecast::notForeseen)),
                new Foresight(forecast.map(GroupForecast::curve).orElse(List.of()).stream()
                        .map(point -> new Foresight.ForeseenPoint(point.at(), point.hosts()))
                        .toList()),
                open.map(LeftOpen::vulnerabilities).orElse(List.of()).stream()
                        .map(one -> new OpenThen(
                                one.id(), one.contained(), one.hosts().getCardinality()))
                        .toList(),
                open.map(LeftOpen::hostDays).orElse(0.0));
    }

    private static int count(Optional<RoaringBitmap> hosts) {
        return hosts.map(RoaringBitmap::getCardinality).orElse(0);
    }

    /** None of verdicts that are older than sheets are, or that followed by themselves from a pilot. */
    public Optional<Sheet> find(DecisionNumber.OfVerdict verdict) {
        return mapper.find(verdict).flatMap(content -> {
            try {
                return Optional.of(json.readValue(content, Sheet.class));
            } catch (JacksonException e) {
                LOG.warn("What was kept with verdict {} can no longer be read: {}", verdict, e.getMessage());
                return Optional.empty();
            }
        });
    }
}
