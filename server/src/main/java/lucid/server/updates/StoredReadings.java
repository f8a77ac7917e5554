package lucid.server.updates;

import java.time.Instant;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.Optional;
import java.util.function.Consumer;
import java.util.function.Function;
import java.util.stream.Collectors;
import java.util.stream.IntStream;
import java.util.stream.Stream;
import lucid.core.update.Advisory;
import lucid.core.update.AdvisoryNote;
import lucid.core.update.AdvisorySource;
import lucid.core.update.AffectedRange;
import lucid.core.update.Fix;
import lucid.core.update.Kind;
import lucid.core.update.Product;
import lucid.core.update.ProductBuild;
import lucid.core.update.ReadFrom;
import lucid.core.update.ReferenceLink;
import lucid.core.update.Remedy;
import lucid.core.update.Removable;
import lucid.core.update.Requirement;
import lucid.core.update.RestartNeed;
import lucid.core.update.Restarts;
import lucid.core.update.Retraction;
import lucid.core.update.UnreadProduct;
import lucid.core.update.UpdateDocument;
import lucid.core.update.UpdateId;
import lucid.core.update.UpdateNotice;
import lucid.core.update.VendorStatement;
import lucid.core.update.Vulnerability;
import lucid.formats.document.Format;
import lucid.server.updates.ReadingMapper.Header;
import lucid.server.updates.ReadingMapper.Link;
import lucid.server.updates.ReadingMapper.LinkRow;
import lucid.server.updates.ReadingMapper.NoteRow;
import lucid.server.updates.ReadingMapper.PlaceRow;
import lucid.server.updates.ReadingMapper.RemedyRow;
import lucid.server.updates.ReadingMapper.RequirementRow;
import lucid.server.updates.ReadingMapper.StatementRow;
import lucid.server.updates.ReadingMapper.TrackRow;
import lucid.server.updates.ReadingMapper.UnreadRow;
import lucid.server.updates.ReadingMapper.VulnerabilityRow;
import org.springframework.stereotype.Component;

/** What was read of updates, as rows: written once, and read again as it was. */
@Component
class StoredReadings {

    /** So many rows are written by one statement. */
    private static final int ROWS_AT_ONCE = 200;

    private final ReadingMapper mapper;

    StoredReadings(ReadingMapper mapper) {
        this.mapper = mapper;
    }

    /** What one document says of one update, and when it was read. */
    record Stored(long document, UpdateDocument content, Instant read) {}

    /** Everything, in the order in which it was read. */
    List<Stored> all() {
        return stored(null);
    }

    List<Stored> of(long document) {
        return stored(document);
    }

    private List<Stored> stored(Long document) {
        Map<Long, List<VulnerabilityRow>> vulnerabilities =
                byReading(mapper.vulnerabilities(document), VulnerabilityRow::reading);
        Map<Long, List<TrackRow>> tracks = byReading(mapper.tracks(document), TrackRow::reading);
        Map<Long, List<StatementRow>> statements = byReading(mapper.statements(document), StatementRow::reading);
        Map<Long, List<RemedyRow>> remedies = byReading(mapper.remedies(document), RemedyRow::reading);
        Map<Long, List<UnreadRow>> unread = byReading(mapper.unread(document), UnreadRow::reading);
        Map<Long, List<NoteRow>> notes = byReading(mapper.notes(document), NoteRow::reading);
        Map<Long, List<LinkRow>> links = byReading(mapper.links(document), LinkRow::reading);
        Map<Long, List<RequirementRow>> requirements =
                byReading(mapper.requirements(document), RequirementRow::reading);
        Map<Long, List<PlaceRow>> places = byReading(mapper.places(document), PlaceRow::reading);
        return mapper.headers(document).stream()
                .map(header -> {
                    Lists lists = new Lists(
                            vulnerabilities.getOrDefault(header.number(), List.of()),
                            tracks.getOrDefault(header.number(), List.of()),
                            statements.getOrDefault(header.number(), List.of()),
                            remedies.getOrDefault(header.number(), List.of()),
                            unread.getOrDefault(header.number(), List.of()),
                            notes.getOrDefault(header.number(), List.of()),
                            links.getOrDefault(header.number(), List.of()),
                            places.getOrDefault(header.number(), List.of()),
                            requirements.getOrDefault(header.number(), List.of()));
                    UpdateDocument content =
                            header.format() == Format.UPDATE_NOTICE ? notice(header, lists) : advisory(header, lists);
                    return new Stored(header.document(), content, header.read());
                })
                .toList();
    }

