package lucid.server.evidence;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import lucid.core.fleet.Population;
import lucid.core.ruling.DecisionNumber;
import lucid.core.ruling.ReasonWord;
import lucid.core.update.Update;
import lucid.core.update.UpdateId;
import lucid.server.access.Caller;
import lucid.server.evidence.Objections.Overridden;
import lucid.server.snapshot.RequestKeys;
import lucid.server.snapshot.Snapshot;
import lucid.server.views.Views.HostList;
import org.springframework.http.HttpStatus;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.DeleteMapping;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.PathVariable;
import org.springframework.web.bind.annotation.PostMapping;
import org.springframework.web.bind.annotation.RequestBody;
import org.springframework.web.bind.annotation.RequestHeader;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.ResponseStatus;
import org.springframework.web.bind.annotation.RestController;

/** A force that goes over an exception, for whoever answers for that: they may see no case, and may object to this. */
@RestController
@RequestMapping("/api/objections")
class ObjectionController {

    private final Objections objections;
    private final RequestKeys keys;

    ObjectionController(Objections objections, RequestKeys keys) {
        this.objections = objections;
        this.keys = keys;
    }

    /** @param yours true if whoever asks may take it back */
    record ObjectionView(long number, String words, String author, Instant createdAt, boolean yours) {}

    /**
     * @param population name of that which is forced
     * @param narrowing of the force
     * @param hosts of the exception that lack it and that the force reaches
     * @param where condition of the exception
     * @param mayObject true for its owner, and for analysts in the owner's name
     * @param opensCase true for those who may open the case
     */
    record OverriddenView(
            DecisionNumber.OfVerdict force,
            UpdateId update,
            String title,
            String population,
            Optional<String> narrowing,
            String timeZone,
            Instant due,
            String author,
            List<ReasonWord> reasons,
            String words,
            DecisionNumber.OfException exception,
            String where,
            Instant until,
            String reason,
            String measure,
            String owner,
            HostList hosts,
            boolean mayObject,
            boolean opensCase,
            List<ObjectionView> objections) {}

    /** Of everybody's for those who read everything, else of one's own exceptions. */
    @GetMapping
    OverriddenView find(
            @RequestParam long force, @RequestParam long exception, @AuthenticationPrincipal Caller.Person who) {
        Overridden over = objections.find(force, exception, who);
        Snapshot snapshot = over.snapshot();
        Update update = snapshot.update(over.force().updateId());
        Population population =
                snapshot.fleet().ladder().entry(over.force().populationId()).orElseThrow();
        return new OverriddenView(
                over.force().number(),
                update.id(),
                update.title(),
                population.name(),
                over.force().narrowing().map(Object::toString),
                population.zone().getId(),
                over.force().end(),
                over.force().author(),
                over.force().reasons().stream().sorted().toList(),
                over.force().words(),
                over.exception().number(),
                over.exception().hosts().toString(),
                over.exception().until(),
                over.exception().reason(),
                over.exception().measure(),
                over.exception().owner(),
                HostList.of(snapshot.fleet(), over.hosts()),
                objections.mayObject(over, who),
                Objections.readsEverything(who),
                over.notes().stream()
                        .map(note -> new ObjectionView(
                                note.number(),
                                note.words(),
                                note.author(),
                                note.createdAt(),
                                note.author().equals(who.getName())))
                        .toList());
    }

    /** @param words what is against it */
    record ObjectionDraft(long force, long exception, String words) {}

    @PostMapping
    @ResponseStatus(HttpStatus.CREATED)
    EvidenceService.Numbered object(
            @RequestBody ObjectionDraft draft,
            @RequestHeader(name = "Idempotency-Key", required = false) String key,
            @AuthenticationPrincipal Caller.Person who) {
        return objections.object(
                draft.force(), draft.exception(), draft.words(), keys.of(key, who, "objection", draft), who);
    }

    /** Of one's own. */
    @DeleteMapping("/{number}")
    @ResponseStatus(HttpStatus.NO_CONTENT)
    void takeBack(@PathVariable long number, @AuthenticationPrincipal Caller.Person who) {
        objections.takeBack(number, who);
    }
}
