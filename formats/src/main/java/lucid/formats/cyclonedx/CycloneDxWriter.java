package lucid.formats.cyclonedx;

import java.nio.charset.StandardCharsets;
import java.time.Instant;
import java.util.Optional;
import java.util.TreeMap;
import java.util.UUID;
import lucid.core.fleet.Host;
import lucid.core.fleet.InstalledProduct;
import lucid.core.update.PackageReference;
import tools.jackson.databind.SerializationFeature;
import tools.jackson.databind.json.JsonMapper;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.ObjectNode;

/**
 * Writes what a host has, as its last report tells it (CycloneDX 1.6, ECMA-424), so that the reader here reads it back.
 */
public final class CycloneDxWriter {

    private static final JsonMapper JSON =
            JsonMapper.builder().enable(SerializationFeature.INDENT_OUTPUT).build();

    private CycloneDxWriter() {}

    public static String write(Host host) {
        Instant at = host.lastReport();
        UUID serial = UUID.nameUUIDFromBytes((host.name().value() + " " + at).getBytes(StandardCharsets.UTF_8));
        ObjectNode root = JSON.createObjectNode()
                .put("bomFormat", "CycloneDX")
                .put("specVersion", "1.6")
                .put("serialNumber", "urn:uuid:" + serial)
                .put("version", 1);
        ObjectNode metadata = root.putObject("metadata").put("timestamp", at.toString());
        ObjectNode device = metadata.putObject("component")
                .put("type", "device")
                .put("bom-ref", "host")
                .put("name", host.name().value());
        ArrayNode properties = device.putArray("properties");
        new TreeMap<>(host.traits()).forEach((name, value) -> properties
                .addObject()
                .put("name", CycloneDxReader.TRAIT + name)
                .put("value", value.toString()));
        ArrayNode components = root.putArray("components");
        components
                .addObject()
                .put("type", "operating-system")
                .put("bom-ref", "platform")
                .put("name", host.platform());
        int number = 0;
        for (InstalledProduct product : host.products()) {
            ObjectNode component = components
                    .addObject()
                    .put("type", "application")
                    .put("bom-ref", "product-" + ++number)
                    .put("name", product.build().product().name())
                    .put("version", product.version())
                    .put("purl", new PackageReference(product.build(), Optional.of(product.version())).purl());
            product.source().ifPresent(source -> component
                    .putArray("properties")
                    .addObject()
                    .put("name", CycloneDxReader.SOURCE)
                    .put("value", source.name() + " " + source.version()));
        }
        return JSON.writeValueAsString(root);
    }
}
