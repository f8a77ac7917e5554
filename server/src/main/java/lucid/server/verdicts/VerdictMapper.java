package lucid.server.verdicts;

import java.time.Instant;
import java.util.Arrays;
import java.util.Collection;
import java.util.List;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import lucid.core.fleet.Predicates;
import lucid.core.ruling.ReasonWord;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.server.state.Bitmaps;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;
import org.roaringbitmap.RoaringBitmap;

/** The table of verdicts. */
@Mapper
public interface VerdictMapper {

    /** @param hosts serialized bitmap of the hosts that it was for at that moment */
    record Row(long number, String updateId, String revision, String population, String narrowing, VerdictType type, Instant ends, String reasons,
            String words, String author, Instant handedDown, String overrides, String overriddenExceptions, Instant takenBack, byte[] hosts, byte[] named, Instant lapsed) {

        static Row of(Verdict v, byte[] hosts) {
            return new Row(v.number(), v.updateId(), v.revision(), v.populationId(), v.narrowing().map(Object::toString).orElse(null), v.type(), v.end(),
                    join(v.reasons()), v.words(), v.author(), v.handedDown(), join(v.overrides()), join(v.overriddenExceptions()),
                    v.takenBack().orElse(null), hosts, Bitmaps.write(v.named()), v.lapsed().orElse(null));
        }

        public Verdict verdict() {
            return new Verdict(number, updateId, revision, population, Optional.ofNullable(narrowing).map(Predicates::parse), type, ends,
                    split(reasons).map(ReasonWord::valueOf).collect(Collectors.toUnmodifiableSet()), words, author, handedDown,
                    numbers(overrides), numbers(overriddenExceptions), named == null ? new RoaringBitmap() : Bitmaps.read(named), Optional.ofNullable(takenBack), Optional.ofNullable(lapsed));
        }

        private static String join(Collection<?> parts) {
            return parts.stream().map(Object::toString).sorted().collect(Collectors.joining(","));
        }

        private static Stream<String> split(String text) {
            return Arrays.stream(text.split(",")).filter(part -> !part.isEmpty());
        }

        private static Set<Long> numbers(String text) {
            return split(text).map(Long::valueOf).collect(Collectors.toUnmodifiableSet());
        }
    }

    @Select("""
            select number, update_id, revision, population, narrowing, type, ends, reasons, words, author, handed_down, overrides,
              overridden_exceptions, taken_back, hosts, named, lapsed
            from verdict order by number""")
    List<Row> all();

    @Insert("""
            insert into verdict (number, update_id, revision, population, narrowing, type, ends, reasons, words, author, handed_down, overrides,
              overridden_exceptions, hosts, named)
            values (#{number}, #{updateId}, #{revision}, #{population}, #{narrowing}, #{type}, #{ends}, #{reasons}, #{words}, #{author}, #{handedDown},
              #{overrides}, #{overriddenExceptions}, #{hosts}, #{named})""")
    void add(Row verdict);

    @Update("update verdict set taken_back = #{at} where number = #{number} and taken_back is null")
    int takeBack(@Param("number") long number, @Param("at") Instant at);
}
