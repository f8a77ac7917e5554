package lucid.server.views;

import java.time.Instant;
import java.util.List;
import java.util.Map;
import lucid.core.carriage.TakenInstead;
import lucid.core.fleet.Host;
import lucid.core.fleet.Requirements;
import lucid.core.update.Requirement;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.server.snapshot.Snapshot;
import lucid.server.views.Views.HostList;
import org.roaringbitmap.RoaringBitmap;

/** What updates require, and which hosts are known to lack it. */
public final class RequirementViews {

    private RequirementViews() {}

    /**
     * @param words what is required
     * @param lack hosts that lack the update and are known to lack this as well
     */
    public record RequirementView(String words, HostList lack) {}

    /** The newest of the same products that these hosts lack and can take. */
    public record InsteadView(UpdateId update, String title, HostList hosts) {}

    /**
     * @param cannotTake hosts that lack it and are known to lack something that it requires
     * @param instead what they can take of the same products
     */
    public record RequiresView(List<RequirementView> all, HostList cannotTake, List<InsteadView> instead) {}

    /** @param lacking hosts that lack the update */
    public static RequiresView of(Update update, RoaringBitmap lacking, Snapshot snapshot, Instant now) {
        Map<Requirement, RoaringBitmap> lacked = Requirements.lacked(update, lacking, snapshot.fleet());
        RoaringBitmap cannotTake = RoaringBitmap.or(lacked.values().iterator());
        return new RequiresView(
                update.requires().stream()
                        .map(requirement -> new RequirementView(
                                requirement.words(),
                                HostList.of(snapshot.fleet(), lacked.getOrDefault(requirement, new RoaringBitmap()))))
                        .toList(),
                HostList.of(snapshot.fleet(), cannotTake),
                TakenInstead.of(update, cannotTake, snapshot.carriages(), now).entrySet().stream()
                        .map(of -> new InsteadView(
                                of.getKey().id(), of.getKey().title(), HostList.of(snapshot.fleet(), of.getValue())))
                        .toList());
    }

    /** In words what the host is known to lack of what the update requires. */
    public static List<String> notMetBy(Host host, Update update) {
        return Requirements.notMetBy(host, update).stream()
                .map(Requirement::words)
                .toList();
    }
}
