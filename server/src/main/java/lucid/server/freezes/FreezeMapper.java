package lucid.server.freezes;

import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import lucid.core.fleet.PopulationId;
import lucid.core.fleet.Spread;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Freeze;
import lucid.server.snapshot.Bitmaps;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** The tables of freezes. */
@Mapper
interface FreezeMapper {

    /** @param populations with commas; null: all */
    record Row(
            long number,
            Instant begins,
            Instant ends,
            String reason,
            String author,
            Instant createdAt,
            Instant revokedAt,
            String populations) {
        /** @param parts of its end, the earliest first; none: it ends for all at once */
        Freeze freeze(List<Spread.Part> parts) {
            return new Freeze(
                    new DecisionNumber.OfFreeze(number),
                    populations == null
                            ? Set.of()
                            : Arrays.stream(populations.split(","))
                                    .map(PopulationId::new)
                                    .collect(Collectors.toSet()),
                    begins,
                    ends,
                    parts.isEmpty() ? Optional.empty() : Optional.of(new Spread(parts)),
                    reason,
                    author,
                    createdAt,
                    Optional.ofNullable(revokedAt));
        }
    }

    /** @param hosts serialized bitmap */
    record PartRow(long freeze, Instant ends, byte[] hosts) {}

    @Select("select freeze, ends, hosts from freeze_part order by freeze, place")
    List<PartRow> parts();

    @Select("""
            select number, begins, ends, reason, author, created_at, revoked_at,
              (select listagg(p.population, ',') from freeze_population p where p.freeze = f.number) as populations
            from freeze f order by number""")
    List<Row> rows();

    default List<Freeze> all() {
        Map<Long, List<Spread.Part>> parts = parts().stream()
                .collect(Collectors.groupingBy(
                        PartRow::freeze,
                        Collectors.mapping(
                                part -> new Spread.Part(part.ends(), Bitmaps.read(part.hosts())),
                                Collectors.toList())));
        return rows().stream()
                .map(row -> row.freeze(parts.getOrDefault(row.number(), List.of())))
                .toList();
    }

    @Insert("""
            insert into freeze (number, begins, ends, reason, author, created_at)
            values (#{f.number.value}, #{f.from}, #{f.until}, #{f.reason}, #{f.author}, #{f.createdAt})""")
    void addRow(@Param("f") Freeze freeze);

    @Insert("insert into freeze_population (freeze, population) values (#{freeze}, #{population})")
    void addPopulation(@Param("freeze") long freeze, @Param("population") String population);

    @Insert("insert into freeze_part (freeze, place, ends, hosts) values (#{freeze}, #{place}, #{ends}, #{hosts})")
    void addPart(
            @Param("freeze") long freeze,
            @Param("place") int place,
            @Param("ends") Instant ends,
            @Param("hosts") byte[] hosts);

    default void add(Freeze freeze) {
        addRow(freeze);
        freeze.spread().ifPresent(spread -> {
            for (int place = 0; place < spread.parts().size(); place++) {
                Spread.Part part = spread.parts().get(place);
                addPart(freeze.number().value(), place, part.at(), Bitmaps.write(part.hosts()));
            }
        });
        freeze.populations().forEach(population -> addPopulation(freeze.number().value(), population.value()));
    }

    @Update("update freeze set revoked_at = #{at} where number = #{number} and revoked_at is null")
    int takeBack(@Param("number") long number, @Param("at") Instant at);
}
