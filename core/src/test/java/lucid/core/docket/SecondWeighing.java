package lucid.core.docket;

import java.util.ArrayList;
import java.util.Comparator;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.LinkedHashSet;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.TreeSet;
import java.util.function.Predicate;
import lucid.core.carriage.Carriage;
import lucid.core.causes.Cause;
import lucid.core.causes.SuspectedCauses;
import lucid.core.evidence.Evidence;
import lucid.core.evidence.FailureReport;
import lucid.core.evidence.KnownIssue;
import lucid.core.evidence.TriedHosts;
import lucid.core.fleet.FailureClass;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Host;
import lucid.core.fleet.Population;
import lucid.core.update.Kind;
import lucid.core.update.Rating;
import lucid.core.update.Update;
import lucid.core.update.Vulnerability;
import lucid.core.weighing.Weights;
import org.apache.commons.numbers.gamma.LogGamma;
import org.apache.commons.numbers.gamma.RegularizedBeta;

/**
 * The weighing once more, host by host and slowly, written from the words of the model and not from the code that it
 * checks. Tries, causes and states are taken as they are found; vulnerabilities are reached over the network and
 * scored.
 */
final class SecondWeighing {

    /** What is turned to find what flips the suggestion; a probability is that of every vulnerability. */
    record Turned(int failures, int clean, Optional<Double> probability, Optional<Boolean> exploited, double hosts) {
        static final Turned NOTHING = new Turned(0, 0, Optional.empty(), Optional.empty(), 1);
    }

    /** One cell of the update: tries by class, failures elsewhere, and the hosts that the update concerns. */
    private static final class Cell {
        final Set<String> products;
        final Optional<Cause> cause;
        final List<Host> hosts = new ArrayList<>();
        /** Those that it concerns and those that tried it. */
        final Set<Host> members = new HashSet<>();

        int clean;
        final double[] failed = new double[3];
        final double[] outside = new double[3];
        int downElsewhere;

        Cell(Set<String> products, Optional<Cause> cause) {
            this.products = products;
            this.cause = cause;
        }

        double failures() {
            return failed[0] + failed[1] + failed[2];
        }

        double outside() {
            return outside[0] + outside[1] + outside[2];
        }

        double tried() {
            return clean + failures();
        }

        Cell plus(Cell other) {
            Cell sum = new Cell(products, Optional.empty());
            sum.clean = clean + other.clean;
            sum.downElsewhere = downElsewhere + other.downElsewhere;
            for (int i = 0; i < 3; i++) {
                sum.failed[i] = failed[i] + other.failed[i];
                sum.outside[i] = outside[i] + other.outside[i];
            }
            return sum;
        }
    }

    private final Update update;
    private final Carriage carriage;
    private final Fleet fleet;
    private final Evidence evidence;
    private final List<KnownIssue> issues;
    private final Weights weights;
    /** How often sound updates of the kind fail. */
    private final double g;

    private final Turned turned;
    private final List<Cell> cells = new ArrayList<>();

    SecondWeighing(
            Update update,
            Carriage carriage,
            Fleet fleet,
            Evidence evidence,
            TriedHosts tried,
            List<Cause> causes,
            Weights weights,
            double g,
            Population mostOf,
            Turned turned) {
        this.update = update;
        this.carriage = carriage;
        this.fleet = fleet;
        this.evidence = evidence;
        this.weights = weights;
        this.g = g;
        this.turned = turned;
        this.issues = evidence.issuesOf(update.id()).stream()
                .filter(KnownIssue::isOpen)
                .toList();
        List<Host> concerned = new ArrayList<>();
        fleet.all().forEach((int number) -> {
            if (carriage.lacking().contains(number)
                    || carriage.restartOutstanding().contains(number)) {
                concerned.add(fleet.host(number));
            }
        });
        divide(concerned, tried, causes);
        outside();
        if (turned.failures() + turned.clean() > 0) {
            Cell into = lastCellOfMost(mostOf);
            int worst = cells.stream()
                    .flatMap(cell -> java.util.stream.IntStream.range(0, 3)
                            .filter(i -> cell.failed[i] > 0)
                            .boxed())
                    .max(Comparator.naturalOrder())
                    .orElse(FailureClass.DEGRADED.ordinal());
            into.failed[worst] += turned.failures();
            into.clean += turned.clean();
        }
    }

