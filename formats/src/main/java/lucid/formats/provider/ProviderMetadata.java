package lucid.formats.provider;

import java.net.URI;
import java.util.ArrayList;
import java.util.List;
import lucid.formats.Documents;
import lucid.formats.document.JsonPlace;
import lucid.formats.document.RefusedDocumentException;

/**
 * Where a provider's documents lie: {@code provider-metadata.json} (CSAF 2.0, section 7.1.7).
 *
 * @param feeds addresses of ROLIE feeds
 * @param directories addresses of directories with {@code index.txt} and {@code changes.csv}
 */
public record ProviderMetadata(String publisher, List<URI> feeds, List<URI> directories) {

    /** @throws RefusedDocumentException if it is no provider metadata, or names neither feed nor directory */
    public static ProviderMetadata read(byte[] document) {
        JsonPlace root = JsonPlace.root(Documents.json(document));
        if (!root.get("distributions").exists() || !root.get("publisher").exists()) {
            throw root.refused("this is no provider-metadata.json: publisher or distributions are missing");
        }
        List<URI> feeds = new ArrayList<>();
        List<URI> directories = new ArrayList<>();
        for (JsonPlace distribution : root.get("distributions").items()) {
            distribution.get("rolie").get("feeds").items().forEach(feed -> feeds.add(address(feed.get("url"))));
            if (distribution.get("directory_url").exists()) {
                directories.add(address(distribution.get("directory_url")));
            }
        }
        if (feeds.isEmpty() && directories.isEmpty()) {
            throw root.get("distributions").refused("it names neither a ROLIE feed nor a directory");
        }
        return new ProviderMetadata(root.get("publisher").get("name").line(), feeds, directories);
    }

    private static URI address(JsonPlace place) {
        return place.as(text -> URI.create(JsonPlace.requireWebAddress(text)));
    }
}
