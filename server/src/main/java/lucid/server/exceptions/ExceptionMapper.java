package lucid.server.exceptions;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import lucid.core.fleet.HostConditions;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Effect;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.update.Kind;
import lucid.core.update.Product;
import lucid.core.update.UpdateId;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** The table of exceptions. */
@Mapper
interface ExceptionMapper {

    enum ScopeType {
        UPDATE,
        PRODUCT,
        KIND
    }

    record Row(
            long number,
            ScopeType scopeType,
            String scope,
            String hosts,
            Effect effect,
            Instant ends,
            String reason,
            String owner,
            String measure,
            String author,
            Instant createdAt,
            Instant revokedAt,
            Long goesOnFrom,
            int renewals,
            ExceptionGrant.EndsWhen.Type endsWhen,
            String endsIssue,
            Instant endedEarly,
            String approver) {

        static Row of(ExceptionGrant e) {
            return new Row(
                    e.number().value(),
                    typeOf(e.scope()),
                    textOf(e.scope()),
                    e.hosts().toString(),
                    e.effect(),
                    e.until(),
                    e.reason(),
                    e.owner(),
                    e.measure(),
                    e.author(),
                    e.createdAt(),
                    e.revokedAt().orElse(null),
                    e.before().isEmpty()
                            ? null
                            : e.before().get(e.before().size() - 1).value(),
                    e.renewals(),
                    e.endsWhen().map(ExceptionGrant.EndsWhen::type).orElse(null),
                    e.endsWhen().map(ExceptionGrant.EndsWhen::issue).orElse(null),
                    e.endsWhen().flatMap(ExceptionGrant.EndsWhen::cameTrue).orElse(null),
                    e.approver().orElse(null));
        }

        /** @param before those that it goes on from, the first one first */
        ExceptionGrant exception(List<DecisionNumber.OfException> before) {
            return new ExceptionGrant(
                    new DecisionNumber.OfException(number),
                    scopeOf(scopeType, scope),
                    HostConditions.parse(hosts),
                    effect,
                    ends,
                    reason,
                    owner,
                    measure,
                    author,
                    createdAt,
                    Optional.ofNullable(revokedAt),
                    before,
                    renewals,
                    Optional.ofNullable(endsWhen)
                            .map(type -> new ExceptionGrant.EndsWhen(type, endsIssue, Optional.ofNullable(endedEarly))),
                    Optional.ofNullable(approver));
        }
    }

    static ScopeType typeOf(ExceptionGrant.Scope scope) {
        if (scope instanceof ExceptionGrant.Scope.OfUpdate) {
            return ScopeType.UPDATE;
        }
        return scope instanceof ExceptionGrant.Scope.OfProduct ? ScopeType.PRODUCT : ScopeType.KIND;
    }

    static String textOf(ExceptionGrant.Scope scope) {
        if (scope instanceof ExceptionGrant.Scope.OfUpdate update) {
            return update.updateId().value();
        }
        return scope instanceof ExceptionGrant.Scope.OfProduct product
                ? product.product().purl()
                : ((ExceptionGrant.Scope.OfKind) scope).kind().name();
    }

    /** As a sentence names it. */
    static String wordsOf(ExceptionGrant.Scope scope) {
        return (scope instanceof ExceptionGrant.Scope.OfKind ? "every update of kind " : "") + textOf(scope);
    }

    static ExceptionGrant.Scope scopeOf(ScopeType type, String text) {
        return switch (type) {
            case UPDATE -> new ExceptionGrant.Scope.OfUpdate(new UpdateId(text));
            case PRODUCT -> new ExceptionGrant.Scope.OfProduct(new Product(text));
            case KIND -> new ExceptionGrant.Scope.OfKind(Kind.valueOf(text));
        };
    }

    @Select(
            "select number, scope_type, scope, hosts, effect, ends, reason, owner, measure, author, created_at, revoked_at, goes_on_from, renewals, ends_when, ends_issue, ended_early, approver from exception_grant order by number")
    List<Row> all();

    @Insert("""
            insert into exception_grant (number, scope_type, scope, hosts, effect, ends, reason, owner, measure, author, created_at, goes_on_from, renewals,
              ends_when, ends_issue, approver)
            values (#{number}, #{scopeType}, #{scope}, #{hosts}, #{effect}, #{ends}, #{reason}, #{owner}, #{measure}, #{author}, #{createdAt}, #{goesOnFrom}, #{renewals},
              #{endsWhen}, #{endsIssue}, #{approver})""")
    void add(Row exception);

    @Update("update exception_grant set ended_early = #{at} where number = #{number} and ended_early is null")
    int endEarly(@Param("number") long number, @Param("at") Instant at);

    /** Numbers of those whose day has passed without that being told; the rest ended otherwise. */
    @Select("""
            select number from exception_grant
            where ends <= #{now} and not lapse_told and revoked_at is null and ended_early is null order by number""")
    List<Long> lapsedUntold(@Param("now") Instant now);

    @Update("update exception_grant set lapse_told = true where number = #{number}")
    void toldLapse(@Param("number") long number);

    @Update("update exception_grant set revoked_at = #{at} where number = #{number} and revoked_at is null")
    int takeBack(@Param("number") long number, @Param("at") Instant at);
}
