package lucid.server.snapshot;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.util.Optional;
import lucid.server.web.ProblemException;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.springframework.stereotype.Component;
import tools.jackson.databind.json.JsonMapper;

/** What was answered to requests with a key, for a week. */
@Component
public class AnsweredRequests {

    private static final Duration KEPT = Duration.ofDays(7);

    /** The table of answered requests. */
    @Mapper
    interface Table {

        record Row(String request, String answer) {}

        @Select("select request, answer from answered_request where caller = #{caller} and id = #{id}")
        Optional<Row> find(@Param("caller") String caller, @Param("id") String id);

        @Insert(
                "insert into answered_request (caller, id, request, answer, answered) values (#{key.caller}, #{key.id}, #{key.digest}, #{answer}, #{at})")
        void add(@Param("key") RequestKey key, @Param("answer") String answer, @Param("at") Instant at);

        @Delete("delete from answered_request where answered < #{before}")
        void forget(@Param("before") Instant before);
    }

    private final Table table;
    private final JsonMapper json;
    private final Clock clock;

    AnsweredRequests(Table table, JsonMapper json, Clock clock) {
        this.table = table;
        this.json = json;
        this.clock = clock;
    }

    /** The answer to the same request, if it was carried out before. */
    public <T> Optional<T> find(RequestKey key, Class<T> type) {
        return table.find(key.caller(), key.id()).map(row -> {
            if (!row.request().equals(key.digest())) {
                throw ProblemException.badField("Idempotency-Key", "this key was used for another request");
            }
            return json.readValue(row.answer(), type);
        });
    }

    void keep(RequestKey key, Object answer) {
        table.forget(clock.instant().minus(KEPT));
        table.add(key, json.writeValueAsString(answer), clock.instant());
    }
}
