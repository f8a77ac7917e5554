package lucid.core.weighing;

import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.EnumMap;
import java.util.HashMap;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import lucid.core.carriage.Carriage;
import lucid.core.carriage.Carriages;
import lucid.core.carriage.CarrierIndex;
import lucid.core.causes.Cause;
import lucid.core.causes.SuspectedCauses;
import lucid.core.evidence.BaselineRates;
import lucid.core.evidence.Evidence;
import lucid.core.evidence.ExploitScore;
import lucid.core.evidence.FailureReport;
import lucid.core.evidence.KnownIssue;
import lucid.core.evidence.TriedHosts;
import lucid.core.evidence.VexStatement;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.HostCondition;
import lucid.core.update.AttackVector;
import lucid.core.update.Fix;
import lucid.core.update.Kind;
import lucid.core.update.Rating;
import lucid.core.update.Update;
import lucid.core.update.VendorStatement;
import lucid.core.update.Vulnerability;
import org.roaringbitmap.RoaringBitmap;

/**
 * Counts, for one update, everything that is weighed: which hosts lack it, in which cells, how open they are, which
 * vulnerabilities matter on them, which known issues touch them.
 */
public final class WeighingInput {

    /** Failures that reports from elsewhere add at most. */
    private static final double MOST_OUTSIDE = 2;

    private static final double OUTSIDE_SHARE = 0.5;

    private final Update update;
    private final Carriage carriage;
    private final Fleet fleet;
    private final TriedHosts tried;
    private final List<Cause> causes;
    private final List<KnownIssue> openIssues;
    private final List<RoaringBitmap> cellHosts;
    /** Of each vulnerability, the hosts that it does not affect. */
    private final List<RoaringBitmap> notAffected;

    private final RoaringBitmap allNotAffected;
    private final Map<Weights.Facing, RoaringBitmap> facing;
    private final UpdateFacts facts;
    private final List<Cell> groups;

    /**
     * An earlier update that the weighed one contains.
     *
     * @param lacking hosts that lack it
     */
    public record Contained(Update update, RoaringBitmap lacking) {}

    /** A vulnerability, by the update that closes it. */
    private record Counted(Vulnerability vulnerability, Update of) {}

    /**
     * @param contained earlier updates that it contains: whoever lacks them too is exposed to what they close
     * @param issues known issues that count for it: its own, and those of a blocked update that it is taken to have
     *     inherited
     * @param causes as found among the tried hosts
     */
    public WeighingInput(
            Update update,
            List<Contained> contained,
            Carriage carriage,
            Carriages carriages,
            Evidence evidence,
            TriedHosts tried,
            List<Cause> causes,
            List<KnownIssue> issues,
            BaselineRates.Baseline usual,
            Instant now) {
        this.update = update;
        this.carriage = carriage;
        this.fleet = carriages.fleet();
        this.tried = tried;
        this.causes = causes;
        this.openIssues = issues.stream()
                .filter(issue -> issue.isOpen() && !issue.fixedBy().contains(update.id()))
                .toList();
        RoaringBitmap concerned = RoaringBitmap.or(carriage.lacking(), carriage.restartOutstanding());
        this.cellHosts = cells(concerned);
        this.facing = facing(concerned);
        List<Counted> vulnerabilities = new ArrayList<>();
        List<RoaringBitmap> elsewhere = new ArrayList<>();
        counted(update).forEach(own -> {
            vulnerabilities.add(own);
            elsewhere.add(notAffected(own, carriages, evidence, concerned));
        });
        RoaringBitmap noted = noted(update, concerned, evidence);
        this.allNotAffected = allNotAffected(noted, elsewhere);
        for (Contained earlier : contained) {
            RoaringBitmap mattering = RoaringBitmap.andNot(
                    RoaringBitmap.and(concerned, earlier.lacking()), noted(earlier.update(), concerned, evidence));
            // What the update closes itself is open wherever it is lacking.
            List<Counted> more = mattering.isEmpty()
                    ? List.of()
                    : counted(earlier.update()).stream()
                            .filter(one -> update.vulnerabilities().stream().noneMatch(own -> own.id()
                                    .equals(one.vulnerability().id())))
                            .toList();
            for (Counted one : more) {
                RoaringBitmap not = notAffected(one, carriages, evidence, concerned);
                not.or(RoaringBitmap.andNot(concerned, mattering));
                vulnerabilities.add(one);
                elsewhere.add(not);
            }
        }
        this.notAffected = List.copyOf(elsewhere);
        LocalDate today = now.atZone(ZoneOffset.UTC).toLocalDate();
        boolean removable =
                update.removableUntil().filter(last -> last.isBefore(today)).isEmpty();
        this.facts = new UpdateFacts(
                update.kind(),
                vulnerabilities.stream().map(one -> risk(one, evidence)).toList(),
                removable,
                cellTries(evidence),
                usual);
        this.groups = cellHosts.stream().map(this::cell).toList();
    }

