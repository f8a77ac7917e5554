package lucid.server.intake;

import java.util.HashMap;
import java.util.List;
import java.util.Map;
import lucid.server.access.Bringer;
import org.springframework.beans.factory.annotation.Value;
import org.springframework.stereotype.Component;
import org.springframework.util.unit.DataSize;

/**
 * How much of what was refused is kept, so that nobody fills the disk with it: of all senders together up to a quota of
 * bytes, of a host three documents and the last twenty lines on Intake. What is more goes, the oldest first; that it
 * was refused, and why, stays for everybody but hosts.
 */
@Component
class RefusedQuota {

    private static final int MOST_CONTENTS_OF_A_HOST = 3;
    private static final int MOST_LINES_OF_A_HOST = 20;

    private final DocumentMapper documents;
    private final long most;

    RefusedQuota(DocumentMapper documents, @Value("${lucid.refused-quota:256MB}") DataSize most) {
        this.documents = documents;
        this.most = most.toBytes();
    }

    /** After something of this sender was kept; within {@link lucid.server.snapshot.SnapshotStore#write}. */
    void keep(Bringer sender) {
        boolean isHost = sender.onlyHost().isPresent();
        Map<String, Integer> ofSender = new HashMap<>();
        long bytes = 0;
        for (DocumentMapper.OpenContent kept : documents.openContents()) {
            bytes += kept.bytes();
            boolean tooManyOfHost = isHost
                    && kept.sender().equals(sender.getName())
                    && ofSender.merge(kept.sender(), 1, Integer::sum) > MOST_CONTENTS_OF_A_HOST;
            if (bytes > most || tooManyOfHost) {
                documents.forgetContent(kept.number());
                bytes -= kept.bytes();
            }
        }
        if (isHost) {
            List<Long> lines = documents.refusedOf(sender.getName());
            lines.subList(Math.min(MOST_LINES_OF_A_HOST, lines.size()), lines.size())
                    .forEach(number -> {
                        documents.deleteProblems(number);
                        documents.delete(number);
                    });
        }
    }
}