    private static <R> Map<Long, List<R>> byReading(List<R> rows, Function<R, Long> reading) {
        return rows.stream().collect(Collectors.groupingBy(reading));
    }

    /** The lists of one reading, each in its order. */
    private record Lists(
            List<VulnerabilityRow> vulnerabilities,
            List<TrackRow> tracks,
            List<StatementRow> statements,
            List<RemedyRow> remedies,
            List<UnreadRow> unread,
            List<NoteRow> notes,
            List<LinkRow> links,
            List<PlaceRow> places,
            List<RequirementRow> requirements) {

        Stream<LinkRow> of(Link type) {
            return links.stream().filter(link -> link.type() == type);
        }

        List<String> targets(Link type) {
            return of(type).map(LinkRow::target).toList();
        }

        List<UpdateId> updates(Link type) {
            return targets(type).stream().map(UpdateId::new).toList();
        }

        Map<ProductBuild, RestartNeed> restarts() {
            Map<ProductBuild, RestartNeed> restarts = new HashMap<>();
            tracks.stream()
                    .filter(track -> track.restart() != null)
                    .forEach(track ->
                            restarts.put(build(track.product(), track.distro(), track.arch()), track.restart()));
            return restarts;
        }

        List<Fix> fixes() {
            Map<Integer, List<TrackRow>> byFix = tracks.stream()
                    .collect(Collectors.groupingBy(TrackRow::fix, LinkedHashMap::new, Collectors.toList()));
            return byFix.values().stream()
                    .map(ofFix -> new Fix(
                            build(
                                    ofFix.get(0).product(),
                                    ofFix.get(0).distro(),
                                    ofFix.get(0).arch()),
                            ofFix.stream()
                                    .map(track -> new AffectedRange(
                                            Optional.ofNullable(track.introduced()),
                                            track.afterIntroduced(),
                                            Optional.ofNullable(track.rangeEnd()),
                                            track.endIncluded()))
                                    .toList()))
                    .toList();
        }
    }

    private static ProductBuild build(String product, String distro, String arch) {
        return new ProductBuild(new Product(product), distro, arch);
    }

    private static Advisory advisory(Header header, Lists lists) {
        return new Advisory(
                AdvisorySource.valueOf(header.format().name()),
                new UpdateId(header.updateId()),
                header.title(),
                header.vendor(),
                header.summary(),
                header.revision(),
                header.revisionWords(),
                header.published(),
                header.revised(),
                Optional.ofNullable(header.kind()),
                Optional.ofNullable(header.vendorRating()),
                lists.vulnerabilities().stream()
                        .map(row -> new Vulnerability(
                                row.id(),
                                row.title(),
                                Optional.ofNullable(row.baseScore()),
                                Optional.ofNullable(row.vector()),
                                row.exploitation()))
                        .toList(),
                lists.fixes(),
                new Restarts(Optional.ofNullable(header.restart()), lists.restarts()),
                Optional.ofNullable(header.retraction()).map(type -> new Retraction(type, header.retractionReason())),
                lists.statements().stream()
                        .map(row -> new VendorStatement(
                                row.type(),
                                row.vulnerability(),
                                row.named(),
                                Optional.ofNullable(row.product())
                                        .map(product -> build(product, row.distro(), row.arch())),
                                Optional.ofNullable(row.version()),
                                row.words()))
                        .toList(),
                lists.remedies().stream()
                        .map(row -> new Remedy(row.category(), row.words()))
                        .toList(),
                lists.of(Link.REFERENCE)
                        .map(row -> new ReferenceLink(row.target(), row.title()))
                        .toList(),
                lists.unread().stream()
                        .map(row -> new UnreadProduct(
                                row.vendor(),
                                row.name(),
                                row.names().lines().toList(),
                                Optional.ofNullable(row.cpe()),
                                row.place(),
                                row.reason()))
                        .toList(),
                lists.notes().stream()
                        .map(row -> new AdvisoryNote(row.about(), row.title(), row.words()))
                        .toList(),
                lists.places().stream()
                        .map(row ->
                                new ReadFrom(build(row.product(), row.distro(), row.arch()), row.name(), row.place()))
                        .toList(),
                Optional.ofNullable(header.sharing()));
    }