    /** Its vulnerabilities; a security update that names none counts as one with its rating. */
    private static List<Counted> counted(Update of) {
        Stream<Vulnerability> vulnerabilities = of.vulnerabilities().isEmpty() && of.kind() == Kind.SECURITY
                ? Stream.of(new Vulnerability("", of.title(), Optional.empty(), Optional.empty(), ""))
                : of.vulnerabilities().stream();
        return vulnerabilities.map(one -> new Counted(one, of)).toList();
    }

    private RoaringBitmap noted(Update of, RoaringBitmap concerned, Evidence evidence) {
        RoaringBitmap noted = new RoaringBitmap();
        evidence.notesOn(of.id()).stream()
                .filter(note -> note.stands())
                .forEach(note -> noted.or(fleet.matching(note.hosts(), concerned)));
        return noted;
    }

    private VulnerabilityRisk risk(Counted one, Evidence evidence) {
        Vulnerability v = one.vulnerability();
        Rating rating = v.baseScore().map(Rating::ofBaseScore).orElse(one.of().rating());
        return new VulnerabilityRisk(
                v.id(),
                Optional.of(one.of().id()).filter(id -> !id.equals(update.id())),
                evidence.exploited().containsKey(v.id()),
                evidence.score(v.id()).map(ExploitScore::probability),
                rating,
                v.attackVector().orElse(AttackVector.NETWORK),
                v.baseScore());
    }

    /** Hosts by cell: of the first cause that they meet, else of the last cell. */
    private List<RoaringBitmap> cells(RoaringBitmap hosts) {
        List<RoaringBitmap> cells = new ArrayList<>();
        RoaringBitmap left = hosts.clone();
        for (Cause cause : causes) {
            RoaringBitmap meeting = fleet.matching(cause.hosts(), left);
            cells.add(meeting);
            left.andNot(meeting);
        }
        cells.add(left);
        return cells;
    }

    /** A try is of the first cause that its host met when it tried. */
    private List<CellTries> cellTries(Evidence evidence) {
        List<List<TriedHosts.Try>> byCell = new ArrayList<>();
        for (int place = 0; place <= causes.size(); place++) {
            byCell.add(new ArrayList<>());
        }
        for (TriedHosts.Try one : tried.tries()) {
            int place = 0;
            while (place < causes.size() && !SuspectedCauses.meets(one, fleet.host(one.host()), causes.get(place))) {
                place++;
            }
            byCell.get(place).add(one);
        }
        List<CellTries> cells = new ArrayList<>();
        for (int place = 0; place <= causes.size(); place++) {
            Map<FailureClass, Integer> failures = new EnumMap<>(FailureClass.class);
            byCell.get(place).stream()
                    .flatMap(one -> one.failure().stream())
                    .forEach(f -> failures.merge(f.failureClass(), 1, Integer::sum));
            cells.add(new CellTries(
                    place < causes.size() ? Optional.of(causes.get(place)) : Optional.empty(),
                    byCell.get(place).size(),
                    failures,
                    outside(place, byCell.get(place), evidence)));
        }
        return cells;
    }

