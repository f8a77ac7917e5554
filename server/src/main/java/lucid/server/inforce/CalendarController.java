package lucid.server.inforce;

import java.io.IOException;
import java.io.StringWriter;
import java.time.Clock;
import java.time.Instant;
import java.time.LocalDate;
import java.time.ZoneId;
import java.time.ZoneOffset;
import java.time.temporal.ChronoUnit;
import java.util.ArrayList;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.TreeMap;
import java.util.stream.Collectors;
import lucid.core.fleet.Population;
import lucid.core.operators.OperatorEntry;
import lucid.core.operators.OperatorWork;
import lucid.core.ruling.Acknowledgement;
import lucid.core.ruling.Caution;
import lucid.core.ruling.Decision;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.ruling.Freeze;
import lucid.core.ruling.InForce;
import lucid.core.ruling.Verdict;
import lucid.core.update.Update;
import lucid.server.operators.Operators;
import lucid.server.snapshot.Snapshot;
import net.fortuna.ical4j.data.CalendarOutputter;
import net.fortuna.ical4j.model.Calendar;
import net.fortuna.ical4j.model.component.VEvent;
import net.fortuna.ical4j.model.property.Description;
import net.fortuna.ical4j.model.property.DtStamp;
import net.fortuna.ical4j.model.property.ProdId;
import net.fortuna.ical4j.model.property.Uid;
import net.fortuna.ical4j.model.property.XProperty;
import net.fortuna.ical4j.model.property.immutable.ImmutableVersion;
import org.springframework.http.HttpHeaders;
import org.springframework.http.ResponseEntity;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RestController;

/**
 * What is in force, as a calendar (iCalendar, RFC 5545) that other programs show: the day on which each decision ends,
 * and the slots that operators agreed.
 */
@RestController
class CalendarController {

    private static final int MOST_HOSTS = 20;

    private final Operators operators;
    private final Clock clock;

    CalendarController(Operators operators, Clock clock) {
        this.operators = operators;
        this.clock = clock;
    }

    @GetMapping(path = "/api/calendar", produces = "text/calendar;charset=UTF-8")
    ResponseEntity<String> calendar(Snapshot snapshot) throws IOException {
        Instant now = clock.instant();
        List<VEvent> events = new ArrayList<>();
        InForce.at(snapshot.carriages(), snapshot.decisions(), now)
                .forEach(one -> events.add(event(one, snapshot, now)));
        operators.work(snapshot).forEach(work -> events.addAll(slots(work, now)));
        return file("what is in force", "in-force.ics", events);
    }

    /** What an operator is to install: the agreed slots, and the last days of what no slot is agreed for. */
    @GetMapping(path = "/api/operator-work/calendar", produces = "text/calendar;charset=UTF-8")
    ResponseEntity<String> ofOperator(Snapshot snapshot) throws IOException {
        Instant now = clock.instant();
        List<VEvent> events = new ArrayList<>();
        for (OperatorWork work : operators.work(snapshot)) {
            events.addAll(slots(work, now));
            events.addAll(askedFor(work, now));
        }
        return file("by operator", "by-operator.ics", events);
    }

    private static ResponseEntity<String> file(String what, String name, List<VEvent> events) throws IOException {
        Calendar calendar = new Calendar();
        calendar.add(new ProdId(
                "-//Lucid Verdict//" + what.substring(0, 1).toUpperCase(Locale.ROOT) + what.substring(1) + "//EN"));
        calendar.add(ImmutableVersion.VERSION_2_0);
        calendar.add(new XProperty("X-WR-CALNAME", "Lucid Verdict: " + what));
        events.forEach(calendar::add);
        StringWriter text = new StringWriter();
        // It folds long lines, and is not asked to check anew what was made here.
        new CalendarOutputter(false).output(calendar, text);
        return ResponseEntity.ok()
                .header(HttpHeaders.CONTENT_DISPOSITION, "inline; filename=\"" + name + "\"")
                .header(HttpHeaders.CACHE_CONTROL, "private, no-cache")
                .body(text.toString());
    }

