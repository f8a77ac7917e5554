package lucid.server.verdicts;

import java.security.Principal;
import java.time.Instant;
import java.time.LocalDate;
import java.util.List;
import java.util.Optional;
import lucid.core.approval.Ground;
import lucid.core.carriage.OnSources;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.PopulationId;
import lucid.core.fleet.Restraint;
import lucid.core.fleet.WorkingDays;
import lucid.core.forecast.LeftOpen;
import lucid.core.forecast.Slack;
import lucid.core.ruling.Removal;
import lucid.core.ruling.Verdict;
import lucid.core.ruling.VerdictType;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.server.pilots.PilotViews.DrawnView;
import lucid.server.snapshot.RequestKeys;
import lucid.server.snapshot.Snapshot;
import lucid.server.verdicts.Wording.Worded;
import lucid.server.views.ConsequenceView;
import lucid.server.views.DeliveryView.PartView;
import lucid.server.views.ForecastView;
import lucid.server.views.Views.HostList;
import lucid.server.views.Views.RulingGroupView;
import lucid.server.web.ProblemException;
import org.roaringbitmap.RoaringBitmap;
import org.springframework.http.HttpHeaders;
import org.springframework.http.HttpStatus;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** Verdicts and answers. */
@RestController
@RequestMapping("/api")
class VerdictController {

    private static final int MOST_AT_ONCE = 1_000;

    private final VerdictService service;
    private final AnswerService answers;
    private final RequestKeys keys;

    VerdictController(VerdictService service, AnswerService answers, RequestKeys keys) {
        this.service = service;
        this.answers = answers;
        this.keys = keys;
    }

    /**
     * @param answer place among the answers of the sentence, from 0
     * @param where the narrowing as it was read, in canonical form
     * @param broughtForward of a deferral: hosts to which the rule would offer it only after the end of the deferral,
     *     or never
     * @param tooLate hosts from which it would be withheld and that have downloaded it: this may not stop them
     * @param notOnSources hosts to which it would be offered and whose sources do not have it yet
     * @param prevented hosts to which it would be offered and that keep from installing now, as they last told
     * @param forecast of what it offers, for the hosts for which it would be what holds, of a pilot for those in its
     *     sample; none for a block
     * @param pilot who would try it, of all populations of the answer
     * @param parts hosts of each part in which it ends or is due; none: it is not spread
     * @param removal of a block that removes
     * @param leftOpen of what is withheld
     * @param overtaken when the next release of its kind is to be expected, where that is before it ends
     * @param expectedAnswer of a pilot: when its sample will have answered, if it goes as foreseen
     * @param slack of a pilot: how much time is left then until its answer day
     * @param fewThere why few are there on the day on which a deferral lets it go, or on which a pilot is to be
     *     answered
     * @param ruleDue of a deferral: when what it lets go falls due by the rule, for the first of its hosts
     * @param grounds why it needs an approver; none: it does not
     */
    record WordedView(
            int answer,
            PopulationId population,
            String populationName,
            Optional<String> where,
            Instant end,
            ConsequenceView consequence,
            List<RulingGroupView> broughtForward,
            HostList tooLate,
            HostList notOnSources,
            List<PreventedView> prevented,
            Optional<ForecastView> forecast,
            Optional<DrawnView> pilot,
            List<PartView> parts,
            Optional<RemovalView> removal,
            Optional<LeftOpenView> leftOpen,
            Optional<Instant> overtaken,
            Optional<Instant> expectedAnswer,
            Optional<Slack> slack,
            Optional<WorkingDays.FewThere> fewThere,
            Optional<Instant> ruleDue,
            List<Ground> grounds) {}

    record PreventedView(Restraint.Prevention why, HostList hosts) {}

    /** @param contained true if only an earlier update that it contains closes it */
    record OpenVulnerability(String id, boolean contained, int hosts) {}

    /** @param hostDays until it ends, over all hosts from which it is withheld */
    record LeftOpenView(List<OpenVulnerability> vulnerabilities, double hostDays) {
        static LeftOpenView of(LeftOpen open) {
            return new LeftOpenView(
                    open.vulnerabilities().stream()
                            .map(one -> new OpenVulnerability(
                                    one.id(), one.contained(), one.hosts().getCardinality()))
                            .toList(),
                    open.hostDays());
        }
    }

    /**
     * What a block that removes the update can do on the hosts that carry it.
     *
     * @param lastDays of those that can still remove it and of which that is known, the earliest first
     * @param tooLate hosts that can no longer, or never could
     * @param unknown hosts of which nobody can tell until when
     * @param earlier of how many it is known what they had before
     */
    record RemovalView(HostList hosts, List<LastDayView> lastDays, HostList tooLate, HostList unknown, int earlier) {
        static RemovalView of(Removal removal, Fleet fleet) {
            return new RemovalView(
                    HostList.of(fleet, removal.hosts()),
                    removal.lastDays().entrySet().stream()
                            .map(of -> new LastDayView(of.getKey(), HostList.of(fleet, of.getValue())))
                            .toList(),
                    HostList.of(fleet, removal.tooLate()),
                    HostList.of(fleet, removal.unknown()),
                    removal.earlier().getCardinality());
        }
    }

    record LastDayView(LocalDate day, HostList hosts) {}

    /** What a verdict would do, for each of its populations; nothing is kept. */
    @PostMapping("/verdicts/preview")
    List<WordedView> consequences(@RequestBody VerdictDraft draft, Principal who, Snapshot snapshot) {
        return service.consequences(snapshot, draft, who.getName()).stream()
                .map(worded -> view(worded, snapshot))
                .toList();
    }

