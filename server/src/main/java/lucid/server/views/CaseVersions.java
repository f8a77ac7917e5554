package lucid.server.views;

import lucid.core.ruling.Decisions;
import lucid.core.update.Update;
import lucid.server.state.Picture;
import lucid.server.web.Digests;
import lucid.server.web.ETags;

/** The version of a case: another one after every revision, verdict, answer, exception and taking back that concerns it. */
public final class CaseVersions {

    private CaseVersions() {}

    public static String of(Picture picture, Update update) {
        Decisions decisions = picture.decisions();
        return ETags.of(Digests.sha256(update.revision() + " " + update.revisions().size() + " " + decisions.verdictsOn(update.id()) + " " + decisions.answersOn(update.id())
                + " " + decisions.exceptions().stream().filter(e -> e.scope().covers(update)).toList()).substring(0, 16));
    }
}
