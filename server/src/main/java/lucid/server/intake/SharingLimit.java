package lucid.server.intake;

import java.util.Optional;
import lucid.core.update.Advisory;
import lucid.core.update.SharingLevel;
import lucid.core.update.UpdateDocument;
import lucid.formats.Documents;
import lucid.formats.document.RefusedDocumentException;
import lucid.server.storage.Settings;
import org.springframework.stereotype.Component;

/**
 * Up to which level documents may be shown here. Everybody with an account sees what was taken, so what may be shared
 * with named people only (TLP:RED) is held unless somebody allows it.
 */
@Component
public class SharingLimit {

    private static final String SETTING = "sharing-level";

    private final Settings settings;

    SharingLimit(Settings settings) {
        this.settings = settings;
    }

    SharingLevel allowed() {
        return settings.find(SETTING).map(SharingLevel::valueOf).orElse(SharingLevel.AMBER_STRICT);
    }

    void allow(SharingLevel level) {
        settings.keep(SETTING, level.name());
    }

    /** @throws RefusedDocumentException if it may be shared with fewer people than are allowed here */
    public void require(UpdateDocument document) {
        Optional<SharingLevel> level = document instanceof Advisory advisory ? advisory.sharing() : Optional.empty();
        if (isAbove(level)) {
            throw new RefusedDocumentException(
                    "",
                    "it may be shared at the level TLP:" + level.get().word()
                            + ", and everybody here would see it; taken is what may be shared up to TLP:"
                            + allowed().word() + ", which an administrator sets on Access");
        }
    }

    /** Whether a document that was not taken may be shown to fewer people than are allowed here. */
    boolean holds(byte[] document) {
        return isAbove(Documents.sharing(document));
    }

    private boolean isAbove(Optional<SharingLevel> asked) {
        return asked.filter(level -> level.compareTo(allowed()) > 0).isPresent();
    }
}
