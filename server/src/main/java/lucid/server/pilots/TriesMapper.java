package lucid.server.pilots;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import lucid.core.fleet.PopulationId;
import lucid.core.ruling.TriesShown;
import lucid.core.update.UpdateId;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;

/** The table of what tries have shown. */
@Mapper
interface TriesMapper {

    record Row(String updateId, String population, Instant metAt, Instant failedAt) {
        TriesShown shown() {
            return new TriesShown(
                    new UpdateId(updateId),
                    new PopulationId(population),
                    Optional.ofNullable(metAt),
                    Optional.ofNullable(failedAt));
        }
    }

    @Select("select update_id, population, met_at, failed_at from tries_shown")
    List<Row> all();

    default void put(TriesShown shown) {
        put(
                shown.updateId().value(),
                shown.population().value(),
                shown.metAt().orElse(null),
                shown.failedAt().orElse(null));
    }

    @Insert("""
            merge into tries_shown (update_id, population, met_at, failed_at) key (update_id, population)
            values (#{update}, #{population}, #{metAt}, #{failedAt})""")
    void put(
            @Param("update") String update,
            @Param("population") String population,
            @Param("metAt") Instant metAt,
            @Param("failedAt") Instant failedAt);
}
