package lucid.formats.cyclonedx;

import java.util.List;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.XmlDocument;
import lucid.formats.document.XmlElement;
import lucid.formats.document.XmlReader;
import tools.jackson.databind.node.ArrayNode;
import tools.jackson.databind.node.JsonNodeFactory;
import tools.jackson.databind.node.ObjectNode;

/**
 * CycloneDX (ECMA-424) in XML: the same model as in JSON, in elements. It is put into the form of the other and read as
 * that, so that places are named as in JSON.
 */
public final class CycloneDxXml implements XmlReader {

    private static final List<String> TEXTS = List.of("name", "version", "purl", "scope", "timestamp");

    @Override
    public String reads() {
        return new CycloneDxReader().reads();
    }

    @Override
    public String root() {
        return "bom";
    }

    @Override
    public ReadDocument read(byte[] document, ReadingHints hints) {
        ObjectNode bom = JsonNodeFactory.instance.objectNode();
        XmlDocument.children(document, part -> {
            switch (part.name()) {
                case "metadata" -> {
                    ObjectNode metadata = texts(part);
                    part.child("component").ifPresent(component -> metadata.set("component", component(component)));
                    bom.set("metadata", metadata);
                }
                case "components" -> bom.set("components", components(part));
                default -> {}
            }
        });
        return new CycloneDxReader().read(bom, hints);
    }

    private static ArrayNode components(XmlElement list) {
        ArrayNode components = JsonNodeFactory.instance.arrayNode();
        list.children("component").forEach(component -> components.add(component(component)));
        return components;
    }

    private static ObjectNode component(XmlElement element) {
        ObjectNode component = texts(element);
        element.attribute("type").ifPresent(type -> component.put("type", type));
        element.child("components").ifPresent(list -> component.set("components", components(list)));
        element.child("properties").ifPresent(list -> {
            ArrayNode properties = component.putArray("properties");
            list.children("property").forEach(property -> properties
                    .addObject()
                    .put("name", property.attribute("name").orElse(""))
                    .put("value", property.text()));
        });
        return component;
    }

    private static ObjectNode texts(XmlElement element) {
        ObjectNode node = JsonNodeFactory.instance.objectNode();
        TEXTS.forEach(name -> element.textOf(name).ifPresent(text -> node.put(name, text)));
        return node;
    }
}
