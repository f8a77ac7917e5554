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
import lucid.core.update.ReferenceLink;
import lucid.core.update.RestartNeed;
import lucid.core.update.Restarts;
import lucid.core.update.UpdateId;
import lucid.core.update.Vulnerability;
import lucid.core.version.VersionOrdering;
import lucid.formats.document.Content;
import lucid.formats.document.Format;
import lucid.formats.document.Instants;
import lucid.formats.document.JsonPlace;
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
final class UpdateinfoReader {

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
    static ReadDocument read(byte[] document, ReadingHints hints) {
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
        List<XmlElement> collections = update.children("pkglist").stream()
                .flatMap(list -> list.children("collection").stream())
                .toList();
        List<XmlElement> packages = collections.stream()
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
                fixes(collections),
                Restarts.ofAll(restart(update, packages)),
                Optional.empty(),
                List.of(),
                List.of(),
                references(update)
                        .filter(r -> r.attribute("href")
                                .filter(JsonPlace::isWebAddress)
                                .isPresent())
                        .map(r -> new ReferenceLink(
                                r.attribute("href").orElseThrow(),
                                r.attribute("title").orElse("")))
                        .distinct()
                        .toList(),
                List.of(),
                List.of(),
                List.of(),
                Optional.empty());
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

    /**
     * Of one package in a collection the highest version counts. A collection that is of a module stream speaks of
     * hosts of that stream only.
     */
    private List<Fix> fixes(List<XmlElement> collections) {
        Map<ProductBuild, Map<String, String>> highest = new TreeMap<>();
        for (XmlElement collection : collections) {
            String stream = collection
                    .child("module")
                    .flatMap(module -> module.attribute("stream"))
                    .orElse("");
            for (XmlElement each : collection.children("package")) {
                String arch = each.line("the arch of a package", each.attribute("arch"));
                if (!arch.equals("src") && !arch.equals("nosrc")) {
                    ProductBuild build = PackageReference.rpm(
                            namespace,
                            each.line("the name of a package", each.attribute("name")),
                            arch,
                            distro.orElse(""));
                    highest.computeIfAbsent(build, b -> new TreeMap<>())
                            .merge(
                                    stream,
                                    version(each),
                                    (a, b) -> build.product().ordering().compare(a, b) >= 0 ? a : b);
                }
            }
        }
        return highest.entrySet().stream()
                .map(e -> Fix.ofVulnerabilities(
                        e.getKey(),
                        e.getValue().entrySet().stream()
                                .map(of -> List.of(ofStream(of.getKey(), of.getValue())))
                                .toList()))
                .toList();
    }

    /** Streams are called by the versions in them, {@code 18} or {@code 8.2}, or by words, which limit nothing. */
    private static AffectedRange ofStream(String stream, String fixed) {
        int colon = fixed.indexOf(':');
        boolean isNumber = stream.matches("\\d+(\\.\\d+)*");
        return isNumber && fixed.startsWith(stream + ".", colon + 1)
                ? AffectedRange.between(fixed.substring(0, colon + 1) + stream, fixed)
                : AffectedRange.below(fixed);
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

    /** Suggested for the whole update or for a package of it; the strongest counts. */
    private static Optional<RestartNeed> restart(XmlElement update, List<XmlElement> packages) {
        List<XmlElement> all =
                Stream.concat(Stream.of(update), packages.stream()).toList();
        if (all.stream().anyMatch(each -> suggested(each, "reboot_suggested"))) {
            return Optional.of(RestartNeed.HOST);
        }
        return all.stream()
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