    // ---- cells

    private Set<String> products(Host host) {
        Set<String> own = new TreeSet<>();
        update.fixes().forEach(fix -> {
            String purl = fix.build().product().purl();
            if (host.trait(purl).isPresent()) {
                own.add(purl);
            }
        });
        return own;
    }

    private void divide(List<Host> concerned, TriedHosts tried, List<Cause> causes) {
        Set<Host> all = new LinkedHashSet<>(concerned);
        tried.tries().forEach(one -> all.add(fleet.host(one.host())));
        List<Set<String>> parts = new ArrayList<>();
        for (Host host : all) {
            Set<String> own = new TreeSet<>(products(host));
            for (Set<String> part : List.copyOf(parts)) {
                if (part.stream().anyMatch(own::contains)) {
                    own.addAll(part);
                    parts.remove(part);
                }
            }
            if (!own.isEmpty()) {
                parts.add(own);
            }
        }
        parts.sort(Comparator.comparingLong((Set<String> part) -> all.stream()
                        .filter(host -> products(host).stream().anyMatch(part::contains))
                        .count())
                .thenComparing(part -> part.iterator().next()));
        Set<String> most = parts.isEmpty() ? Set.of() : parts.get(parts.size() - 1);
        Map<Set<String>, Map<Optional<Cause>, Cell>> byPart = new LinkedHashMap<>();
        for (Set<String> part : parts.isEmpty() ? List.of(Set.<String>of()) : parts) {
            Map<Optional<Cause>, Cell> ofPart = new LinkedHashMap<>();
            causes.forEach(cause -> ofPart.put(Optional.of(cause), new Cell(part, Optional.of(cause))));
            ofPart.put(Optional.empty(), new Cell(part, Optional.empty()));
            byPart.put(part, ofPart);
        }
        for (Host host : concerned) {
            Optional<Cause> cause = causes.stream()
                    .filter(one -> one.shared().span().until().isEmpty()
                            && one.shared().hosts().stream().allMatch(where -> where.test(host)))
                    .findFirst();
            byPart.get(partOf(products(host), parts, most)).get(cause).hosts.add(host);
        }
        for (TriedHosts.Try one : tried.tries()) {
            Host host = fleet.host(one.host());
            Optional<Cause> cause = causes.stream()
                    .filter(c -> SuspectedCauses.meets(one, host, c))
                    .findFirst();
            Set<String> had = new TreeSet<>(products(host));
            one.before().ifPresent(before -> had.add(before.build().product().purl()));
            Cell cell = byPart.get(partOf(had, parts, most)).get(cause);
            cell.members.add(host);
            if (one.failed()) {
                cell.failed[one.failure().get().failureClass().ordinal()]++;
            } else {
                cell.clean++;
            }
        }
        byPart.values().forEach(ofPart -> cells.addAll(ofPart.values()));
    }

    private static Set<String> partOf(Set<String> products, List<Set<String>> parts, Set<String> most) {
        return parts.stream()
                .filter(part -> !part.equals(most) && products.stream().anyMatch(part::contains))
                .findFirst()
                .orElse(most);
    }

    private Cell lastCellOfMost(Population population) {
        return cells.stream()
                .filter(cell -> cell.cause.isEmpty())
                .max(Comparator.comparingLong((Cell cell) -> cells.stream()
                        .filter(other -> other.products.equals(cell.products))
                        .flatMap(other -> other.hosts.stream())
                        .filter(host ->
                                lacks(host) && fleet.members(population.id()).contains(host.number()))
                        .count()))
                .orElseThrow();
    }