    private static UpdateNotice notice(Header header, Lists lists) {
        return new UpdateNotice(
                new UpdateId(header.updateId()),
                header.title(),
                header.vendor(),
                header.summary(),
                header.revision(),
                header.published(),
                Optional.ofNullable(header.kind()).orElse(Kind.BUGFIX),
                Optional.ofNullable(header.sizeBytes()),
                Optional.ofNullable(header.restart()),
                new Removable(
                        Optional.ofNullable(header.removableUntil()), Optional.ofNullable(header.removableDays())),
                lists.updates(Link.SUPERSEDES),
                lists.updates(Link.BRINGS),
                lists.targets(Link.PLATFORM),
                lists.requirements().stream().map(StoredReadings::requirement).toList(),
                lists.fixes());
    }

    private static Requirement requirement(RequirementRow row) {
        if (row.product() != null) {
            return new Requirement.OfProduct(new Product(row.product()), Optional.ofNullable(row.atLeastVersion()));
        }
        return row.oneOf() == null
                ? new Requirement.AtLeast(row.trait(), row.atLeast())
                : new Requirement.OneOf(row.trait(), row.oneOf().lines().toList());
    }

    private static RequirementRow row(long reading, int position, Requirement requirement) {
        if (requirement instanceof Requirement.OfProduct of) {
            return new RequirementRow(
                    reading, position, of.product().purl(), of.atLeast().orElse(null), null, null, null);
        }
        return requirement instanceof Requirement.OneOf of
                ? new RequirementRow(reading, position, null, null, of.trait(), null, String.join("\n", of.values()))
                : new RequirementRow(
                        reading,
                        position,
                        null,
                        null,
                        ((Requirement.AtLeast) requirement).trait(),
                        ((Requirement.AtLeast) requirement).least(),
                        null);
    }

    /** Stores what a document says of an update, in the place of what was stored of that; within a transaction. */
    void store(long document, UpdateDocument content) {
        mapper.remove(document, content.id());
        ReadingMapper.NewReading reading = new ReadingMapper.NewReading(
                content instanceof Advisory advisory
                        ? header(document, advisory)
                        : header(document, (UpdateNotice) content));
        mapper.add(reading);
        if (content instanceof Advisory advisory) {
            storeLists(reading.number, advisory);
        } else {
            storeLists(reading.number, (UpdateNotice) content);
        }
    }

    private static Header header(long document, Advisory advisory) {
        return new Header(
                0,
                document,
                Format.valueOf(advisory.source().name()),
                advisory.id().value(),
                advisory.revision(),
                null,
                advisory.title(),
                advisory.vendor(),
                advisory.summary(),
                advisory.revisionWords(),
                advisory.published(),
                advisory.revised(),
                advisory.kind().orElse(null),
                advisory.vendorRating().orElse(null),
                advisory.restarts().ofAll().orElse(null),
                null,
                null,
                null,
                advisory.retraction().map(Retraction::type).orElse(null),
                advisory.retraction().map(Retraction::reason).orElse(null),
                advisory.sharing().orElse(null));
    }

    private static Header header(long document, UpdateNotice notice) {
        return new Header(
                0,
                document,
                Format.UPDATE_NOTICE,
                notice.id().value(),
                notice.revision(),
                null,
                notice.title(),
                notice.vendor(),
                notice.summary(),
                null,
                notice.published(),
                null,
                notice.kind(),
                null,
                notice.restart().orElse(null),
                notice.sizeBytes().orElse(null),
                notice.removable().until().orElse(null),
                notice.removable().days().orElse(null),
                null,
                null,
                null);
    }

