package lucid.server.mappings;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import lucid.core.update.ProductMapping;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;

/** The table of mappings of product names. */
@Mapper
interface MappingMapper {

    /** @param purl null: no host here has it */
    record Row(
            long number,
            String vendor,
            ProductMapping.How how,
            String pattern,
            String purl,
            String reason,
            String author,
            Instant createdAt) {

        ProductMapping mapping() {
            return new ProductMapping(
                    number, vendor, how, pattern, Optional.ofNullable(purl).map(ProductMapping.Target::new));
        }
    }

    /** In use, the newest first. */
    @Select("""
            select number, vendor, how, pattern, purl, reason, author, created_at from product_mapping
            where revoked_at is null order by number desc""")
    List<Row> inUse();

    @Select("select coalesce(max(number), 0) + 1 from product_mapping")
    long next();

    @Insert("""
            insert into product_mapping (number, vendor, how, pattern, purl, reason, author, created_at)
            values (#{number}, #{vendor}, #{how}, #{pattern}, #{purl}, #{reason}, #{author}, #{createdAt})""")
    void add(Row row);

    @Update(
            "update product_mapping set revoked_by = #{who}, revoked_at = #{at} where number = #{number} and revoked_at is null")
    int revoke(@Param("number") long number, @Param("who") String who, @Param("at") Instant at);
}
