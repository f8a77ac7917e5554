package lucid.server.exceptions;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import lucid.core.fleet.Predicates;
import lucid.core.ruling.Answer;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.update.Kind;
import lucid.core.update.Product;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** The table of exceptions. */
@Mapper
public interface ExceptionMapper {

    enum ScopeType { UPDATE, PRODUCT, KIND }

    record Row(long number, ScopeType scopeType, String scope, String hosts, Answer effect, Instant ends, String reason, String owner, String measure,
            String author, Instant made, Instant takenBack) {

        static Row of(ExceptionGrant e) {
            return new Row(e.number(), typeOf(e.scope()), textOf(e.scope()), e.hosts().toString(), e.effect(), e.until(), e.reason(), e.owner(), e.measure(),
                    e.author(), e.made(), e.takenBack().orElse(null));
        }

        public ExceptionGrant exception() {
            return new ExceptionGrant(number, scopeOf(scopeType, scope), Predicates.parse(hosts), effect, ends, reason, owner, measure, author, made, Optional.ofNullable(takenBack));
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
            return update.updateId();
        }
        return scope instanceof ExceptionGrant.Scope.OfProduct product ? product.product().purl() : ((ExceptionGrant.Scope.OfKind) scope).kind().name();
    }

    static ExceptionGrant.Scope scopeOf(ScopeType type, String text) {
        return switch (type) {
            case UPDATE -> new ExceptionGrant.Scope.OfUpdate(text);
            case PRODUCT -> new ExceptionGrant.Scope.OfProduct(new Product(text));
            case KIND -> new ExceptionGrant.Scope.OfKind(Kind.valueOf(text));
        };
    }

    @Select("select number, scope_type, scope, hosts, effect, ends, reason, owner, measure, author, made, taken_back from exception_grant order by number")
    List<Row> all();

    @Insert("""
            insert into exception_grant (number, scope_type, scope, hosts, effect, ends, reason, owner, measure, author, made)
            values (#{number}, #{scopeType}, #{scope}, #{hosts}, #{effect}, #{ends}, #{reason}, #{owner}, #{measure}, #{author}, #{made})""")
    void add(Row exception);

    @Update("update exception_grant set taken_back = #{at} where number = #{number} and taken_back is null")
    int takeBack(@Param("number") long number, @Param("at") Instant at);
}