    private void storeLists(long reading, Advisory advisory) {
        List<Vulnerability> vulnerabilities = advisory.vulnerabilities();
        write(
                rows(
                        vulnerabilities,
                        (v, i) -> new VulnerabilityRow(
                                reading,
                                i,
                                v.id(),
                                v.title(),
                                v.baseScore().orElse(null),
                                v.vector().orElse(null),
                                v.exploitation())),
                mapper::addVulnerabilities);
        write(tracks(reading, advisory.fixes(), advisory.restarts()), mapper::addTracks);
        write(
                rows(
                        advisory.statements(),
                        (s, i) -> new StatementRow(
                                reading,
                                i,
                                s.type(),
                                s.vulnerability(),
                                s.product(),
                                s.build().map(build -> build.product().purl()).orElse(null),
                                s.build().map(ProductBuild::distro).orElse(null),
                                s.build().map(ProductBuild::arch).orElse(null),
                                s.version().orElse(null),
                                s.words())),
                mapper::addStatements);
        write(
                rows(advisory.remedies(), (r, i) -> new RemedyRow(reading, i, r.category(), r.words())),
                mapper::addRemedies);
        write(
                rows(
                        advisory.unread(),
                        (u, i) -> new UnreadRow(
                                reading,
                                i,
                                u.vendor(),
                                u.name(),
                                String.join("\n", u.names()),
                                u.cpe().orElse(null),
                                u.place(),
                                u.reason())),
                mapper::addUnread);
        write(
                rows(advisory.notes(), (n, i) -> new NoteRow(reading, i, n.about(), n.title(), n.words())),
                mapper::addNotes);
        write(
                rows(
                        advisory.references(),
                        (link, i) -> new LinkRow(reading, Link.REFERENCE, i, link.address(), link.title())),
                mapper::addLinks);
        write(
                rows(
                        advisory.readFrom(),
                        (from, i) -> new PlaceRow(
                                reading,
                                i,
                                from.build().product().purl(),
                                from.build().distro(),
                                from.build().arch(),
                                from.name(),
                                from.place())),
                mapper::addPlaces);
    }

    private void storeLists(long reading, UpdateNotice notice) {
        write(tracks(reading, notice.fixes(), Restarts.NOT_TOLD), mapper::addTracks);
        List<LinkRow> links = new ArrayList<>(links(reading, Link.PLATFORM, notice.platforms()));
        links.addAll(links(reading, Link.SUPERSEDES, notice.supersedes()));
        links.addAll(links(reading, Link.BRINGS, notice.brings()));
        write(links, mapper::addLinks);
        write(rows(notice.requires(), (requirement, i) -> row(reading, i, requirement)), mapper::addRequirements);
    }

    private static List<TrackRow> tracks(long reading, List<Fix> fixes, Restarts restarts) {
        List<TrackRow> tracks = new ArrayList<>();
        for (int fix = 0; fix < fixes.size(); fix++) {
            ProductBuild build = fixes.get(fix).build();
            int place = fix;
            tracks.addAll(rows(
                    fixes.get(fix).tracks(),
                    (range, i) -> new TrackRow(
                            reading,
                            place,
                            i,
                            build.product().purl(),
                            build.distro(),
                            build.arch(),
                            range.introduced().orElse(null),
                            range.afterIntroduced(),
                            range.end().orElse(null),
                            range.endIncluded(),
                            restarts.ofProducts().get(build))));
        }
        return tracks;
    }

    private static List<LinkRow> links(long reading, Link type, List<?> targets) {
        return rows(targets, (target, i) -> new LinkRow(reading, type, i, target.toString(), ""));
    }

    private interface Row<T, R> {
        R of(T value, int position);
    }

    private static <T, R> List<R> rows(List<T> values, Row<T, R> row) {
        return IntStream.range(0, values.size())
                .mapToObj(i -> row.of(values.get(i), i))
                .toList();
    }

    private static <R> void write(List<R> rows, Consumer<List<R>> statement) {
        for (int from = 0; from < rows.size(); from += ROWS_AT_ONCE) {
            statement.accept(rows.subList(from, Math.min(rows.size(), from + ROWS_AT_ONCE)));
        }
    }
}
