package lucid.server.mappings;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import lucid.core.update.ProductMapping;
import lucid.core.update.ProductMappings;
import org.springframework.stereotype.Component;

/** The mappings of product names as they are stored. What changes them stands within a write of the snapshot. */
@Component
public class StoredMappings {

    private final MappingMapper mapper;

    StoredMappings(MappingMapper mapper) {
        this.mapper = mapper;
    }

    /** @param reason why it means this, in words; may be empty */
    public record Stored(ProductMapping mapping, String reason, String author, Instant createdAt) {}

    /** Those in use, the newest first. */
    public List<Stored> all() {
        return mapper.inUse().stream()
                .map(row -> new Stored(row.mapping(), row.reason(), row.author(), row.createdAt()))
                .toList();
    }

    public ProductMappings inUse() {
        return new ProductMappings(
                mapper.inUse().stream().map(MappingMapper.Row::mapping).toList());
    }

    public Optional<ProductMapping> find(long number) {
        return all().stream()
                .map(Stored::mapping)
                .filter(mapping -> mapping.number() == number)
                .findFirst();
    }

    public long next() {
        return mapper.next();
    }

    public void add(ProductMapping mapping, String purl, String reason, String author, Instant at) {
        mapper.add(new MappingMapper.Row(
                mapping.number(), mapping.vendor(), mapping.how(), mapping.pattern(), purl, reason, author, at));
    }

    public void revoke(long number, String who, Instant at) {
        mapper.revoke(number, who, at);
    }
}
