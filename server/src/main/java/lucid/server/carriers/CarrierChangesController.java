package lucid.server.carriers;

import java.time.LocalDate;
import java.time.ZoneOffset;
import java.util.ArrayList;
import java.util.Comparator;
import java.util.List;
import java.util.Locale;
import java.util.Map;
import java.util.Optional;
import java.util.Set;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import lucid.core.carriage.HavingChange;
import lucid.core.docket.Docket;
import lucid.core.docket.DocketCase;
import lucid.core.fleet.Ladder;
import lucid.core.fleet.PopulationId;
import lucid.core.update.Rating;
import lucid.core.update.UpdateId;
import lucid.server.access.Caller;
import lucid.server.carriers.MatrixQuestion.Asked;
import lucid.server.days.KeptDays;
import lucid.server.docket.Dockets;
import lucid.server.snapshot.Snapshot;
import lucid.server.views.CarrierRows;
import lucid.server.views.CarrierRows.Column;
import lucid.server.views.Views;
import lucid.server.web.ListFile;
import lucid.server.web.ProblemException;
import org.roaringbitmap.RoaringBitmap;
import org.springdoc.core.annotations.ParameterObject;
import org.springframework.http.ResponseEntity;
import org.springframework.security.core.annotation.AuthenticationPrincipal;
import org.springframework.web.bind.annotation.GetMapping;
import org.springframework.web.bind.annotation.RequestMapping;
import org.springframework.web.bind.annotation.RequestParam;
import org.springframework.web.bind.annotation.RestController;

/**
 * What became of all updates between two kept days, by population: who has got one, who has it no more, who came with
 * it and who went with it. Answered from what was kept each night, by the populations of now.
 */
@RestController
@RequestMapping("/api/carriers")
class CarrierChangesController {

    private static final int PAGE = 200;

    private final Dockets dockets;
    private final KeptDays days;

    CarrierChangesController(Dockets dockets, KeptDays days) {
        this.dockets = dockets;
        this.days = days;
    }

    /**
     * Hosts of one population, or of several.
     *
     * @param gained were there before without it, and have it
     * @param lost had it, are there, and have it no more
     * @param joined were not there before, and have it
     */
    record Became(int gained, int lost, int joined) {
        static Became of(HavingChange change, RoaringBitmap hosts, KeptDays.Between between) {
            RoaringBitmap got = RoaringBitmap.and(change.gained(), hosts);
            int joined = RoaringBitmap.andNotCardinality(got, between.before());
            return new Became(
                    got.getCardinality() - joined,
                    RoaringBitmap.andCardinality(RoaringBitmap.and(change.lost(), hosts), between.after()),
                    joined);
        }

        boolean isNothing() {
            return gained + lost + joined == 0;
        }
    }

    /**
     * @param readSince true for one that was first read after the earlier day: whoever had it then is among the gained
     * @param cells one a column, in their order
     * @param left had it, and are not there any more; none for those who see some populations alone
     */
    record ChangedRow(
            UpdateId id,
            String title,
            Rating rating,
            boolean exploited,
            boolean readSince,
            Became all,
            List<Became> cells,
            Optional<Integer> left) {

        private int size() {
            return all.gained() + all.lost() + all.joined() + left.orElse(0);
        }
    }

    /**
     * @param from the earlier day, at its end in UTC
     * @param to the later one
     * @param days that can be compared, the earliest first
     * @param rows a page of those that match and have changed, those with the most hosts first
     * @param matching how many of them there are
     * @param next cursor: identifier of the update after which the rows go on
     * @param joined hosts that came in between, as far as whoever asks sees them
     * @param left hosts that went; none for those who see some populations alone
     */
    record Changes(
            Optional<LocalDate> from,
            Optional<LocalDate> to,
            List<LocalDate> days,
            List<Column> columns,
            List<ChangedRow> rows,
            int matching,
            Optional<UpdateId> next,
            int joined,
            Optional<Integer> left) {}

    private record Answer(Changes page, List<ChangedRow> all) {}

    private Answer answer(
            Asked asked,
            Optional<LocalDate> from,
            Optional<LocalDate> to,
            Optional<UpdateId> after,
            Snapshot snapshot,
            Caller caller) {
        asked.requireSeenBy(caller);
        boolean seesAll = !MatrixQuestion.seesSomeAlone(caller);
        List<Column> columns = CarrierRows.columns(snapshot.fleet());
        List<LocalDate> kept = days.comparable();
        if (kept.size() < 2) {
            return new Answer(
                    new Changes(
                            Optional.empty(),
                            Optional.empty(),
                            kept,
                            columns,
                            List.of(),
                            0,
                            Optional.empty(),
                            0,
                            Optional.empty()),
                    List.of());
        }
        LocalDate later = to.map(day -> kept("to", day, kept)).orElse(kept.get(kept.size() - 1));
        LocalDate earlier = from.map(day -> kept("from", day, kept)).orElse(weekBefore(later, kept));
        if (!earlier.isBefore(later)) {
            throw ProblemException.badField("to", "the later day comes after the earlier one");
        }
        KeptDays.Between between = days.between(earlier, later);
        Docket docket = dockets.current().docket();
        Set<PopulationId> ids = columns.stream().map(Column::id).collect(Collectors.toSet());
        MatrixQuestion question = new MatrixQuestion(
                asked,
                snapshot.evidence(),
                MatrixQuestion.lackingOf(ids, ids.contains(Ladder.NO_POPULATION)),
                snapshot.fleet().ladder(),
                docket.at());
        Map<PopulationId, RoaringBitmap> members = columns.stream()
                .collect(Collectors.toMap(Column::id, column -> Views.members(snapshot.fleet(), column.id())));
        List<ChangedRow> inOrder = question.matching(docket.cases()).stream()
                .filter(one -> between.changes().containsKey(one.update().id()))
                .map(one -> row(one, columns, members, between, earlier, seesAll, snapshot))
                .filter(row -> row.size() > 0)
                .toList();
        List<ChangedRow> rows = asked.sort().isPresent()
                ? inOrder
                : inOrder.stream()
                        .sorted(Comparator.comparing(ChangedRow::size)
                                .reversed()
                                .thenComparing(ChangedRow::id))
                        .toList();
        int first = after.map(id -> rows.stream().map(ChangedRow::id).toList().indexOf(id) + 1)
                .orElse(0);
        List<ChangedRow> page = rows.subList(first, Math.min(first + PAGE, rows.size()));
        return new Answer(
                new Changes(
                        Optional.of(earlier),
                        Optional.of(later),
                        kept,
                        columns,
                        page,
                        rows.size(),
                        first + page.size() < rows.size()
                                ? Optional.of(page.get(page.size() - 1).id())
                                : Optional.empty(),
                        RoaringBitmap.andCardinality(
                                RoaringBitmap.andNot(between.after(), between.before()),
                                snapshot.fleet().all()),
                        Optional.of(RoaringBitmap.andNotCardinality(between.before(), between.after()))
                                .filter(left -> seesAll)),
                rows);
    }