    static WordedView view(Worded worded, Snapshot snapshot) {
        return new WordedView(
                worded.answer(),
                worded.population().id(),
                worded.population().name(),
                worded.verdict().narrowing().map(Object::toString),
                worded.verdict().end(),
                ConsequenceView.of(worded.consequence(), snapshot.fleet(), snapshot.decisions()),
                broughtForward(worded, snapshot),
                HostList.of(snapshot.fleet(), tooLate(worded, snapshot)),
                HostList.of(snapshot.fleet(), notOnSources(worded, snapshot)),
                prevented(worded, snapshot),
                worded.foreseen()
                        .forecast()
                        .map(forecast -> ForecastView.of(
                                forecast,
                                snapshot.update(worded.verdict().updateId()).sizeBytes(),
                                snapshot.fleet())),
                worded.drawn().map(drawn -> DrawnView.of(drawn, snapshot.fleet())),
                PartView.all(
                        worded.verdict().delivery().spread(),
                        worded.consequence().decided(),
                        snapshot.fleet()),
                worded.foreseen().removal().map(removal -> RemovalView.of(removal, snapshot.fleet())),
                worded.foreseen().leftOpen().map(LeftOpenView::of),
                worded.foreseen().overtaken(),
                worded.foreseen().expectedAnswer(),
                worded.foreseen().slack(),
                worded.foreseen().fewThere(),
                worded.foreseen().ruleDue(),
                worded.grounds().stream().sorted().toList());
    }

    private static RoaringBitmap tooLate(Worded worded, Snapshot snapshot) {
        Verdict verdict = worded.verdict();
        if (!verdict.withholdsAt(verdict.createdAt())) {
            return new RoaringBitmap();
        }
        RoaringBitmap staged = snapshot.carriages().outcomes().staged(verdict.updateId());
        staged.and(worded.consequence().decided());
        verdict.pilot().ifPresent(pilot -> staged.andNot(pilot.everSampled()));
        return staged;
    }

    /** The hosts to which it would be offered at once. */
    private static RoaringBitmap offered(Worded worded) {
        Verdict verdict = worded.verdict();
        RoaringBitmap decided = worded.consequence().decided();
        return verdict.type() == VerdictType.FORCE || verdict.isLetGo()
                ? decided
                : verdict.pilot()
                        .map(pilot -> RoaringBitmap.and(pilot.everSampled(), decided))
                        .orElseGet(RoaringBitmap::new);
    }

    /** What is deferred may come to the sources meanwhile. */
    private static RoaringBitmap notOnSources(Worded worded, Snapshot snapshot) {
        return OnSources.of(snapshot.update(worded.verdict().updateId()), offered(worded), snapshot.fleet())
                .in(OnSources.Found.NOT_YET);
    }

    private static List<PreventedView> prevented(Worded worded, Snapshot snapshot) {
        Update update = snapshot.update(worded.verdict().updateId());
        Restraint restraint = worded.population().timing().restraint();
        return restraint.prevented(offered(worded), update.sizeBytes(), snapshot.fleet()).entrySet().stream()
                .map(of -> new PreventedView(of.getKey(), HostList.of(snapshot.fleet(), of.getValue())))
                .toList();
    }

    /** Whoever lets it go now knows that it begins earlier. */
    private static List<RulingGroupView> broughtForward(Worded worded, Snapshot snapshot) {
        Verdict verdict = worded.verdict();
        return verdict.type() != VerdictType.DEFER || verdict.isLetGo()
                ? List.of()
                : worded.consequence().offeredBeforeTheRule(verdict).stream()
                        .map(group -> RulingGroupView.of(group, snapshot.fleet(), snapshot.decisions()))
                        .toList();
    }

    @PostMapping("/verdicts")
    @ResponseStatus(HttpStatus.CREATED)
    VerdictService.Committed handDown(
            @RequestBody VerdictDraft draft,
            @RequestHeader(name = HttpHeaders.IF_MATCH, required = false) String ifMatch,
            @RequestHeader(name = "Idempotency-Key", required = false) String key,
            Principal who) {
        return service.handDown(List.of(draft), ifMatch, keys.of(key, who, "verdict", draft), who);
    }

    /** @param populations for which they are left to it; none: all that have hosts which lack it */
    record ToTheRule(List<UpdateId> updates, Optional<List<PopulationId>> populations) {}

    /** Leaves one or many updates to their standing rules: all of them or none. */
    @PostMapping("/acknowledgements")
    @ResponseStatus(HttpStatus.CREATED)
    AnswerService.GivenAnswers leaveToTheRule(
            @RequestBody ToTheRule request,
            @RequestHeader(name = HttpHeaders.IF_MATCH, required = false) String ifMatch,
            @RequestHeader(name = "Idempotency-Key", required = false) String key,
            Principal who) {
        if (request.updates() == null
                || request.updates().isEmpty()
                || request.updates().size() > MOST_AT_ONCE) {
            throw ProblemException.badField("updates", "name 1 to " + MOST_AT_ONCE + " updates");
        }
        List<PopulationId> populations = request.populations() == null
                ? List.of()
                : request.populations().orElse(List.of());
        return answers.leaveToTheRule(
                request.updates(), populations, ifMatch, keys.of(key, who, "acknowledgement", request), who);
    }
}