    /**
     * Half of the hosts that reports from elsewhere tell of, one report for each source and code, at most two failures
     * in all.
     */
    private double outside(int place, List<TriedHosts.Try> triedHere, Evidence evidence) {
        Map<String, Integer> hosts = new LinkedHashMap<>();
        for (FailureReport report : evidence.reportsOn(update.id())) {
            if (report.others() > 0 && matches(report, place, triedHere)) {
                hosts.merge(report.source() + "\n" + report.code().orElse(""), report.others(), Math::max);
            }
        }
        return Math.min(
                OUTSIDE_SHARE
                        * hosts.values().stream().mapToInt(Integer::intValue).sum(),
                MOST_OUTSIDE);
    }

    /**
     * A report that tells traits is of the cells with hosts that have them; one that tells none is of the causes of its
     * code, else of the last cell.
     */
    private boolean matches(FailureReport report, int place, List<TriedHosts.Try> triedHere) {
        if (report.where().isPresent()) {
            HostCondition where = report.where().get();
            return IntStream.concat(
                            cellHosts.get(place).stream(), triedHere.stream().mapToInt(TriedHosts.Try::host))
                    .anyMatch(number -> where.test(fleet.host(number)));
        }
        boolean last = place == causes.size();
        return last
                ? causes.stream().noneMatch(cause -> sharesCode(cause, report))
                : sharesCode(causes.get(place), report);
    }

    private static boolean sharesCode(Cause cause, FailureReport report) {
        return report.code().isPresent() && cause.code().equals(report.code());
    }

    /**
     * Hosts that lack no fix of a product of which the vulnerability matters: all of them are told not to be affected.
     */
    private static RoaringBitmap notAffected(
            Counted one, Carriages carriages, Evidence evidence, RoaringBitmap concerned) {
        Vulnerability vulnerability = one.vulnerability();
        Update update = one.of();
        List<VexStatement> told = new ArrayList<>(evidence.statements().getOrDefault(vulnerability.id(), List.of()));
        update.statements().stream()
                .filter(s -> s.type() == VendorStatement.Type.NOT_AFFECTED
                        && s.vulnerability().equals(vulnerability.id()))
                .forEach(s -> s.build()
                        .ifPresent(build -> told.add(new VexStatement(
                                s.vulnerability(),
                                build,
                                s.version(),
                                VexStatement.Status.NOT_AFFECTED,
                                s.words(),
                                update.vendor(),
                                update.revised()))));
        if (told.stream().noneMatch(s -> s.status() == VexStatement.Status.NOT_AFFECTED)) {
            return new RoaringBitmap();
        }
        RoaringBitmap affected = new RoaringBitmap();
        for (Fix fix : update.fixes()) {
            RoaringBitmap lacking = carriages.installed().split(fix).lacks();
            told.stream()
                    .filter(s -> s.status() == VexStatement.Status.NOT_AFFECTED
                            && s.product().product().equals(fix.build().product()))
                    .forEach(s -> lacking.andNot(having(s, carriages.installed())));
            affected.or(lacking);
        }
        return RoaringBitmap.andNot(concerned, affected);
    }

    private static RoaringBitmap having(VexStatement statement, CarrierIndex installed) {
        RoaringBitmap hosts = new RoaringBitmap();
        installed.versions(statement.product().product()).forEach((version, having) -> {
            if (statement.version().isEmpty()
                    || isLegal(statement)
                            && statement
                                            .product()
                                            .product()
                                            .ordering()
                                            .compare(
                                                    version, statement.version().get())
                                    == 0) {
                hosts.or(having);
            }
        });
        return hosts;
    }

    private static boolean isLegal(VexStatement statement) {
        return statement
                .version()
                .flatMap(statement.product().product().ordering()::fault)
                .isEmpty();
    }

