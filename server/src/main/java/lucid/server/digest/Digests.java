package lucid.server.digest;

import java.time.Clock;
import java.time.Duration;
import java.time.Instant;
import java.time.ZoneId;
import java.time.format.DateTimeFormatter;
import java.util.Collection;
import java.util.Comparator;
import java.util.HashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import lucid.core.docket.Cue;
import lucid.core.docket.Docket;
import lucid.core.docket.DocketCase;
import lucid.core.evidence.CaseNote;
import lucid.core.exceptions.ExceptionAccounts;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.operators.OperatorEntry;
import lucid.core.operators.OperatorWork;
import lucid.core.operators.OperatorWork.Standing;
import lucid.core.reporting.InForceCell;
import lucid.core.reporting.OpenExploited;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.Effect;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.ruling.InForce;
import lucid.core.ruling.Timeline;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.server.access.Caller;
import lucid.server.access.FormerPeople;
import lucid.server.access.Role;
import lucid.server.audit.AuditEntry;
import lucid.server.audit.AuditLog;
import lucid.server.digest.Digest.DigestLine;
import lucid.server.digest.Digest.DigestSection;
import lucid.server.docket.Dockets;
import lucid.server.feeds.FeedHealth;
import lucid.server.inforce.EndWords;
import lucid.server.intake.OpenDocuments;
import lucid.server.operators.Operators;
import lucid.server.orders.OrdersHeard;
import lucid.server.proposals.Proposal;
import lucid.server.proposals.Proposals;
import lucid.server.snapshot.Snapshot;
import lucid.server.snapshot.SnapshotStore;
import lucid.server.views.Views.ExceptionView;
import lucid.server.web.Addresses;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.stereotype.Component;

/** Puts digests together, to each role what is its own. */
@Component
class Digests {

    private static final Duration SOON = Duration.ofDays(7);
    private static final int MOST_ENTRIES = 2_000;
    private static final int MOST_OF_A_NOTE = 120;
    private static final Set<AuditEntry.Kind> DECIDED = Set.of(
            AuditEntry.Kind.VERDICT, AuditEntry.Kind.ANSWER, AuditEntry.Kind.EXCEPTION, AuditEntry.Kind.TAKEN_BACK);

    private final SnapshotStore store;
    private final Dockets dockets;
    private final Proposals proposals;
    private final Operators operators;
    private final OrdersHeard heard;
    private final OpenDocuments documents;
    private final FeedHealth feeds;
    private final FormerPeople former;
    private final AuditLog record;
    private final Clock clock;

    Digests(
            SnapshotStore store,
            Dockets dockets,
            Proposals proposals,
            Operators operators,
            OrdersHeard heard,
            OpenDocuments documents,
            FeedHealth feeds,
            FormerPeople former,
            AuditLog record,
            Clock clock) {
        this.store = store;
        this.dockets = dockets;
        this.proposals = proposals;
        this.operators = operators;
        this.heard = heard;
        this.documents = documents;
        this.feeds = feeds;
        this.former = former;
        this.record = record;
        this.clock = clock;
    }

    /** @param zone in which days are told */
    Digest of(Caller.Person person, Instant from, ZoneId zone) {
        Snapshot whole = store.snapshot();
        Snapshot snapshot = person.role() == Role.OPERATOR
                ? whole.only(
                        person.populations().stream().map(PopulationId::new).collect(Collectors.toSet()))
                : whole;
        Instant now = clock.instant();
        Writer writer = new Writer(person, snapshot, from, now, zone);
        List<Optional<DigestSection>> sections =
                switch (person.role()) {
                    case OPERATOR -> List.of(writer.yours(), writer.byOperator(), writer.offeredByItself());
                    case DESK -> List.of(writer.yours());
                    default ->
                        List.of(
                                writer.yours(),
                                writer.waitsForApproval(),
                                writer.toJudge(),
                                writer.ofWhoLeft(),
                                writer.exploited(),
                                writer.overdue(),
                                writer.ofOperators(),
                                writer.ends(),
                                writer.decided(),
                                writer.intake());
                };
        return new Digest(from, now, sections.stream().flatMap(Optional::stream).toList());
    }

    /** One digest. */
    private final class Writer {
        private final Caller.Person person;
        private final Snapshot snapshot;
        private final Instant from;
        private final Instant now;
        private final ZoneId zone;

        Writer(Caller.Person person, Snapshot snapshot, Instant from, Instant now, ZoneId zone) {
            this.person = person;
            this.snapshot = snapshot;
            this.from = from;
            this.now = now;
            this.zone = zone;
        }

