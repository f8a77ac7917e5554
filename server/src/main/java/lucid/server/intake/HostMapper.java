package lucid.server.intake;

import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.fleet.Host;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Trait;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;
import org.apache.ibatis.annotations.Update;
import tools.jackson.databind.DeserializationFeature;
import tools.jackson.databind.JsonNode;
import tools.jackson.databind.json.JsonMapper;

/** The tables of hosts, their inventories and what changed on them. */
@Mapper
public interface HostMapper {

    JsonMapper JSON = JsonMapper.builder().enable(DeserializationFeature.USE_BIG_DECIMAL_FOR_FLOATS).build();

    record InventoryRow(String digest, String content) {}

    record HostRow(int number, String name, String platform, String traits, String supply, Instant lastStart, Instant lastReport, String inventory) {

        public Host host(List<InstalledProduct> products) {
            return new Host(number, name, platform, readTraits(traits), products, Optional.ofNullable(supply), Optional.ofNullable(lastStart), lastReport);
        }
    }

    @Select("select digest, content from inventory")
    List<InventoryRow> inventories();

    @Select("select number, name, platform, traits, supply, last_start, last_report, inventory from host")
    List<HostRow> all();

    @Insert("merge into inventory (digest, content) key (digest) values (#{digest}, #{content})")
    void keepInventory(@Param("digest") String digest, @Param("content") String content);

    @Insert("""
            insert into host (number, name, platform, traits, supply, last_start, last_report, inventory, first_report, first_inventory)
            values (#{number}, #{name}, #{platform}, #{traits}, #{supply}, #{lastStart}, #{lastReport}, #{inventory}, #{lastReport}, #{inventory})""")
    void add(HostRow host);

    @Update("""
            update host set platform = #{platform}, traits = #{traits}, supply = #{supply}, last_start = #{lastStart},
              last_report = #{lastReport}, inventory = #{inventory} where number = #{number}""")
    void change(HostRow host);

    @Update("update host set last_report = #{lastReport} where number = #{number}")
    void heardFrom(@Param("number") int number, @Param("lastReport") Instant lastReport);

    @Insert("insert into fact_change (host, build, from_version, to_version, at) values (#{host}, #{build}, #{from}, #{to}, #{at})")
    void addChange(@Param("host") int host, @Param("build") String build, @Param("from") String from, @Param("to") String to, @Param("at") Instant at);

    static String writeTraits(Map<String, Trait> traits) {
        Map<String, Object> plain = new HashMap<>();
        traits.forEach((name, trait) -> {
            if (trait instanceof Trait.Number number) {
                plain.put(name, number.value());
            } else if (trait instanceof Trait.Truth truth) {
                plain.put(name, truth.value());
            } else {
                plain.put(name, trait.toString());
            }
        });
        return JSON.writeValueAsString(plain);
    }

    static Map<String, Trait> readTraits(String text) {
        Map<String, Trait> traits = new HashMap<>();
        JsonNode object = JSON.readTree(text);
        for (String name : object.propertyNames()) {
            JsonNode value = object.get(name);
            traits.put(name, value.isNumber() ? new Trait.Number(value.decimalValue())
                    : value.isBoolean() ? new Trait.Truth(value.booleanValue()) : new Trait.Text(value.stringValue()));
        }
        return traits;
    }
}
