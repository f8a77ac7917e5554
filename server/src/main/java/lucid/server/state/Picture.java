package lucid.server.state;

import java.time.Instant;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import lucid.core.carriage.CarrierIndex;
import lucid.core.docket.Docket;
import lucid.core.docket.DocketCase;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.InstalledProduct;
import lucid.core.fleet.Ladder;
import lucid.core.ruling.Decisions;
import lucid.core.update.Advisory;
import lucid.core.update.Update;
import lucid.core.update.UpdateNotice;
import lucid.server.web.ProblemException;

/**
 * Everything that is known, at one moment, and never changing: readers compute on the picture that they took while the one writer
 * makes the next.
 *
 * @param updates by identifier, joined from advisories and notices
 */
public record Picture(
        Map<String, Advisory> advisories,
        Map<String, UpdateNotice> notices,
        Map<String, Update> updates,
        Fleet fleet,
        CarrierIndex index,
        Decisions decisions) {

    static final Picture EMPTY = new Picture(Map.of(), Map.of(), Map.of(), Fleet.EMPTY, CarrierIndex.EMPTY, Decisions.NONE);

    /** With another advisory or notice of an update; the join may refuse, and then nothing changes. */
    public Picture withUpdate(Optional<Advisory> advisory, Optional<UpdateNotice> notice, Instant readAt) {
        String id = advisory.map(Advisory::id).orElseGet(() -> notice.orElseThrow().id());
        Map<String, Advisory> nextAdvisories = new HashMap<>(advisories);
        advisory.ifPresent(a -> nextAdvisories.put(id, a));
        Map<String, UpdateNotice> nextNotices = new HashMap<>(notices);
        notice.ifPresent(n -> nextNotices.put(id, n));
        Instant firstRead = updates.containsKey(id) && updates.get(id).firstRead().isBefore(readAt) ? updates.get(id).firstRead() : readAt;
        Map<String, Update> nextUpdates = new HashMap<>(updates);
        nextUpdates.put(id, Update.join(Optional.ofNullable(nextAdvisories.get(id)), Optional.ofNullable(nextNotices.get(id)), firstRead));
        return new Picture(nextAdvisories, nextNotices, nextUpdates, fleet, index, decisions);
    }

    /** With hosts as they newly reported themselves. */
    public Picture withHosts(List<Host> hosts) {
        List<CarrierIndex.Change> changes = hosts.stream()
                .map(host -> new CarrierIndex.Change(host.number(), productsOf(host.name()), host.products()))
                .toList();
        return new Picture(advisories, notices, updates, fleet.with(hosts), index.with(changes), decisions);
    }

    private List<InstalledProduct> productsOf(String hostName) {
        return fleet.host(hostName).map(Host::products).orElse(List.of());
    }

    public Picture with(Ladder ladder) {
        return new Picture(advisories, notices, updates, fleet.with(ladder), index, decisions);
    }

    public Picture with(Decisions next) {
        return new Picture(advisories, notices, updates, fleet, index, next);
    }

    /** @throws ProblemException if none is named or there is no such update */
    public Update update(String id) {
        return Optional.ofNullable(id).map(updates::get)
                .orElseThrow(() -> id == null ? ProblemException.badField("update", "name the update") : ProblemException.notFound("there is no update " + id));
    }

    public List<DocketCase> docket(Instant now) {
        return Docket.cases(updates.values(), fleet, index, decisions, now);
    }
}