    public UpdateFacts update() {
        return facts;
    }

    /** Hosts for which it is told that no vulnerability of it matters, among those that lack it. */
    public RoaringBitmap notAffected() {
        return allNotAffected;
    }

    /** By notes, and where statements take away every vulnerability. */
    private static RoaringBitmap allNotAffected(RoaringBitmap noted, List<RoaringBitmap> byVulnerability) {
        RoaringBitmap all = noted.clone();
        if (!byVulnerability.isEmpty()) {
            RoaringBitmap byAll = byVulnerability.get(0).clone();
            byVulnerability.forEach(byAll::and);
            all.or(byAll);
        }
        return all;
    }

    /** The lacking hosts of a cell. */
    public RoaringBitmap lackingInCell(int place) {
        return RoaringBitmap.and(cellHosts.get(place), carriage.lacking());
    }

    /** @param tier of the population; hosts in none count as of tier 4 */
    public PopulationFacts population(int tier, RoaringBitmap members) {
        return new PopulationFacts(
                tier, groups.stream().map(cell -> cell.among(members)).toList());
    }

    /** Hosts of a cell that differ in nothing that is weighed. */
    private record Alike(
            Weights.Facing facing, Set<Integer> vulnerabilities, RoaringBitmap hosts, RoaringBitmap stale) {}

    private record Endangered(Optional<FailureClass> named, Optional<FailureClass> vague, RoaringBitmap hosts) {}

    /** The hosts of a cell, sorted once; each population then only counts. */
    private record Cell(
            RoaringBitmap hosts,
            RoaringBitmap stale,
            RoaringBitmap notAffected,
            RoaringBitmap restartOutstanding,
            List<Alike> exposed,
            List<Endangered> endangered) {

        PopulationFacts.CellHosts among(RoaringBitmap members) {
            if (!RoaringBitmap.intersects(hosts, members)) {
                return PopulationFacts.CellHosts.NONE;
            }
            List<PopulationFacts.Exposed> exposedHere = new ArrayList<>();
            for (Alike alike : exposed) {
                int hostsHere = RoaringBitmap.andCardinality(alike.hosts(), members);
                if (hostsHere > 0) {
                    exposedHere.add(new PopulationFacts.Exposed(
                            hostsHere, count(alike.stale(), members), alike.facing(), alike.vulnerabilities()));
                }
            }
            List<PopulationFacts.Endangered> endangeredHere = new ArrayList<>();
            for (Endangered one : endangered) {
                int hostsHere = count(one.hosts(), members);
                if (hostsHere > 0) {
                    endangeredHere.add(new PopulationFacts.Endangered(hostsHere, one.named(), one.vague()));
                }
            }
            return new PopulationFacts.CellHosts(
                    exposedHere,
                    endangeredHere,
                    count(notAffected, members),
                    count(restartOutstanding, members),
                    count(stale, members));
        }
    }

    /** Most of these sets are empty. */
    private static int count(RoaringBitmap hosts, RoaringBitmap members) {
        return hosts.isEmpty() ? 0 : RoaringBitmap.andCardinality(hosts, members);
    }

    private Cell cell(RoaringBitmap hosts) {
        RoaringBitmap lacking = RoaringBitmap.and(hosts, carriage.lacking());
        RoaringBitmap mattering = RoaringBitmap.andNot(hosts, allNotAffected);
        return new Cell(
                hosts,
                RoaringBitmap.and(hosts, carriage.stale()),
                RoaringBitmap.andNot(hosts, mattering),
                RoaringBitmap.andNot(hosts, lacking),
                exposed(mattering),
                endangered(lacking));
    }

