package lucid.server.intake;

import org.springframework.stereotype.Component;

/** Documents that were refused, are held or wait, and nobody has settled. */
@Component
public class OpenDocuments {

    private final DocumentMapper documents;

    OpenDocuments(DocumentMapper documents) {
        this.documents = documents;
    }

    public int count() {
        return documents.refused();
    }
}
