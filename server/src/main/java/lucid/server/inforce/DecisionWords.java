package lucid.server.inforce;

import java.util.List;
import java.util.Locale;
import java.util.Optional;
import java.util.stream.Stream;
import lucid.core.fleet.Fleet;
import lucid.core.fleet.Population;
import lucid.core.fleet.PopulationId;
import lucid.core.ruling.Acknowledgement;
import lucid.core.ruling.Caution;
import lucid.core.ruling.Decision;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.ruling.Freeze;
import lucid.core.ruling.Verdict;
import lucid.core.update.Update;
import lucid.server.snapshot.Snapshot;
import lucid.server.views.Views;
import lucid.server.views.Views.ExceptionView;

/** What a decision is, whatever it is: for lists in which all kinds stand beside each other. */
final class DecisionWords {

    private DecisionWords() {}

    enum Kind {
        BLOCK,
        DEFER,
        PILOT,
        FORCE,
        EXCEPTION,
        FREEZE,
        CAUTION,
        LOOK_AGAIN;

        String word() {
            return name().toLowerCase(Locale.ROOT).replace('_', ' ');
        }
    }

    /**
     * Which decisions are asked for; everything that is named must be so.
     *
     * @param person author or owner
     * @param text part of what it is about, of the title of its update or of its reason, in any case
     */
    record Asked(
            Optional<Kind> kind, Optional<PopulationId> population, Optional<String> person, Optional<String> text) {

        boolean matches(Decision decision, Optional<Update> update, Snapshot snapshot) {
            Optional<String> wanted =
                    text.map(words -> words.strip().toLowerCase(Locale.ROOT)).filter(words -> !words.isEmpty());
            return kind.filter(one -> one != DecisionWords.kind(decision)).isEmpty()
                    && population
                            .filter(id -> !concerns(decision, id, snapshot.fleet()))
                            .isEmpty()
                    && person.filter(name -> people(decision).noneMatch(name::equals))
                            .isEmpty()
                    && wanted.filter(part -> Stream.of(
                                            about(decision, update),
                                            update.map(Update::title).orElse(""),
                                            words(decision))
                                    .noneMatch(
                                            one -> one.toLowerCase(Locale.ROOT).contains(part)))
                            .isEmpty();
        }
    }

    /** Asked of what was decided, not of each host. */
    private static boolean concerns(Decision decision, PopulationId population, Fleet fleet) {
        return decision instanceof ExceptionGrant exception
                ? !fleet.matching(exception.hosts(), Views.members(fleet, population))
                        .isEmpty()
                : decision instanceof Caution || isFor(decision, population);
    }

    private static boolean isFor(Decision decision, PopulationId population) {
        if (decision instanceof Verdict verdict) {
            return verdict.populationId().equals(population);
        }
        return decision instanceof Freeze freeze
                ? freeze.covers(population)
                : decision instanceof Acknowledgement left && left.covers(population);
    }

    /** Those that it is for by name; none for an exception, caution, and a freeze of all. */
    static List<Population> populations(Decision decision, Fleet fleet) {
        return decision instanceof Freeze freeze && freeze.isOfAll()
                ? List.of()
                : fleet.ladder().entries().stream()
                        .filter(entry -> isFor(decision, entry.id()))
                        .toList();
    }

    static Kind kind(Decision decision) {
        if (decision instanceof Verdict verdict) {
            return Kind.valueOf(verdict.type().name());
        }
        if (decision instanceof Freeze) {
            return Kind.FREEZE;
        }
        if (decision instanceof Caution) {
            return Kind.CAUTION;
        }
        return decision instanceof ExceptionGrant ? Kind.EXCEPTION : Kind.LOOK_AGAIN;
    }

    /** Its author in front, then its owner. */
    static Stream<String> people(Decision decision) {
        String author = decision instanceof Verdict verdict
                ? verdict.author()
                : decision instanceof ExceptionGrant exception
                        ? exception.author()
                        : decision instanceof Freeze freeze
                                ? freeze.author()
                                : decision instanceof Caution caution
                                        ? caution.author()
                                        : ((Acknowledgement) decision).author();
        return Stream.concat(Stream.of(author), owner(decision).stream());
    }

    static Optional<String> owner(Decision decision) {
        return decision instanceof ExceptionGrant exception
                ? Optional.of(exception.owner())
                : decision instanceof Caution caution ? Optional.of(caution.owner()) : Optional.empty();
    }

    /** Narrowing of a verdict, or the hosts of an exception. */
    static Optional<String> where(Decision decision) {
        return decision instanceof Verdict verdict
                ? verdict.narrowing().map(Object::toString)
                : decision instanceof ExceptionGrant exception
                        ? Optional.of(exception.hosts().toString())
                        : Optional.empty();
    }

    static String words(Decision decision) {
        if (decision instanceof Verdict verdict) {
            return verdict.words();
        }
        if (decision instanceof Freeze freeze) {
            return freeze.reason();
        }
        if (decision instanceof Caution caution) {
            return caution.reason();
        }
        return decision instanceof ExceptionGrant exception ? exception.reason() : "";
    }

    static String about(Decision decision, Optional<Update> update) {
        return update.map(of -> of.id().value())
                .orElseGet(() -> decision instanceof ExceptionGrant exception
                        ? ExceptionView.about(exception)
                        : decision instanceof Caution caution
                                ? caution.level() == Caution.Level.WATCHFUL
                                        ? "standing rules: delays doubled"
                                        : "standing rules: nothing offered"
                                : "every update");
    }
}
