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
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import lucid.core.carriage.Carriage;
import lucid.core.carriage.Carriages;
import lucid.core.causes.Cause;
import lucid.core.evidence.Evidence;
import lucid.core.evidence.ExploitScore;
import lucid.core.evidence.KnownIssue;
import lucid.core.evidence.TriedHosts;
import lucid.core.evidence.VexStatement;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.Fleet;
import lucid.core.update.AffectedRange;
import lucid.core.update.AttackVector;
import lucid.core.update.Catalogue;
import lucid.core.update.Fix;
import lucid.core.update.Kind;
import lucid.core.update.Rating;
import lucid.core.update.Update;
import lucid.core.update.VendorStatement;
import lucid.core.update.Vulnerability;
import lucid.core.version.VersionOrdering;
import org.roaringbitmap.RoaringBitmap;

/**
 * Counts, for one update, everything that is weighed: which hosts lack it, in which cells, how open they are, which
 * vulnerabilities matter on them, which known issues touch them.
 */
public final class WeighingInput {

    private final Update update;
    private final Carriage carriage;
    private final Fleet fleet;
    private final List<KnownIssue> openIssues;
    /** Hosts that lack it and for which a version with the fix is known. */
    private final RoaringBitmap installable;

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
    public record Contained(Update update, RoaringBitmap lacking) {

        /** Earlier updates in {@code update} that close something. */
        public static List<Contained> in(Update update, Catalogue catalogue, Function<Update, RoaringBitmap> lacking) {
            return catalogue.containedIn(update.id()).stream()
                    .filter(earlier -> !earlier.vulnerabilities().isEmpty() || earlier.kind() == Kind.SECURITY)
                    .map(earlier -> new Contained(earlier, lacking.apply(earlier)))
                    .toList();
        }
    }

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
        this.openIssues = issues.stream()
                .filter(issue -> issue.isOpen() && !issue.fixedBy().contains(update.id()))
                .toList();
        RoaringBitmap concerned = RoaringBitmap.or(carriage.lacking(), carriage.restartOutstanding());
        Cells cells = new Cells(update, carriages.installed(), fleet, concerned, tried, causes, evidence);
        this.cellHosts = cells.hosts();
        this.installable = installable(update, carriage, carriages);
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
        boolean removable = update.removable().isPossibleOn(today);
        this.facts = new UpdateFacts(
                update.kind(),
                vulnerabilities.stream().map(one -> risk(one, evidence)).toList(),
                removable,
                update.isWithdrawn(),
                cells.tries(),
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
        Rating own = v.baseScore().map(Rating::ofBaseScore).orElse(Rating.UNRATED);
        return new VulnerabilityRisk(
                v.id(),
                Optional.of(one.of().id()).filter(id -> !id.equals(update.id())),
                evidence.exploited().containsKey(v.id()),
                evidence.score(v.id()).map(ExploitScore::probability),
                own.compareTo(one.of().rating()) > 0 ? own : one.of().rating(),
                v.attackVector().orElse(AttackVector.NETWORK),
                v.baseScore());
    }

    private static RoaringBitmap installable(Update update, Carriage carriage, Carriages carriages) {
        boolean always = update.fixes().stream()
                .flatMap(fix -> fix.tracks().stream())
                .allMatch(track -> track.fixed().isPresent());
        if (always) {
            return carriage.lacking();
        }
        RoaringBitmap hosts = new RoaringBitmap();
        for (Fix fix : update.fixes()) {
            hosts.or(carriages
                    .installed()
                    .split(
                            fix.build(),
                            version -> fix.trackOf(version)
                                            .flatMap(AffectedRange::fixed)
                                            .isPresent()
                                    ? fix.standing(version)
                                    : Fix.Standing.NOT_SPOKEN_OF,
                            carriages.fleet()::onRelease)
                    .lacks());
        }
        hosts.and(carriage.lacking());
        return hosts;
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
        // Who does not say why is not believed without a person, who writes a note.
        told.removeIf(s -> s.status() != VexStatement.Status.NOT_AFFECTED
                || s.justification().isBlank());
        if (told.isEmpty()) {
            return new RoaringBitmap();
        }
        RoaringBitmap affected = new RoaringBitmap();
        for (Fix fix : update.fixes()) {
            RoaringBitmap lacking = carriages
                    .installed()
                    .split(fix, carriages.fleet()::onRelease)
                    .lacks();
            told.stream()
                    .filter(s -> s.product().product().equals(fix.build().product()))
                    .forEach(s -> lacking.andNot(having(s, carriages)));
            affected.or(lacking);
        }
        return RoaringBitmap.andNot(concerned, affected);
    }

    /** Hosts with the version that a statement is of. */
    private static RoaringBitmap having(VexStatement statement, Carriages carriages) {
        VersionOrdering ordering = statement.product().product().ordering();
        return carriages
                .installed()
                .split(
                        statement.product(),
                        version -> statement.version().isEmpty()
                                        || isLegal(statement)
                                                && ordering.compare(
                                                                version,
                                                                statement
                                                                        .version()
                                                                        .get())
                                                        == 0
                                ? Fix.Standing.HAS
                                : Fix.Standing.NOT_SPOKEN_OF,
                        carriages.fleet()::onRelease)
                .has();
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

    /** Hosts that lack it and would meet a suspected cause if they tried it now, and no earlier one. */
    public RoaringBitmap lackingIn(Cause cause) {
        RoaringBitmap lacking = new RoaringBitmap();
        for (int place = 0; place < cellHosts.size(); place++) {
            if (facts.cells().get(place).cause().equals(Optional.of(cause))) {
                lacking.or(RoaringBitmap.and(cellHosts.get(place), carriage.lacking()));
            }
        }
        return lacking;
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
            RoaringBitmap lacking,
            RoaringBitmap nothingToInstall,
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
                    count(lacking, members),
                    count(nothingToInstall, members),
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
                lacking,
                RoaringBitmap.andNot(lacking, installable),
                RoaringBitmap.and(hosts, carriage.stale()),
                RoaringBitmap.andNot(hosts, mattering),
                RoaringBitmap.andNot(hosts, lacking),
                exposed(mattering),
                endangered(RoaringBitmap.and(RoaringBitmap.and(mattering, lacking), installable)));
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

    private List<Endangered> endangered(RoaringBitmap installing) {
        List<Endangered> endangered = new ArrayList<>();
        Optional<FailureClass> vague = openIssues.stream()
                .filter(issue -> issue.hosts().isEmpty())
                .map(KnownIssue::countedClass)
                .max(Comparator.naturalOrder());
        RoaringBitmap left = installing.clone();
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