        private boolean isSoon(Instant at) {
            return !at.isAfter(now.plus(SOON));
        }

        /** What goes by this person's name. */
        private Optional<DigestSection> yours() {
            Stream<DigestLine> exceptions = snapshot.decisions().exceptions().stream()
                    .filter(exception -> exception.owner().equalsIgnoreCase(person.displayName())
                            && exception.revokedAt().isEmpty()
                            && !exception.createdAt().isAfter(now)
                            && (exception.standsAt(now)
                                    ? isSoon(exception.end())
                                    : !exception.end().isBefore(from)))
                    .sorted((a, b) -> a.end().compareTo(b.end()))
                    .map(exception -> new DigestLine(
                            "Your exception no. " + exception.number() + " on " + about(exception) + " "
                                    + (exception.standsAt(now) ? "ends " : "ended ") + day(exception.end()) + ".",
                            "/exceptions"));
            Stream<DigestLine> populations = snapshot.fleet().ladder().populations().stream()
                    .filter(population -> population.owner().equalsIgnoreCase(person.displayName()))
                    .flatMap(this::ofPopulation);
            Stream<DigestLine> overridden = snapshot.decisions().exceptions().stream()
                    .filter(exception -> exception.owner().equalsIgnoreCase(person.displayName()))
                    .flatMap(exception -> ExceptionAccounts.overriding(exception, snapshot.decisions(), now).stream()
                            .map(force -> new DigestLine(
                                    "Force no. " + force.number() + " on " + force.updateId() + " by " + force.author()
                                            + " goes over your exception no. " + exception.number() + ", due "
                                            + day(force.end())
                                            + (force.end().isAfter(now) ? ": you may object." : "."),
                                    "/objection?force=" + force.number() + "&exception=" + exception.number())));
            return DigestSection.of(
                    "Yours",
                    Stream.of(seenTo(), objections(), overridden, exceptions, populations)
                            .flatMap(lines -> lines));
        }

        /** What owners of exceptions have against forces of this person. */
        private Stream<DigestLine> objections() {
            return snapshot.evidence().caseNotes().stream()
                    .filter(note -> note.stands()
                            && note.objection()
                                    .map(CaseNote.Objection::force)
                                    .map(DecisionNumber.OfVerdict::new)
                                    .flatMap(snapshot.decisions()::verdict)
                                    .filter(force -> force.standsAt(now)
                                            && force.author().equals(person.displayName()))
                                    .isPresent())
                    .map(note -> new DigestLine(
                            note.author() + " objects to your force no. "
                                    + note.objection().orElseThrow().force() + " on " + note.updateId() + ": "
                                    + brief(note.words()),
                            casePath(note.updateId())));
        }

        /** Cases that this person sees to, what is looked at again first in front. */
        private Stream<DigestLine> seenTo() {
            return snapshot.evidence().caseNotes().stream()
                    .filter(note -> note.stands()
                            && note.followUp()
                                    .assignee()
                                    .filter(person.displayName()::equals)
                                    .isPresent())
                    .sorted(Comparator.comparing(note -> note.followUp().from().orElse(Instant.MAX)))
                    .map(note -> new DigestLine(
                            "You see to " + note.updateId()
                                    + note.followUp()
                                            .day()
                                            .map(day -> ", looked at again " + DAY.format(day))
                                            .orElse("")
                                    + ": " + brief(note.words()),
                            Optional.of(casePath(note.updateId()))
                                    .filter(path -> person.role() != Role.DESK && person.role() != Role.OPERATOR)));
        }

        private Stream<DigestLine> ofPopulation(Population population) {
            RoaringBitmap restarts = new RoaringBitmap();
            snapshot.catalogue()
                    .updates()
                    .forEach(
                            update -> restarts.or(snapshot.carriage(update, now).restartOutstanding()));
            restarts.and(snapshot.fleet().members(population.id()));
            return restarts.isEmpty()
                    ? Stream.empty()
                    : Stream.of(new DigestLine(
                            population.name() + ": " + hosts(restarts.getCardinality()) + " "
                                    + (restarts.getCardinality() == 1 ? "waits" : "wait") + " for a restart.",
                            "/hosts?population="
                                    + Addresses.encoded(population.id().value())));
        }

        private Optional<DigestSection> waitsForApproval() {
            return DigestSection.of(
                    person.role() == Role.APPROVER ? "Waits for you to approve it" : "Waits for an approver",
                    proposals.waiting().stream()
                            .map(one -> new DigestLine(
                                    switch (one.about()) {
                                                case VERDICT -> one.update();
                                                case EXCEPTION -> "An exception on " + one.update();
                                                case RENEWAL -> "That exceptions go on";
                                            }
                                            + ", proposed by " + one.author() + " for "
                                            + hosts(one.hosts())
                                            + "; lapses " + day(one.lapsesAt()) + ".",
                                    one.about() == Proposal.About.VERDICT ? casePath(one.update()) : "/exceptions")));
        }

