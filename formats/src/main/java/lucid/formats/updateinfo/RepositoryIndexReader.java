package lucid.formats.updateinfo;

import java.util.ArrayList;
import java.util.List;
import java.util.Map;
import lucid.formats.document.Content;
import lucid.formats.document.Format;
import lucid.formats.document.ReadDocument;
import lucid.formats.document.ReadingHints;
import lucid.formats.document.RefusedDocumentException;
import lucid.formats.document.RepositoryFile;
import lucid.formats.document.XmlDocument;
import lucid.formats.document.XmlElement;
import lucid.formats.document.XmlReader;

/**
 * Reads {@code repomd.xml}, which says where the updateinfo of an rpm repository lies and how to know that it is whole.
 */
public final class RepositoryIndexReader implements XmlReader {

    private static final Map<String, String> ALGORITHMS = Map.of(
            "sha", "SHA-1", "sha1", "SHA-1", "sha224", "SHA-224", "sha256", "SHA-256", "sha384", "SHA-384", "sha512",
            "SHA-512");

    @Override
    public String reads() {
        return "the index of an rpm repository";
    }

    @Override
    public String root() {
        return "repomd";
    }

    @Override
    public ReadDocument read(byte[] document, ReadingHints hints) {
        List<RepositoryFile> files = new ArrayList<>();
        XmlDocument.children(document, data -> {
            if (data.name().equals("data")
                    && data.attribute("type").filter("updateinfo"::equals).isPresent()) {
                files.add(file(data));
            }
        });
        if (files.isEmpty()) {
            throw new RefusedDocumentException(
                    "", "this repository has no updateinfo, so it says nothing of advisories");
        }
        return new ReadDocument(Format.REPOSITORY, new Content.OfRepository(List.copyOf(files)), List.of());
    }

    private static RepositoryFile file(XmlElement data) {
        XmlElement checksum = data.child("checksum").orElseThrow(() -> data.refused("its checksum is missing"));
        String type = checksum.attribute("type").orElse("");
        if (!ALGORITHMS.containsKey(type)) {
            throw checksum.refused("'" + type + "' is no checksum that is trusted here");
        }
        String location = data.line("its location", data.child("location").flatMap(l -> l.attribute("href")));
        if (location.startsWith("/") || List.of(location.split("/")).contains("..")) {
            throw data.refused("'" + location + "' leads out of the repository");
        }
        return new RepositoryFile(location, ALGORITHMS.get(type), checksum.text());
    }
}