    private static LocalDate kept(String field, LocalDate day, List<LocalDate> kept) {
        if (!kept.contains(day)) {
            throw ProblemException.badField(
                    field,
                    "which hosts had what was not kept on " + day + "; it was on " + kept.size() + " days from "
                            + kept.get(0) + " to " + kept.get(kept.size() - 1));
        }
        return day;
    }

    /** Or the first day that was kept. */
    private static LocalDate weekBefore(LocalDate later, List<LocalDate> kept) {
        return kept.stream()
                .filter(day -> !day.isAfter(later.minusWeeks(1)))
                .reduce((a, b) -> b)
                .orElse(kept.get(0));
    }

    private static ChangedRow row(
            DocketCase one,
            List<Column> columns,
            Map<PopulationId, RoaringBitmap> members,
            KeptDays.Between between,
            LocalDate from,
            boolean seesAll,
            Snapshot snapshot) {
        HavingChange change = between.changes().get(one.update().id());
        return new ChangedRow(
                one.update().id(),
                one.update().title(),
                one.update().rating(),
                MatrixQuestion.isExploited(one.update(), snapshot.evidence()),
                !one.update().firstRead().isBefore(Views.endOfDay(from, ZoneOffset.UTC)),
                Became.of(change, snapshot.fleet().all(), between),
                columns.stream()
                        .map(column -> Became.of(change, members.get(column.id()), between))
                        .toList(),
                Optional.of(RoaringBitmap.andNotCardinality(change.lost(), between.after()))
                        .filter(left -> seesAll));
    }

    /** A page of what has changed; without days, in the week until the last kept one. */
    @GetMapping("/changes")
    Changes changes(
            @ParameterObject Asked asked,
            @RequestParam Optional<LocalDate> from,
            @RequestParam Optional<LocalDate> to,
            @RequestParam Optional<UpdateId> after,
            Snapshot snapshot,
            @AuthenticationPrincipal Caller caller) {
        return answer(asked, from, to, after, snapshot, caller).page();
    }

    private static final List<String> HEADINGS =
            List.of("update", "title", "rating", "population", "gained", "lost", "joined", "left", "from", "to");

    /** All that has changed, a line for each update and population; who has left is told without one. */
    @GetMapping(path = "/changes.csv", produces = "text/csv")
    ResponseEntity<ListFile> csv(
            @ParameterObject Asked asked,
            @RequestParam Optional<LocalDate> from,
            @RequestParam Optional<LocalDate> to,
            Snapshot snapshot,
            @AuthenticationPrincipal Caller caller) {
        return ListFile.csv("changes.csv", HEADINGS, lines(asked, from, to, snapshot, caller));
    }

    @GetMapping(path = "/changes.json", produces = "application/json")
    ResponseEntity<ListFile> json(
            @ParameterObject Asked asked,
            @RequestParam Optional<LocalDate> from,
            @RequestParam Optional<LocalDate> to,
            Snapshot snapshot,
            @AuthenticationPrincipal Caller caller) {
        return ListFile.json("changes.json", HEADINGS, lines(asked, from, to, snapshot, caller));
    }

    private Stream<List<?>> lines(
            Asked asked, Optional<LocalDate> from, Optional<LocalDate> to, Snapshot snapshot, Caller caller) {
        Answer answer = answer(asked, from, to, Optional.empty(), snapshot, caller);
        return answer.all().stream().flatMap(row -> lines(row, answer.page()).stream());
    }

    private static List<List<?>> lines(ChangedRow row, Changes page) {
        List<List<?>> lines = new ArrayList<>();
        for (int place = 0; place < page.columns().size(); place++) {
            Became cell = row.cells().get(place);
            if (!cell.isNothing()) {
                lines.add(line(row, page.columns().get(place).name(), cell, "", page));
            }
        }
        row.left()
                .filter(left -> left > 0)
                .ifPresent(left -> lines.add(line(row, "", new Became(0, 0, 0), left, page)));
        return lines;
    }

    private static List<?> line(ChangedRow row, String population, Became cell, Object left, Changes page) {
        return List.of(
                row.id(),
                row.title(),
                row.rating().name().toLowerCase(Locale.ROOT),
                population,
                cell.gained(),
                cell.lost(),
                cell.joined(),
                left,
                page.from().orElseThrow(),
                page.to().orElseThrow());
    }
}