    private List<Alike> exposed(RoaringBitmap hosts) {
        if (facts.vulnerabilities().isEmpty()) {
            return List.of();
        }
        List<Alike> exposed = new ArrayList<>();
        byVulnerabilities(hosts)
                .forEach((vulnerabilities, alike) -> facing.forEach((how, facingSo) -> {
                    RoaringBitmap here = RoaringBitmap.and(alike, facingSo);
                    if (!here.isEmpty()) {
                        exposed.add(new Alike(how, vulnerabilities, here, RoaringBitmap.and(here, carriage.stale())));
                    }
                }));
        return exposed;
    }

    /** Hosts by whom they face; one that says nothing, or something that we do not know, counts as internal. */
    private Map<Weights.Facing, RoaringBitmap> facing(RoaringBitmap hosts) {
        Map<Weights.Facing, RoaringBitmap> byFacing = new EnumMap<>(Weights.Facing.class);
        RoaringBitmap left = hosts.clone();
        for (Weights.Facing how : Weights.Facing.values()) {
            if (how != Weights.Facing.INTERNAL) {
                RoaringBitmap here = RoaringBitmap.and(hosts, fleet.withTrait(Weights.Facing.TRAIT, how.word()));
                byFacing.put(how, here);
                left.andNot(here);
            }
        }
        byFacing.put(Weights.Facing.INTERNAL, left);
        return byFacing;
    }

    /** Hosts by the vulnerabilities that matter on them. */
    private Map<Set<Integer>, RoaringBitmap> byVulnerabilities(RoaringBitmap hosts) {
        Set<Integer> every = IntStream.range(0, facts.vulnerabilities().size())
                .boxed()
                .collect(Collectors.toCollection(TreeSet::new));
        Map<Set<Integer>, RoaringBitmap> groups = new HashMap<>();
        groups.put(every, hosts);
        // Those of one update mostly matter on the same hosts: they are taken away together.
        Map<RoaringBitmap, List<Integer>> places = new LinkedHashMap<>();
        for (int place = 0; place < notAffected.size(); place++) {
            places.computeIfAbsent(notAffected.get(place), excluded -> new ArrayList<>())
                    .add(place);
        }
        for (Map.Entry<RoaringBitmap, List<Integer>> alike : places.entrySet()) {
            RoaringBitmap excluded = alike.getKey();
            if (!excluded.isEmpty()) {
                Map<Set<Integer>, RoaringBitmap> next = new HashMap<>();
                for (Map.Entry<Set<Integer>, RoaringBitmap> group : groups.entrySet()) {
                    Set<Integer> without = new TreeSet<>(group.getKey());
                    alike.getValue().forEach(without::remove);
                    put(next, group.getKey(), RoaringBitmap.andNot(group.getValue(), excluded));
                    put(next, without, RoaringBitmap.and(group.getValue(), excluded));
                }
                groups = next;
            }
        }
        return groups;
    }

    private static void put(
            Map<Set<Integer>, RoaringBitmap> groups, Set<Integer> vulnerabilities, RoaringBitmap hosts) {
        if (!hosts.isEmpty()) {
            groups.merge(new HashSet<>(vulnerabilities), hosts, (a, b) -> RoaringBitmap.or(a, b));
        }
    }

    private List<Endangered> endangered(RoaringBitmap lacking) {
        List<Endangered> endangered = new ArrayList<>();
        Optional<FailureClass> vague = openIssues.stream()
                .filter(issue -> issue.hosts().isEmpty())
                .map(KnownIssue::countedClass)
                .max(Comparator.naturalOrder());
        RoaringBitmap left = lacking.clone();
        List<KnownIssue> naming = openIssues.stream()
                .filter(issue -> issue.hosts().isPresent())
                .sorted(Comparator.comparing(KnownIssue::countedClass).reversed())
                .toList();
        for (KnownIssue issue : naming) {
            RoaringBitmap touched = fleet.matching(issue.hosts().get(), left);
            left.andNot(touched);
            endangered.add(new Endangered(Optional.of(issue.countedClass()), vague, touched));
        }
        endangered.add(new Endangered(Optional.empty(), vague, left));
        return endangered;
    }
}
