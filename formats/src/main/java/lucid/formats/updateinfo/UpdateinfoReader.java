package lucid.formats.updateinfo;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeMap;
import java.util.stream.Stream;
import lucid.core.update.Advisory;
import lucid.core.update.AdvisorySource;
import lucid.core.update.AffectedRange;
import lucid.core.update.Fix;
import lucid.core.update.Kind;
import lucid.core.update.PackageReference;
import lucid.core.update.ProductBuild;
import lucid.core.update.RestartNeed;
import lucid.core.update.UpdateId;
import lucid.core.update.Vulnerability;
import lucid.core.version.VersionOrdering;
import lucid.formats.document.Content;
import lucid.formats.document.Format;
import lucid.formats.document.Instants;
import lucid.formats.document.Problem;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.RefusedDocumentException;
import lucid.formats.document.XmlDocument;
import lucid.formats.document.XmlElement;

/**
 * Reads the {@code updateinfo} of an rpm repository: many updates in one document. Each is taken or left out by itself.
 * The document does not say whose packages these are, so that the sender must ({@link ReadingHints#namespace}).
 */
public final class UpdateinfoReader {

    private static final Map<String, Kind> KINDS = Map.of(
            "security",
            Kind.SECURITY,
            "bugfix",
            Kind.BUGFIX,
            "enhancement",
            Kind.ENHANCEMENT,
            "newpackage",
            Kind.ENHANCEMENT,
            "recommended",
            Kind.BUGFIX,
            "optional",
            Kind.ENHANCEMENT,
            "feature",
            Kind.ENHANCEMENT);

    private final String namespace;
    private final Optional<String> distro;
    private final List<Advisory> advisories = new ArrayList<>();
    private final List<Problem> problems = new ArrayList<>();
    private final Set<UpdateId> ids = new HashSet<>();

    private UpdateinfoReader(String namespace, Optional<String> distro) {
        this.namespace = namespace;
        this.distro = distro;
    }

    /** @throws RefusedDocumentException if the namespace is not told or not a single update can be taken */
    public static ReadDocument read(byte[] document, ReadingHints hints) {
        String namespace = hints.namespace()
                .orElseThrow(
                        () -> new RefusedDocumentException(
                                "",
                                "an updateinfo does not say whose packages these are: name the namespace of their package URLs, which is the ID in the os-release of its hosts"));
        UpdateinfoReader reader = new UpdateinfoReader(namespace, hints.distro());
        XmlDocument.children(document, reader::take);
        if (reader.advisories.isEmpty()) {
            throw new RefusedDocumentException(
                    reader.problems.isEmpty() ? List.of(new Problem("", "there is no update in it")) : reader.problems);
        }
        return new ReadDocument(
                Format.UPDATEINFO,
                new Content.OfAdvisories(List.copyOf(reader.advisories)),
                List.copyOf(reader.problems));
    }

    private void take(XmlElement update) {
        if (!update.name().equals("update")) {
            return;
        }
        try {
            Advisory advisory = advisory(update);
            if (ids.add(advisory.id())) {
                advisories.add(advisory);
            } else {
                problems.add(new Problem(
                        update.place(), advisory.id() + " stands twice in this document; the first one is taken"));
            }
        } catch (RefusedDocumentException e) {
            problems.addAll(e.problems());
        }
    }

    private Advisory advisory(XmlElement update) {
        String id = update.identifier("its id", update.textOf("id"));
        Instant issued = instant(update, "issued")
                .or(() -> instant(update, "updated"))
                .orElseThrow(() -> update.refused(id + " does not say when it was issued"));
        Instant updated =
                instant(update, "updated").filter(u -> u.isAfter(issued)).orElse(issued);
        List<XmlElement> packages = update.children("pkglist").stream()
                .flatMap(list -> list.children("collection").stream())
                .flatMap(collection -> collection.children("package").stream())
                .toList();
        return new Advisory(
                AdvisorySource.UPDATEINFO,
                new UpdateId(id),
                update.line("its title", update.textOf("title").or(() -> Optional.of(id))),
                update.attribute("from").filter(from -> !from.contains("@")).orElse(namespace),
                update.textOf("description").or(() -> update.textOf("summary")).orElse(""),
                Instants.asRevision(updated),
                "",
                issued,
                updated,
                update.attribute("type").map(KINDS::get),
                update.textOf("severity"),
                vulnerabilities(update),
                fixes(packages),
                restart(packages),
                Optional.empty(),
                List.of(),
                List.of(),
                references(update)
                        .flatMap(r -> r.attribute("href").stream())
                        .filter(href -> href.matches("https?://\\S+"))
                        .distinct()
                        .toList());
    }

    private static Optional<Instant> instant(XmlElement update, String name) {
        return update.child(name).flatMap(element -> element.attribute("date").map(date -> Instants.lenient(date)
                .orElseThrow(() -> element.refused("'" + date + "' is no instant such as 2026-11-12 09:00:00"))));
    }

    private static Stream<XmlElement> references(XmlElement update) {
        return update.children("references").stream().flatMap(list -> list.children("reference").stream());
    }

    /** A reference of type cve; some producers put the identifier into the title. */
    private static List<Vulnerability> vulnerabilities(XmlElement update) {
        return references(update)
                .filter(reference ->
                        reference.attribute("type").filter("cve"::equals).isPresent())
                .flatMap(reference -> Stream.concat(
                                reference.attribute("id").stream(), reference.attribute("title").stream())
                        .filter(text -> text.matches("CVE-\\d{4}-\\d{4,}"))
                        .limit(1))
                .distinct()
                .map(cve -> new Vulnerability(cve, "", Optional.empty(), Optional.empty(), ""))
                .toList();
    }

    private List<Fix> fixes(List<XmlElement> packages) {
        Map<ProductBuild, String> highest = new TreeMap<>();
        for (XmlElement each : packages) {
            String arch = each.line("the arch of a package", each.attribute("arch"));
            if (!arch.equals("src") && !arch.equals("nosrc")) {
                ProductBuild build = PackageReference.rpm(
                        namespace, each.line("the name of a package", each.attribute("name")), arch, distro.orElse(""));
                String version = version(each);
                highest.merge(
                        build, version, (a, b) -> build.product().ordering().compare(a, b) >= 0 ? a : b);
            }
        }
        return highest.entrySet().stream()
                .map(e -> new Fix(e.getKey(), List.of(AffectedRange.below(e.getValue()))))
                .toList();
    }

    private static String version(XmlElement each) {
        String epoch = each.attribute("epoch")
                .filter(e -> !e.equals("0"))
                .map(e -> e + ":")
                .orElse("");
        String version = epoch
                + each.line("the version of a package", each.attribute("version"))
                + each.attribute("release").map(r -> "-" + r).orElse("");
        VersionOrdering.RPM.fault(version).ifPresent(fault -> {
            throw each.refused("'" + version + "' is no rpm version: " + fault);
        });
        return version;
    }

    private static Optional<RestartNeed> restart(List<XmlElement> packages) {
        if (packages.stream().anyMatch(each -> suggested(each, "reboot_suggested"))) {
            return Optional.of(RestartNeed.HOST);
        }
        return packages.stream()
                        .anyMatch(each -> suggested(each, "restart_suggested") || suggested(each, "relogin_suggested"))
                ? Optional.of(RestartNeed.SERVICE)
                : Optional.empty();
    }

    private static boolean suggested(XmlElement each, String name) {
        return each.child(name)
                .filter(element -> !element.text().equalsIgnoreCase("false")
                        && !element.text().equals("0"))
                .isPresent();
    }
}
