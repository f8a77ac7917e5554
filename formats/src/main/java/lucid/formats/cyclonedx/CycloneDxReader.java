package lucid.formats.cyclonedx;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Stream;
import lucid.core.fleet.HostName;
import lucid.core.fleet.HostReport;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Trait;
import lucid.core.update.PackageReference;
import lucid.formats.document.Content;
import lucid.formats.document.Format;
import lucid.formats.document.JsonPlace;
import lucid.formats.document.JsonReader;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.RefusedDocumentException;
import tools.jackson.databind.JsonNode;

/**
 * Reads a CycloneDX document (ECMA-424) as the inventory of one host: the described component is the host, a component
 * of the type operating-system its platform, which may be the described one if a property names the host, every
 * component with a package URL an installed product. What stands inside a container is the container's, and what is
 * optional or excluded is not installed.
 */
public final class CycloneDxReader implements JsonReader {

    /** Properties of the host whose names begin so become traits. */
    static final String TRAIT = "lucid:trait:";

    /** The property of a component that names the source package that it was built from, and its version. */
    static final String SOURCE = "lucid:source";

    /** The property that names the host. */
    private static final String HOST = "lucid:host";

    @Override
    public String reads() {
        return "a CycloneDX inventory";
    }

    @Override
    public boolean recognises(JsonNode root) {
        return root.path("bomFormat").asString("").equals("CycloneDX");
    }

    @Override
    public ReadDocument read(JsonNode node, ReadingHints hints) {
        JsonPlace root = JsonPlace.root(node);
        JsonPlace metadata = root.get("metadata");
        JsonPlace host = metadata.get("component");
        List<Problem> problems = new ArrayList<>();
        List<JsonPlace> components = new ArrayList<>();
        collect(root.get("components"), components);
        Set<String> leftOut = new TreeSet<>();
        List<InstalledProduct> products = new ArrayList<>();
        List<JsonPlace> nameless = new ArrayList<>();
        for (JsonPlace component : components) {
            String scope = component.get("scope").textIfAny().orElse("required");
            if (!scope.equals("required")) {
                leftOut.add(scope);
            } else if (!component.get("purl").exists()) {
                if (!component.get("type").line().equals("operating-system")) {
                    nameless.add(component);
                }
            } else {
                product(component, problems).ifPresent(products::add);
            }
        }
        if (!leftOut.isEmpty()) {
            problems.add(new Problem(
                    root.get("components").pointer(),
                    "components that are " + String.join(" or ", leftOut) + " are not installed and left out"));
        }
        if (!nameless.isEmpty()) {
            problems.add(new Problem(
                    nameless.get(0).pointer(),
                    nameless.size() + " components have no package URL and are left out; this is the first"));
        }
        Instant at = metadata.get("timestamp").instant();
        HostReport report = new HostReport(
                name(host),
                platform(root, host, components),
                at,
                traits(host),
                List.copyOf(products),
                Optional.empty(),
                Optional.empty(),
                List.of());
        return new ReadDocument(
                Format.CYCLONEDX, new Content.OfInventory(List.of(report), List.of()), List.copyOf(problems));
    }

    /** All components but those inside a container. */
    private static void collect(JsonPlace list, List<JsonPlace> components) {
        for (JsonPlace component : list.items()) {
            components.add(component);
            if (!component.get("type").line().equals("container")) {
                collect(component.get("components"), components);
            }
        }
    }

    private static Optional<InstalledProduct> product(JsonPlace component, List<Problem> problems) {
        try {
            PackageReference reference =
                    PackageReference.parse(component.get("purl").line());
            String version =
                    reference.version().orElseGet(() -> component.get("version").line());
            return Optional.of(new InstalledProduct(
                    reference.build(), reference.build().product().ordering().require(version), source(component)));
        } catch (RefusedDocumentException e) {
            problems.add(new Problem(component.pointer(), "left out: it has no version"));
            return Optional.empty();
        } catch (IllegalArgumentException e) {
            problems.add(new Problem(component.pointer(), "left out: " + e.getMessage()));
            return Optional.empty();
        }
    }

    private static Optional<InstalledProduct.SourcePackage> source(JsonPlace component) {
        return component.get("properties").items().stream()
                .filter(property -> property.get("name").line().equals(SOURCE))
                .map(property -> property.get("value").line().split(" ", 2))
                .filter(parts -> parts.length == 2)
                .map(parts -> new InstalledProduct.SourcePackage(parts[0], parts[1]))
                .findFirst();
    }

    private static boolean isSystem(JsonPlace component) {
        return component
                .get("type")
                .textIfAny()
                .filter("operating-system"::equals)
                .isPresent();
    }

    /** What a property calls the host; else the described component, unless that is its operating system. */
    private static HostName name(JsonPlace host) {
        return host.get("properties").items().stream()
                .filter(property -> property.get("name").line().equals(HOST))
                .findFirst()
                .map(property -> property.get("value").host())
                .orElseGet(() -> {
                    if (isSystem(host)) {
                        throw host.refused(
                                "it describes an operating system and not a host: name the host in the property "
                                        + HOST);
                    }
                    return host.get("name").host();
                });
    }

    private static String platform(JsonPlace root, JsonPlace host, List<JsonPlace> components) {
        return Stream.concat(components.stream(), Stream.of(host))
                .filter(CycloneDxReader::isSystem)
                .findFirst()
                .map(system -> system.get("name").line()
                        + system.get("version")
                                .textIfAny()
                                .map(version -> " " + version)
                                .orElse(""))
                .orElseThrow(() -> root.get("components")
                        .refused("no component of the type operating-system says what platform the host has"));
    }

    private static Map<String, Trait> traits(JsonPlace host) {
        Map<String, Trait> traits = new HashMap<>();
        for (JsonPlace property : host.get("properties").items()) {
            String name = property.get("name").line();
            if (name.startsWith(TRAIT) && name.length() > TRAIT.length()) {
                traits.put(name.substring(TRAIT.length()), property.get("value").as(Trait::ofText));
            }
        }
        return traits;
    }
}
