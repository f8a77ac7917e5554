package lucid.server.pilots;

import java.time.Duration;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.stream.Collectors;
import lucid.core.gate.PilotGate;
import lucid.core.pilot.Pilot;
import lucid.core.pilot.PilotNumber;
import org.springframework.stereotype.Component;

/** Pilots as they are stored. They come into the snapshot with the verdicts that started them. */
@Component
public class StoredPilots {

    private final PilotMapper mapper;

    StoredPilots(PilotMapper mapper) {
        this.mapper = mapper;
    }

    /** All that ever were, by their numbers. */
    public Map<Long, Pilot> all() {
        Map<Long, List<String>> traits = mapper.traits().stream()
                .collect(Collectors.groupingBy(
                        PilotMapper.TraitRow::pilot,
                        Collectors.mapping(PilotMapper.TraitRow::trait, Collectors.toList())));
        Map<Long, List<PilotMapper.DepartmentRow>> departments =
                mapper.departments().stream().collect(Collectors.groupingBy(PilotMapper.DepartmentRow::pilot));
        Map<Long, List<PilotMapper.HostRow>> hosts =
                mapper.hosts().stream().collect(Collectors.groupingBy(PilotMapper.HostRow::pilot));
        Map<Long, Pilot> all = new LinkedHashMap<>();
        for (PilotMapper.PilotRow row : mapper.pilots()) {
            List<PilotMapper.DepartmentRow> asked = departments.getOrDefault(row.number(), List.of());
            Map<String, Pilot.SignOff> signOffs = new HashMap<>();
            asked.stream()
                    .filter(one -> one.signedOffAt() != null)
                    .forEach(one ->
                            signOffs.put(one.department(), new Pilot.SignOff(one.signedOffBy(), one.signedOffAt())));
            List<Pilot.Place> places = new ArrayList<>();
            hosts.getOrDefault(row.number(), List.of())
                    .forEach(host ->
                            places.add(new Pilot.Place(host.host(), host.since(), Optional.ofNullable(host.until()))));
            all.put(
                    row.number(),
                    new Pilot(
                            new PilotNumber(row.number()),
                            new Pilot.Terms(
                                    new PilotGate(row.askedLimit(), row.hostsAtStart()),
                                    Duration.ofSeconds(row.soakSeconds()),
                                    traits.getOrDefault(row.number(), List.of()),
                                    row.seed(),
                                    row.alsoTier1(),
                                    asked.stream()
                                            .map(PilotMapper.DepartmentRow::department)
                                            .collect(Collectors.toSet()),
                                    Optional.ofNullable(row.prepared())
                                            .map(prepared -> new Pilot.Then(Optional.ofNullable(row.preparedDays())))),
                            places,
                            signOffs,
                            Optional.ofNullable(row.failedAt()),
                            Optional.ofNullable(row.metAt())));
        }
        return all;
    }

    /** Keeps a pilot that starts; within {@link lucid.server.snapshot.SnapshotStore#write}. */
    public void add(Pilot pilot) {
        long number = pilot.number().value();
        Optional<Pilot.Then> then = pilot.terms().then();
        Optional<Integer> forcedWithin = then.flatMap(Pilot.Then::forcedWithin);
        mapper.addPilot(
                pilot,
                pilot.terms().soak().toSeconds(),
                then.map(prepared -> forcedWithin.isPresent() ? "FORCE" : "LET_GO")
                        .orElse(null),
                forcedWithin.orElse(null));
        for (int place = 0; place < pilot.terms().traits().size(); place++) {
            mapper.addTrait(number, place, pilot.terms().traits().get(place));
        }
        pilot.terms().departments().forEach(department -> mapper.addDepartment(number, department));
        addHosts(pilot);
    }

    private void addHosts(Pilot pilot) {
        for (int place = 0; place < pilot.places().size(); place++) {
            Pilot.Place one = pilot.places().get(place);
            mapper.addHost(pilot.number().value(), place, one, one.until().orElse(null));
        }
    }

    /** Keeps what has become of one. */
    void change(Pilot before, Pilot after) {
        long number = after.number().value();
        if (!before.places().equals(after.places())) {
            mapper.removeHosts(number);
            addHosts(after);
        }
        if (!before.failedAt().equals(after.failedAt())) {
            mapper.fail(number, after.failedAt().orElse(null));
        }
        if (!before.metAt().equals(after.metAt())) {
            mapper.meet(number, after.metAt().orElse(null));
        }
        after.signOffs().forEach((department, signOff) -> {
            if (!before.signOffs().containsKey(department)) {
                mapper.signOff(number, department, signOff);
            }
        });
    }
}