    /** Half of the hosts told of, two at most in all; one report a source and code. */
    private void outside() {
        Map<List<String>, FailureReport> once = new LinkedHashMap<>();
        for (FailureReport report : evidence.reportsOn(update.id())) {
            List<String> key = List.of(report.source(), report.code().orElse(""));
            if (report.others() > 0 && (!once.containsKey(key) || once.get(key).others() < report.others())) {
                once.put(key, report);
            }
        }
        double told = once.values().stream().mapToInt(FailureReport::others).sum();
        for (FailureReport report : once.values()) {
            double failures = Math.min(told / 2, 2) * report.others() / told;
            Map<Cell, Double> sizes = new LinkedHashMap<>();
            for (Cell cell : cells) {
                if (report.code().isPresent()
                        && cell.cause.isPresent()
                        && cell.cause.get().code().equals(report.code())) {
                    sizes.put(cell, (double) membersOf(cell, host -> true));
                }
            }
            if (sizes.isEmpty() && report.where().isPresent()) {
                for (Cell cell : cells) {
                    double meeting = membersOf(cell, report.where().get()::test);
                    if (meeting > 0) {
                        sizes.put(cell, meeting);
                    }
                }
            }
            if (sizes.isEmpty()) {
                cells.stream()
                        .filter(cell -> cell.cause.isEmpty())
                        .forEach(cell -> sizes.put(cell, (double) membersOf(cell, host -> true)));
            }
            double all = sizes.values().stream().mapToDouble(size -> size).sum();
            sizes.forEach((cell, size) -> {
                double share = all == 0 ? 1.0 / sizes.size() : size / all;
                if (share > 0) {
                    cell.outside[report.failureClass().ordinal()] += failures * share;
                    cell.downElsewhere += report.failureClass() == FailureClass.DOWN ? report.others() : 0;
                }
            });
        }
    }

    private static long membersOf(Cell cell, Predicate<Host> which) {
        cell.members.addAll(cell.hosts);
        return cell.members.stream().filter(which).count();
    }

    // ---- rates

    /** Shares of the three sorts, and their shapes, after the tries. */
    private double[][] posterior(double tries, double failures) {
        double[][] prior = {{.90, .5, .5 * (1 - g) / g}, {.07, 1, 15}, {.03, 2, 1}};
        double[] weight = new double[3];
        double sum = 0;
        for (int i = 0; i < 3; i++) {
            weight[i] = prior[i][0]
                    * Math.exp(logBeta(prior[i][1] + failures, prior[i][2] + tries - failures)
                            - logBeta(prior[i][1], prior[i][2]));
            sum += weight[i];
        }
        double[][] posterior = new double[3][];
        for (int i = 0; i < 3; i++) {
            posterior[i] = new double[] {weight[i] / sum, prior[i][1] + failures, prior[i][2] + tries - failures};
        }
        return posterior;
    }

    private static double logBeta(double a, double b) {
        return LogGamma.value(a) + LogGamma.value(b) - LogGamma.value(a + b);
    }

    private static double below(double[][] posterior, double rate) {
        double below = 0;
        for (double[] sort : posterior) {
            below += sort[0] * RegularizedBeta.value(rate, sort[1], sort[2]);
        }
        return below;
    }

    /** @param which 0 for the mean, else the probability below the quantile */
    private double q(Cell cell, double which) {
        double[][] posterior = posterior(cell.tried() + cell.outside(), cell.failures() + cell.outside());
        if (which == 0) {
            double mean = 0;
            for (double[] sort : posterior) {
                mean += sort[0] * sort[1] / (sort[1] + sort[2]);
            }
            return mean;
        }
        double low = 0;
        double high = 1;
        for (int i = 0; i < 60; i++) {
            double middle = (low + high) / 2;
            if (below(posterior, middle) < which) {
                low = middle;
            } else {
                high = middle;
            }
        }
        return low;
    }

    private double harmOf(int failureClass) {
        return weights.harms().get(FailureClass.values()[failureClass]);
    }

    private double harm(Cell cell) {
        double sum = .5 * .4;
        for (int i = 0; i < 3; i++) {
            sum += harmOf(i) * (cell.failed[i] + cell.outside[i]);
        }
        return sum / (.5 + cell.failures() + cell.outside());
    }

    // ---- both sides

    private boolean lacks(Host host) {
        return carriage.lacking().contains(host.number());
    }