        private Optional<DigestSection> toJudge() {
            List<DocketCase> open = dockets.current().docket().cases().stream()
                    .filter(one -> one.needsJudgement() && !one.routine())
                    .toList();
            return DigestSection.of(
                    "To judge: " + open.size() + (open.size() == 1 ? " case" : " cases"),
                    open.stream().map(this::caseLine));
        }

        /** What goes by the name of somebody who has no account any more, and who takes it over has not been said. */
        private Optional<DigestSection> ofWhoLeft() {
            FormerPeople.Left left = former.now();
            Stream<DigestLine> exceptions = snapshot.decisions().exceptions().stream()
                    .filter(exception -> exception.standsAt(now) && left.has(exception.owner()))
                    .map(exception -> new DigestLine(
                            exception.owner() + " has left, and owned exception no. " + exception.number() + " on "
                                    + about(exception) + ".",
                            "/exceptions?at=" + exception.number()));
            Stream<DigestLine> cases = snapshot.evidence().caseNotes().stream()
                    .filter(note -> note.stands()
                            && note.followUp().assignee().filter(left::has).isPresent())
                    .map(note -> new DigestLine(
                            note.followUp().assignee().orElseThrow() + " has left, and saw to " + note.updateId() + ": "
                                    + brief(note.words()),
                            casePath(note.updateId())));
            return DigestSection.of("To be handed over", Stream.concat(exceptions, cases));
        }

        private DigestLine caseLine(DocketCase one) {
            boolean isNew =
                    one.newestCue().filter(raised -> raised.isAfter(from)).isPresent();
            Update update = one.update();
            return new DigestLine(
                    (isNew ? "New: " : "") + update.id() + " " + update.title() + ": "
                            + one.cues().stream()
                                    .map(Cue::type)
                                    .distinct()
                                    .limit(3)
                                    .map(CueWords::of)
                                    .collect(Collectors.joining(", "))
                            + (one.counts().lacking() == 0
                                    ? "."
                                    : "; " + hosts(one.counts().lacking())
                                            + (one.counts().lacking() == 1 ? " lacks it." : " lack it.")),
                    casePath(update.id()));
        }

        private Optional<DigestSection> exploited() {
            return DigestSection.of(
                    "Known to be exploited and open",
                    OpenExploited.all(snapshot.carriages(), snapshot.evidence(), now).stream()
                            .filter(one -> !one.open().isEmpty())
                            .map(one -> new DigestLine(
                                    one.listed().cve() + ": open on "
                                            + hosts(one.open().getCardinality())
                                            + one.daysLeft(now)
                                                    .map(left -> left < 0
                                                            ? "; its public due day was " + -left
                                                                    + (left == -1 ? " day ago" : " days ago")
                                                            : "; due in " + left + (left == 1 ? " day" : " days"))
                                                    .orElse("")
                                            + ".",
                                    "/report/exploited")));
        }

        private Optional<DigestSection> overdue() {
            return DigestSection.of(
                    "Overdue",
                    inForce()
                            .filter(one -> one.decision() instanceof Verdict verdict
                                    && verdict.type() == VerdictType.FORCE
                                    && !one.end().isAfter(now))
                            .map(one -> new DigestLine(
                                    EndWords.of(one, snapshot) + ": "
                                            + hosts(one.hosts().getCardinality()) + " past due since " + day(one.end())
                                            + why((Verdict) one.decision(), one.hosts()) + ".",
                                    one.update()
                                            .map(update -> casePath(update.id()))
                                            .orElse("/in-force"))));
        }

        /** ": 3 silent too long, 1 on battery". */
        private String why(Verdict force, RoaringBitmap hosts) {
            return heard.whyOverdue(force, hosts, snapshot, now).hosts().entrySet().stream()
                    .map(of ->
                            of.getValue().getCardinality() + " " + of.getKey().words())
                    .collect(Collectors.joining(", ", ": ", ""));
        }

        private Optional<DigestSection> ends() {
            return DigestSection.of(
                    "Ends within seven days",
                    inForce()
                            .filter(one -> one.end().isAfter(now) && isSoon(one.end()))
                            .map(one -> new DigestLine(
                                    day(one.end()) + ": " + EndWords.of(one, snapshot) + ", "
                                            + hosts(one.hosts().getCardinality()) + ".",
                                    one.update()
                                            .map(update -> casePath(update.id()))
                                            .orElse("/in-force"))));
        }