    /** The days by whose end it is asked for, of hosts with no slot ahead, or said to be done and not; late: today. */
    private static List<VEvent> askedFor(OperatorWork work, Instant now) {
        ZoneId zone = work.population().zone();
        LocalDate today = LocalDate.ofInstant(now, zone);
        Map<LocalDate, List<String>> asked = new TreeMap<>();
        work.hosts().stream()
                .filter(host -> host.standing() != OperatorWork.Standing.AGREED
                        && host.standing() != OperatorWork.Standing.SAID_DONE)
                .filter(host -> host.due().isPresent())
                .forEach(host -> {
                    LocalDate day = LocalDate.ofInstant(host.due().get().minusMillis(1), zone);
                    asked.computeIfAbsent(day.isBefore(today) ? today : day, any -> new ArrayList<>())
                            .add(host.host().name().value());
                });
        return asked.entrySet().stream()
                .map(of -> {
                    int hosts = of.getValue().size();
                    VEvent event = new VEvent(
                            of.getKey(),
                            work.update().id() + " asked for on " + count(hosts) + " of "
                                    + work.population().name() + ", no slot ahead");
                    stamp(
                            event,
                            "asked-" + work.update().id() + "-"
                                    + work.population().id() + "-" + of.getKey(),
                            now);
                    event.add(new Description(work.update().title() + ".\n" + String.join(", ", of.getValue())));
                    return event;
                })
                .toList();
    }

    private static VEvent event(InForce one, Snapshot snapshot, Instant now) {
        Decision decision = one.decision();
        List<Population> entries = EndWords.entries(one, snapshot);
        ZoneId zone = entries.size() == 1 ? entries.get(0).zone() : ZoneOffset.UTC;
        String what = what(one);
        VEvent event = decision instanceof Freeze freeze
                ? new VEvent(freeze.from(), freeze.until(), EndWords.of(one, entries))
                // The last day on which it holds; a whole day, as those who decide mean it.
                : new VEvent(LocalDate.ofInstant(one.end().minusMillis(1), zone), EndWords.of(one, entries));
        stamp(event, kind(decision) + "-" + decision.number(), now);
        event.add(new Description(what + hosts(one, snapshot)));
        return event;
    }

    /** When operators agreed to install something by hand, one event for what was agreed at once. */
    private static List<VEvent> slots(OperatorWork work, Instant now) {
        Map<OperatorEntry, List<String>> agreed = new LinkedHashMap<>();
        work.hosts().stream()
                .filter(host -> host.standing() == OperatorWork.Standing.AGREED)
                .forEach(host -> agreed.computeIfAbsent(host.entry().orElseThrow(), entry -> new ArrayList<>())
                        .add(host.host().name().value()));
        return agreed.entrySet().stream()
                .map(of -> {
                    OperatorEntry entry = of.getKey();
                    OperatorEntry.Slot slot = entry.slot().orElseThrow();
                    VEvent event = new VEvent(
                            slot.from(),
                            slot.until(),
                            work.update().id() + " by operator on "
                                    + count(of.getValue().size()) + " of "
                                    + work.population().name());
                    stamp(event, "slot-" + entry.number(), now);
                    event.add(new Description(work.update().title() + ". " + said(entry.words()) + "Agreed by "
                            + entry.author() + ".\n" + String.join(", ", of.getValue())));
                    return event;
                })
                .toList();
    }

    private static void stamp(VEvent event, String id, Instant now) {
        event.removeAll("DTSTAMP");
        event.add(new DtStamp(now.truncatedTo(ChronoUnit.SECONDS)));
        event.add(new Uid(id + "@lucid-verdict"));
    }

    private static String count(int hosts) {
        return hosts == 1 ? "1 host" : hosts + " hosts";
    }

    private static String what(InForce one) {
        Decision decision = one.decision();
        String title = one.update().map(Update::title).map(name -> name + ". ").orElse("");
        if (decision instanceof Verdict verdict) {
            return title + said(verdict.words()) + "By " + verdict.author() + ".";
        }
        if (decision instanceof ExceptionGrant exception) {
            return title + said(exception.reason()) + "Where " + exception.hosts() + ". Owner " + exception.owner()
                    + ".";
        }
        if (decision instanceof Freeze freeze) {
            return said(freeze.reason()) + "By " + freeze.author() + ".";
        }
        return decision instanceof Caution caution
                ? said(caution.reason()) + "Owner " + caution.owner() + "."
                : title + "Left to a rule that never offers it, by " + ((Acknowledgement) decision).author() + ".";
    }

    private static String said(String words) {
        return words.isEmpty() ? "" : words.endsWith(".") ? words + " " : words + ". ";
    }

    private static String hosts(InForce one, Snapshot snapshot) {
        int count = one.hosts().getCardinality();
        return count == 0
                ? " No host lacks it now."
                : "\n" + count(count) + ": "
                        + snapshot.fleet()
                                .hosts(one.hosts())
                                .limit(MOST_HOSTS)
                                .map(host -> host.name().value())
                                .collect(Collectors.joining(", "))
                        + (count > MOST_HOSTS ? " and " + (count - MOST_HOSTS) + " more" : "");
    }

    private static String kind(Decision decision) {
        return decision.getClass().getSimpleName().toLowerCase(Locale.ROOT);
    }
}