    private boolean isNotAffected(Host host) {
        return evidence.notesOn(update.id()).stream()
                .anyMatch(note -> note.stands() && note.hosts().test(host));
    }

    private Optional<Double> probability(Vulnerability vulnerability) {
        return turned.probability().isPresent()
                ? turned.probability()
                : evidence.score(vulnerability.id()).map(score -> score.probability());
    }

    private boolean isExploited(Vulnerability vulnerability) {
        return turned.exploited().orElse(evidence.exploited().containsKey(vulnerability.id()));
    }

    private double risk(Vulnerability vulnerability) {
        Rating own = vulnerability.baseScore().map(Rating::ofBaseScore).orElse(Rating.UNRATED);
        Rating higher = own.compareTo(update.rating()) > 0 ? own : update.rating();
        double byRating =
                switch (higher) {
                    case CRITICAL -> .10;
                    case HIGH -> .05;
                    case LOW, NONE -> .005;
                    default -> .02;
                };
        double likelihood =
                isExploited(vulnerability) ? .95 : probability(vulnerability).orElse(byRating);
        return likelihood * vulnerability.baseScore().orElseThrow() / 10;
    }

    private double exposure(List<Cell> judged, Population population, boolean exploitedOnly) {
        double sum = 0;
        for (Cell cell : judged) {
            for (Host host : of(cell, population)) {
                double largest = 0;
                for (Vulnerability one : update.vulnerabilities()) {
                    if (!exploitedOnly || isExploited(one)) {
                        largest = Math.max(largest, risk(one));
                    }
                }
                double openness =
                        switch (host.trait("facing").map(Object::toString).orElse("")) {
                            case "public" -> 1;
                            case "partner" -> .6;
                            case "isolated" -> .1;
                            default -> .35;
                        };
                sum += isNotAffected(host) ? 0 : weight(population) * openness * largest;
            }
        }
        return sum * turned.hosts();
    }

    private double weight(Population population) {
        return new double[] {8, 4, 2, 1}[population.tier() - 1];
    }

    private List<Host> of(Cell cell, Population population) {
        return cell.hosts.stream()
                .filter(host -> fleet.members(population.id()).contains(host.number()))
                .toList();
    }

    private List<Host> installing(Cell cell, Population population) {
        return of(cell, population).stream()
                .filter(host -> lacks(host) && !isNotAffected(host))
                .toList();
    }

    private double hazard(List<Cell> judged, Population population, double which) {
        double sum = 0;
        for (Cell cell : judged) {
            double q = q(cell, which);
            for (Host host : installing(cell, population)) {
                double one = q * harm(cell);
                for (KnownIssue issue : issues) {
                    double p = issue.hosts().isPresent() ? .5 : cell.tried() >= 20 ? Math.min(.05, q) : .05;
                    if (issue.hosts().stream().allMatch(where -> where.test(host))) {
                        one = Math.max(
                                one,
                                p
                                        * harmOf(issue.failureClass()
                                                .orElse(FailureClass.DEGRADED)
                                                .ordinal()));
                    }
                }
                sum += weight(population) * one;
            }
        }
        return sum * turned.hosts();
    }

    private double usual(List<Cell> judged, Population population) {
        return turned.hosts()
                * judged.stream()
                        .mapToInt(cell -> installing(cell, population).size())
                        .sum()
                * weight(population)
                * .4
                * q(new Cell(Set.of(), Optional.empty()), 0);
    }

    // ---- what is said of it

    /** Exposure, usual, hazard with its ends. */
    double[] sides(Population population) {
        return new double[] {
            exposure(cells, population, false),
            usual(cells, population),
            hazard(cells, population, 0),
            hazard(cells, population, .05),
            hazard(cells, population, .95)
        };
    }

    static double tilt(double exposure, double usual, double hazard) {
        return Math.max(-5, Math.min(5, Math.log((exposure + usual + .01) / (hazard + .01))));
    }

    private List<Cell> together(List<Cell> judged) {
        Map<Set<String>, Cell> byProducts = new LinkedHashMap<>();
        judged.forEach(cell -> byProducts.merge(cell.products, cell, Cell::plus));
        return List.copyOf(byProducts.values());
    }