        private Stream<InForce> inForce() {
            return InForce.at(snapshot.carriages(), snapshot.decisions(), now).stream();
        }

        private Optional<DigestSection> decided() {
            return DigestSection.of(
                    "Decided since " + DAY_TIME.format(from.atZone(zone)),
                    record.since(from, MOST_ENTRIES).stream()
                            .filter(entry -> DECIDED.contains(entry.kind()))
                            .map(entry -> new DigestLine(
                                    entry.author() + ": " + entry.sentence(),
                                    entry.subject().isEmpty()
                                            ? Optional.empty()
                                            : Optional.of("/cases/" + Addresses.encoded(entry.subject())))));
        }

        private Optional<DigestSection> intake() {
            int open = documents.count();
            Stream<DigestLine> refused = open == 0
                    ? Stream.empty()
                    : Stream.of(new DigestLine(
                            open == 1
                                    ? "One document was refused, is held or waits."
                                    : open + " documents were refused, are held or wait.",
                            "/intake"));
            Stream<DigestLine> late = feeds.all().stream()
                    .filter(feed -> feed.failures() > 0)
                    .map(feed -> new DigestLine(
                            "The feed " + feed.name() + " failed "
                                    + (feed.failures() == 1 ? "once" : feed.failures() + " times in a row")
                                    + feed.succeeded()
                                            .map(at -> "; it last came " + day(at))
                                            .orElse("; it has never come")
                                    + ".",
                            "/intake"));
            int silent = snapshot.fleet().unknownAt(now).getCardinality();
            Stream<DigestLine> unknown = silent == 0
                    ? Stream.empty()
                    : Stream.of(new DigestLine(
                            "Of " + hosts(silent) + " nobody has heard for three check-in intervals and three days.",
                            "/hosts"));
            return DigestSection.of(
                    "What comes in", Stream.of(refused, late, unknown).flatMap(lines -> lines));
        }

        /** What an operator is to install by hand. */
        private Optional<DigestSection> byOperator() {
            return DigestSection.of(
                    "For you to install",
                    operators.work(snapshot).stream()
                            .map(work -> new DigestLine(
                                    described(work.update()) + ": "
                                            + hosts(work.hosts().size())
                                            + work.due()
                                                    .map(due -> "; asked for until " + day(due))
                                                    .orElse("")
                                            + standings(work, work.hosts()) + ".",
                                    "/my-hosts?update="
                                            + Addresses.encoded(
                                                    work.update().id().value()))));
        }

        /** What operators were to install, and is not as it was asked for or said. */
        private Optional<DigestSection> ofOperators() {
            return DigestSection.of(
                    "By operator, and not as asked or said",
                    operators.work(snapshot).stream()
                            .filter(work -> !work.amiss(now).isEmpty())
                            .map(work -> new DigestLine(
                                    work.update().id() + " on "
                                            + work.population().name() + " ("
                                            + work.population().owner() + "): "
                                            + hosts(work.amiss(now).size())
                                            + standings(work, work.amiss(now)) + ".",
                                    "/my-hosts?update="
                                            + Addresses.encoded(
                                                    work.update().id().value()))));
        }

        /** "; 2 past the day it was asked for; 1 lacks it though it was said to be done". */
        private String standings(OperatorWork work, List<OperatorWork.HostWork> among) {
            long late = among.stream().filter(host -> host.isLate(now)).count();
            return (late == 0 ? "" : "; " + late + " past the day until which it is asked for")
                    + Stream.of(Standing.values())
                            .map(standing -> {
                                List<OperatorWork.HostWork> so = among.stream()
                                        .filter(host -> host.standing() == standing)
                                        .toList();
                                return so.isEmpty() ? "" : "; " + so.size() + " " + words(standing, so, work);
                            })
                            .collect(Collectors.joining());
        }

        private static String words(Standing standing, List<OperatorWork.HostWork> hosts, OperatorWork work) {
            return switch (standing) {
                case NO_SLOT -> "without a slot";
                case AGREED ->
                    "agreed, the first for "
                            + hosts.stream()
                                    .flatMap(host -> host.entry().stream())
                                    .flatMap(entry -> entry.slot().stream())
                                    .min(Comparator.comparing(OperatorEntry.Slot::from))
                                    .map(slot -> Operators.words(
                                            slot, work.population().zone()))
                                    .orElseThrow();
                case SLOT_PAST -> "past the agreed slot";
                case SAID_DONE -> "said to be done, and not heard from since";
                case STILL_LACKS -> (hosts.size() == 1 ? "lacks" : "lack") + " it though it was said to be done";
            };
        }

