package lucid.server.hosts;

import java.time.Instant;
import java.util.Collection;
import java.util.List;
import java.util.Set;
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

    @Select("""
            select b.build, c.from_version, c.to_version, c.at
            from product_change c join changed_build b on b.number = c.build
            where c.host = #{host} order by c.at desc, b.build limit #{limit}""")
    List<Change> changes(@Param("host") int host, @Param("limit") int limit);

    @Select(
            "select update_id as \"update\", revision, what, at, code, failure_class from outcome where host = #{host} order by at desc limit #{limit}")
    List<Happened> outcomes(@Param("host") int host, @Param("limit") int limit);

    record OutcomeOfHost(int host, String update, Outcome.What what, Instant at, String code) {}

    @Select("select host, update_id as \"update\", what, at, code from outcome where at > #{after} order by at, host")
    List<OutcomeOfHost> outcomesSince(Instant after);

    /** What changed on a host. */
    record ChangeOfHost(int host, String build, String fromVersion, Instant at) {}

    /** Of some products, at least one, by their package URLs. */
    @Select("""
            <script>
            select c.host, b.build, c.from_version, c.at from changed_build b join product_change c on c.build = b.number
            where b.product in <foreach item="product" collection="products" open="(" separator="," close=")">#{product}</foreach>
              and c.at &gt; #{after}
            </script>""")
    List<ChangeOfHost> changesOf(@Param("products") Collection<String> products, @Param("after") Instant after);

    /** What changed on hosts after an instant, of some products alone. */
    default List<ChangeOfHost> changesAfter(Instant after, Set<String> products) {
        return products.isEmpty() ? List.of() : changesOf(products, after);
    }

    record FirstReport(int number, Instant firstReport) {}

    @Select("select number, first_report from host where first_report > #{after}")
    List<FirstReport> begunAfter(Instant after);

    @Select("select first_report, traits from host where number = #{host}")
    Beginning beginning(int host);
}