    private boolean harmInEvidence(List<Cell> judged, Population population) {
        for (Cell sum : together(judged)) {
            List<Host> touched = judged.stream()
                    .filter(cell -> cell.products.equals(sum.products))
                    .flatMap(cell -> installing(cell, population).stream())
                    .toList();
            boolean named = issues.stream()
                    .anyMatch(issue -> issue.hosts().isPresent()
                            && touched.stream().anyMatch(issue.hosts().get()::test));
            boolean vague = !touched.isEmpty()
                    && issues.stream().anyMatch(issue -> issue.hosts().isEmpty());
            double failures = sum.failures() + sum.outside();
            boolean above = failures >= 2
                    && 1 - below(posterior(sum.tried() + sum.outside(), failures), Math.max(2 * g, .01)) >= .9;
            double down = sum.failed[2];
            boolean hostsDown = down >= 1
                    && (sum.tried() <= 60 || 1 - RegularizedBeta.value(.005, 1 + down, 1 + sum.tried() - down) >= .9);
            boolean elsewhere = sum.downElsewhere >= 3 && sum.clean < 58;
            if (named || vague && sum.clean < 58 || above || hostsDown || elsewhere) {
                return true;
            }
        }
        return false;
    }

    private boolean isBlock(List<Cell> judged, Population population) {
        return harmInEvidence(judged, population)
                && hazard(judged, population, .05) > 3 * exposure(judged, population, false);
    }

    /** In words, as "BLOCK 2 causes, rest LET_GO". */
    String suggestion(Population population) {
        List<Cell> judged =
                cells.stream().filter(cell -> !of(cell, population).isEmpty()).toList();
        if (judged.isEmpty()) {
            return "NONE";
        }
        List<Cell> blocked = judged.stream()
                .filter(cell -> cell.cause.isPresent()
                        && of(cell, population).stream().anyMatch(this::lacks)
                        && isBlock(List.of(cell), population))
                .toList();
        List<Cell> rest =
                judged.stream().filter(cell -> !blocked.contains(cell)).toList();
        if (blocked.isEmpty()) {
            return first(judged, population);
        }
        return "BLOCK " + blocked.size() + " causes" + (rest.isEmpty() ? "" : ", rest " + first(rest, population));
    }

    private String first(List<Cell> judged, Population population) {
        double exposure = exposure(judged, population, false);
        double high = hazard(judged, population, .95);
        long clean =
                together(judged).stream().mapToLong(cell -> cell.clean).min().orElse(0);
        boolean likely =
                judged.stream().flatMap(cell -> of(cell, population).stream()).anyMatch(host -> !isNotAffected(host))
                        && update.vulnerabilities().stream()
                                .anyMatch(one ->
                                        probability(one).filter(p -> p >= .1).isPresent());
        if (exposure > 3 * high && (exposure(judged, population, true) > 3 * high || likely && clean >= 20)) {
            return "FORCE";
        }
        if (isBlock(judged, population)) {
            return "BLOCK";
        }
        double hosts = turned.hosts()
                * judged.stream().mapToInt(cell -> of(cell, population).size()).sum();
        double lacking = turned.hosts()
                * judged.stream()
                        .flatMap(cell -> of(cell, population).stream())
                        .filter(this::lacks)
                        .count();
        boolean much = exposure >= .5 || exposure >= .1 * hosts * weight(population);
        boolean risky =
                much || update.kind() == Kind.UPGRADE || update.kind() == Kind.DRIVER || update.kind() == Kind.FIRMWARE;
        double limit = Math.max(.05, 1 - Math.pow(.05, 1 / (lacking + 1)));
        boolean gate = together(judged).stream()
                .allMatch(cell -> RegularizedBeta.value(limit, 1 + cell.failures(), 1 + cell.clean) >= .95 - 1e-9);
        if (harmInEvidence(judged, population) && exposure > 0 || risky && !gate) {
            return "PILOT";
        }
        return much && exposure > high && clean >= 20 ? "LET_GO" : "LEAVE_TO_RULE";
    }
}
