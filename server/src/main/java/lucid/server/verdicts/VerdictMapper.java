package lucid.server.verdicts;

import java.time.Duration;
import java.time.Instant;
import java.util.Arrays;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.function.LongFunction;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import lucid.core.fleet.HostConditions;
import lucid.core.fleet.PopulationId;
import lucid.core.pilot.Pilot;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.ReasonWord;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.UpdateId;
import lucid.server.snapshot.Bitmaps;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;
import org.roaringbitmap.RoaringBitmap;

/** The tables of verdicts. */
@Mapper
interface VerdictMapper {

    /**
     * Lists stand in tables of their own, and are read with commas; null: none.
     *
     * @param hosts serialized bitmap of the hosts that it was for at that moment
     */
    record Row(
            long number,
            String updateId,
            String revision,
            String population,
            String narrowing,
            VerdictType type,
            Instant ends,
            String reasons,
            String words,
            String author,
            Instant createdAt,
            String overrides,
            String overriddenExceptions,
            String overriddenFreezes,
            Instant revokedAt,
            byte[] hosts,
            byte[] named,
            Instant lapsed,
            Long pilot,
            String approver,
            long allowanceSeconds,
            boolean outsideWindows) {

        /** @param pilots all of them, by their numbers */
        public Verdict verdict(Map<Long, Pilot> pilots) {
            return new Verdict(
                    new DecisionNumber.OfVerdict(number),
                    new Verdict.Subject(
                            new UpdateId(updateId),
                            revision,
                            new PopulationId(population),
                            Optional.ofNullable(narrowing).map(HostConditions::parse)),
                    type,
                    ends,
                    new Verdict.Reason(
                            split(reasons).map(ReasonWord::valueOf).collect(Collectors.toUnmodifiableSet()), words),
                    new Verdict.Origin(author, createdAt, Optional.ofNullable(approver)),
                    new Verdict.Overrides(
                            numbers(overrides, DecisionNumber.OfVerdict::new),
                            numbers(overriddenExceptions, DecisionNumber.OfException::new),
                            numbers(overriddenFreezes, DecisionNumber.OfFreeze::new)),
                    new Verdict.Delivery(Duration.ofSeconds(allowanceSeconds), outsideWindows),
                    new Verdict.Moment(named == null ? new RoaringBitmap() : Bitmaps.read(named), Bitmaps.read(hosts)),
                    Optional.ofNullable(revokedAt),
                    Optional.ofNullable(lapsed),
                    Optional.ofNullable(pilot).map(pilots::get));
        }

        private static Stream<String> split(String text) {
            return text == null ? Stream.empty() : Arrays.stream(text.split(","));
        }

        private static <N> Set<N> numbers(String text, LongFunction<N> number) {
            return split(text).map(one -> number.apply(Long.parseLong(one))).collect(Collectors.toUnmodifiableSet());
        }
    }

    @Select("""
            select number, update_id, revision, population, narrowing, type, ends, words, author, created_at, revoked_at, hosts, named, lapsed, pilot, approver, allowance_seconds, outside_windows,
              (select listagg(r.reason, ',') from verdict_reason r where r.verdict = v.number) as reasons,
              (select listagg(o.overridden, ',') from verdict_override o where o.verdict = v.number) as overrides,
              (select listagg(e.overridden, ',') from verdict_overridden_exception e where e.verdict = v.number) as overridden_exceptions,
              (select listagg(f.overridden, ',') from verdict_overridden_freeze f where f.verdict = v.number) as overridden_freezes
            from verdict v order by number""")
    List<Row> all();

    default void add(Verdict verdict) {
        addRow(
                verdict,
                verdict.narrowing().map(Object::toString).orElse(null),
                Bitmaps.write(verdict.then().decided()),
                Bitmaps.write(verdict.then().named()),
                verdict.pilot().map(pilot -> pilot.number().value()).orElse(null),
                verdict.origin().approver().orElse(null));
        verdict.reasons().forEach(reason -> addReason(verdict.number().value(), reason));
        verdict.overrides().forEach(overridden -> addOverride(verdict.number().value(), overridden.value()));
        verdict.overriddenExceptions()
                .forEach(overridden -> addOverriddenException(verdict.number().value(), overridden.value()));
        verdict.goesOver()
                .freezes()
                .forEach(overridden -> addOverriddenFreeze(verdict.number().value(), overridden.value()));
    }

    @Insert("""
            insert into verdict (number, update_id, revision, population, narrowing, type, ends, words, author, created_at, hosts, named, pilot, approver, allowance_seconds, outside_windows)
            values (#{v.number.value}, #{v.updateId.value}, #{v.revision}, #{v.populationId.value}, #{narrowing}, #{v.type}, #{v.end}, #{v.words}, #{v.author}, #{v.createdAt}, #{hosts}, #{named}, #{pilot}, #{approver},
              #{v.delivery.allowance.seconds}, #{v.delivery.outsideWindows})""")
    void addRow(
            @Param("v") Verdict verdict,
            @Param("narrowing") String narrowing,
            @Param("hosts") byte[] hosts,
            @Param("named") byte[] named,
            @Param("pilot") Long pilot,
            @Param("approver") String approver);

    @Insert("insert into verdict_reason (verdict, reason) values (#{verdict}, #{reason})")
    void addReason(@Param("verdict") long verdict, @Param("reason") ReasonWord reason);

    @Insert("insert into verdict_override (verdict, overridden) values (#{verdict}, #{overridden})")
    void addOverride(@Param("verdict") long verdict, @Param("overridden") long overridden);

    @Insert("insert into verdict_overridden_exception (verdict, overridden) values (#{verdict}, #{overridden})")
    void addOverriddenException(@Param("verdict") long verdict, @Param("overridden") long overridden);

    @Insert("insert into verdict_overridden_freeze (verdict, overridden) values (#{verdict}, #{overridden})")
    void addOverriddenFreeze(@Param("verdict") long verdict, @Param("overridden") long overridden);

    @Update("update verdict set revoked_at = #{at} where number = #{number} and revoked_at is null")
    int takeBack(@Param("number") long number, @Param("at") Instant at);
}
