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
import lucid.core.fleet.HostName;
import lucid.core.fleet.PopulationId;
import lucid.core.fleet.Spread;
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
            boolean outsideWindows,
            boolean byOperator,
            boolean removes) {

        /** @param pilots all of them, by their numbers */
        Verdict verdict(Map<Long, Pilot> pilots, Lists lists) {
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
                    new Verdict.Delivery(
                            Duration.ofSeconds(allowanceSeconds),
                            outsideWindows,
                            Optional.ofNullable(lists.parts().get(number)).map(Spread::new),
                            byOperator
                                    ? Optional.of(new Verdict.ByOperator(
                                            lists.steps().getOrDefault(number, List.of()),
                                            lists.order().getOrDefault(number, List.of())))
                                    : Optional.empty(),
                            removes),
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

    /** What belongs to verdicts and stands in tables of its own, by their numbers and in its order. */
    record Lists(Map<Long, List<Spread.Part>> parts, Map<Long, List<String>> steps, Map<Long, List<HostName>> order) {}

    /** @param hosts serialized bitmap */
    record PartRow(long verdict, Instant ends, byte[] hosts) {}

    record TextRow(long verdict, String text) {}

    @Select("select verdict, ends, hosts from verdict_part order by verdict, place")
    List<PartRow> parts();

    @Select("select verdict, words as text from verdict_step order by verdict, place")
    List<TextRow> steps();

    @Select("select verdict, host as text from verdict_host_order order by verdict, place")
    List<TextRow> hostOrder();

    /** All of them, in the order in which they were handed down. */
    default List<Verdict> all(Map<Long, Pilot> pilots) {
        Lists lists = new Lists(
                parts().stream()
                        .collect(Collectors.groupingBy(
                                PartRow::verdict,
                                Collectors.mapping(
                                        row -> new Spread.Part(row.ends(), Bitmaps.read(row.hosts())),
                                        Collectors.toList()))),
                steps().stream()
                        .collect(Collectors.groupingBy(
                                TextRow::verdict, Collectors.mapping(TextRow::text, Collectors.toList()))),
                hostOrder().stream()
                        .collect(Collectors.groupingBy(
                                TextRow::verdict,
                                Collectors.mapping(row -> new HostName(row.text()), Collectors.toList()))));
        return rows().stream().map(row -> row.verdict(pilots, lists)).toList();
    }

    @Select("""
            select number, update_id, revision, population, narrowing, type, ends, words, author, created_at, revoked_at, hosts, named, lapsed, pilot, approver, allowance_seconds, outside_windows, by_operator, removes,
              (select listagg(r.reason, ',') from verdict_reason r where r.verdict = v.number) as reasons,
              (select listagg(o.overridden, ',') from verdict_override o where o.verdict = v.number) as overrides,
              (select listagg(e.overridden, ',') from verdict_overridden_exception e where e.verdict = v.number) as overridden_exceptions,
              (select listagg(f.overridden, ',') from verdict_overridden_freeze f where f.verdict = v.number) as overridden_freezes
            from verdict v order by number""")
    List<Row> rows();

    default void add(Verdict verdict) {
        addRow(
                verdict,
                verdict.narrowing().map(Object::toString).orElse(null),
                Bitmaps.write(verdict.then().decided()),
                Bitmaps.write(verdict.then().named()),
                verdict.pilot().map(pilot -> pilot.number().value()).orElse(null),
                verdict.origin().approver().orElse(null),
                verdict.delivery().byOperator().isPresent());
        addLists(verdict.number().value(), verdict.delivery());
        verdict.reasons().forEach(reason -> addReason(verdict.number().value(), reason));
        verdict.overrides().forEach(overridden -> addOverride(verdict.number().value(), overridden.value()));
        verdict.overriddenExceptions()
                .forEach(overridden -> addOverriddenException(verdict.number().value(), overridden.value()));
        verdict.goesOver()
                .freezes()
                .forEach(overridden -> addOverriddenFreeze(verdict.number().value(), overridden.value()));
    }

    @Insert("""
            insert into verdict (number, update_id, revision, population, narrowing, type, ends, words, author, created_at, hosts, named, pilot, approver, allowance_seconds, outside_windows, by_operator, removes)
            values (#{v.number.value}, #{v.updateId.value}, #{v.revision}, #{v.populationId.value}, #{narrowing}, #{v.type}, #{v.end}, #{v.words}, #{v.author}, #{v.createdAt}, #{hosts}, #{named}, #{pilot}, #{approver},
              #{v.delivery.allowance.seconds}, #{v.delivery.outsideWindows}, #{byOperator}, #{v.delivery.removes})""")
    void addRow(
            @Param("v") Verdict verdict,
            @Param("narrowing") String narrowing,
            @Param("hosts") byte[] hosts,
            @Param("named") byte[] named,
            @Param("pilot") Long pilot,
            @Param("approver") String approver,
            @Param("byOperator") boolean byOperator);

    private void addLists(long verdict, Verdict.Delivery delivery) {
        List<Spread.Part> parts = delivery.spread().map(Spread::parts).orElse(List.of());
        for (int place = 0; place < parts.size(); place++) {
            addPart(
                    verdict,
                    place,
                    parts.get(place).at(),
                    Bitmaps.write(parts.get(place).hosts()));
        }
        delivery.byOperator().ifPresent(told -> {
            for (int place = 0; place < told.checklist().size(); place++) {
                addStep(verdict, place, told.checklist().get(place));
            }
            for (int place = 0; place < told.order().size(); place++) {
                addToOrder(verdict, place, told.order().get(place).value());
            }
        });
    }

    @Insert("insert into verdict_part (verdict, place, ends, hosts) values (#{verdict}, #{place}, #{ends}, #{hosts})")
    void addPart(
            @Param("verdict") long verdict,
            @Param("place") int place,
            @Param("ends") Instant ends,
            @Param("hosts") byte[] hosts);

    @Insert("insert into verdict_step (verdict, place, words) values (#{verdict}, #{place}, #{words})")
    void addStep(@Param("verdict") long verdict, @Param("place") int place, @Param("words") String words);

    @Insert("insert into verdict_host_order (verdict, place, host) values (#{verdict}, #{place}, #{host})")
    void addToOrder(@Param("verdict") long verdict, @Param("place") int place, @Param("host") String host);

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