        private Optional<DigestSection> offeredByItself() {
            Map<UpdateId, RoaringBitmap> byHand = new HashMap<>();
            operators.work(snapshot).forEach(work -> work.hosts()
                    .forEach(one -> byHand.computeIfAbsent(work.update().id(), id -> new RoaringBitmap())
                            .add(one.host().number())));
            Fleet fleet = snapshot.fleet();
            return DigestSection.of(
                    "Offered to your hosts",
                    snapshot.catalogue().updates().stream()
                            .filter(update -> !Docket.isNoise(update))
                            .sorted((a, b) -> b.rating().compareTo(a.rating()))
                            .flatMap(update -> {
                                RoaringBitmap lacking = RoaringBitmap.andNot(
                                        snapshot.carriage(update, now).lacking(),
                                        byHand.getOrDefault(update.id(), new RoaringBitmap()));
                                if (lacking.isEmpty()) {
                                    return Stream.empty();
                                }
                                Timeline timeline =
                                        Timeline.of(update, snapshot.decisions(), fleet, snapshot.catalogue());
                                InForceCell cell = InForceCell.of(timeline.groups(lacking, now), now);
                                return cell.offered() == 0 ? Stream.empty() : Stream.of(offered(update, cell));
                            }));
        }

        private DigestLine offered(Update update, InForceCell cell) {
            return new DigestLine(
                    described(update) + ": " + hosts(cell.offered())
                            + (cell.overdue() > 0 ? ", " + cell.overdue() + " past due" : "")
                            + cell.nextDue().map(due -> "; due " + day(due)).orElse("") + ".",
                    "/carriers/" + Addresses.encoded(update.id().value()));
        }

        private static String described(Update update) {
            return update.id() + " " + update.title() + ", "
                    + update.rating().name().toLowerCase(Locale.ROOT);
        }

        private static String brief(String words) {
            String line = words.replaceAll("\\s+", " ");
            return line.length() <= MOST_OF_A_NOTE
                    ? line
                    : line.substring(0, MOST_OF_A_NOTE).stripTrailing() + " …";
        }

        private String day(Instant at) {
            return DAY.format(at.minusMillis(1).atZone(zone));
        }
    }

    private static final DateTimeFormatter DAY = DateTimeFormatter.ofPattern("EEE d MMM", Locale.ENGLISH);
    private static final DateTimeFormatter DAY_TIME = DateTimeFormatter.ofPattern("EEE d MMM HH:mm", Locale.ENGLISH);

    private static String about(ExceptionGrant exception) {
        return ExceptionView.about(exception)
                + (exception.effect() == Effect.WITHHELD ? "" : " (" + word(exception.effect()) + ")");
    }

    private static String word(Effect effect) {
        return effect.name().toLowerCase(Locale.ROOT).replace('_', ' ');
    }

    private static String hosts(int count) {
        return count == 1 ? "1 host" : count + " hosts";
    }

    private static String casePath(UpdateId update) {
        return "/cases/" + Addresses.encoded(update.value());
    }

    /** The subject of a mail: what asks for something first. */
    static String subject(Digest digest, ZoneId zone) {
        Collection<DigestSection> sections = digest.sections();
        return "Lucid Verdict, " + DAY.format(digest.at().atZone(zone))
                + (sections.isEmpty()
                        ? ": nothing asks for you"
                        : ": "
                                + sections.stream()
                                        .limit(3)
                                        .map(section -> section.title().startsWith("To judge")
                                                ? section.title().toLowerCase(Locale.ROOT)
                                                : section.title().toLowerCase(Locale.ROOT) + " "
                                                        + (section.lines().size() + section.more()))
                                        .collect(Collectors.joining(", ")));
    }

    /** As a mail's plain text. @param address of this server, with which paths become links */
    static String text(Digest digest, String address) {
        StringBuilder text = new StringBuilder();
        for (DigestSection section : digest.sections()) {
            text.append(section.title()).append("\n");
            section.lines().forEach(line -> text.append("  - ")
                    .append(line.text())
                    .append(line.path().map(path -> "\n    " + address + path).orElse(""))
                    .append("\n"));
            if (section.more() > 0) {
                text.append("  and ").append(section.more()).append(" more\n");
            }
            text.append("\n");
        }
        if (digest.sections().isEmpty()) {
            text.append("Nothing has happened that asks for you, and nothing ends within seven days.\n\n");
        }
        return text.append("You asked for this mail on Your account: ")
                .append(address)
                .append("/account\n")
                .toString();
    }
}
