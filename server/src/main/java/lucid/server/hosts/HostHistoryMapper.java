package lucid.server.hosts;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.SortedSet;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.Outcome;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;

/** What is stored of a host's past. */
@Mapper
interface HostHistoryMapper {

    /** @param fromVersion null where it was not there before; @param toVersion null where it is gone */
    record Change(String build, String fromVersion, String toVersion, Instant at) {}

    record Happened(
            String update, String revision, Outcome.What what, Instant at, String code, FailureClass failureClass) {}

    /** @param traits as the host itself tells them */
    record Beginning(Instant firstReport, String traits) {}

    @Select(
            "select build, from_version, to_version, at from product_change where host = #{host} order by at desc, build limit #{limit}")
    List<Change> changes(@Param("host") int host, @Param("limit") int limit);

    @Select(
            "select update_id as \"update\", revision, what, at, code, failure_class from outcome where host = #{host} order by at desc limit #{limit}")
    List<Happened> outcomes(@Param("host") int host, @Param("limit") int limit);

    record OutcomeOfHost(int host, String update, Outcome.What what, Instant at, String code) {}

    @Select("select host, update_id as \"update\", what, at, code from outcome where at > #{after} order by at, host")
    List<OutcomeOfHost> outcomesSince(Instant after);

    /** What changed on a host. */
    record ChangeOfHost(int host, String build, String fromVersion, Instant at) {}

    /**
     * Of some products. A build is written as its product, which has no space, and what it is for. The database looks
     * through all that ever changed: what lies outside of the products in the order of their names is passed over
     * first, since that costs a third of telling the product of each.
     *
     * @param products package URLs, at least one
     * @param first of them in their order
     * @param last of them in their order
     */
    @Select("""
            <script>
            select host, build, from_version, at from product_change
            where build &gt;= #{first} and build &lt; #{last} || '!' and at &gt; #{after} and left(build, locate(' ', build || ' ') - 1) in
            <foreach item="product" collection="products" open="(" separator="," close=")">#{product}</foreach>
            </script>""")
    List<ChangeOfHost> changesBetween(
            @Param("after") Instant after,
            @Param("products") Collection<String> products,
            @Param("first") String first,
            @Param("last") String last);

    /** What changed on hosts after an instant, of some products alone. */
    default List<ChangeOfHost> changesAfter(Instant after, SortedSet<String> products) {
        return products.isEmpty() ? List.of() : changesBetween(after, products, products.first(), products.last());
    }

    record FirstReport(int number, Instant firstReport) {}

    @Select("select number, first_report from host where first_report > #{after}")
    List<FirstReport> begunAfter(Instant after);

    @Select("select first_report, traits from host where number = #{host}")
    Beginning beginning(int host);
}
