package lucid.core.update;

import static lucid.core.TestIds.updateId;
import static lucid.core.TestIds.updateIds;
import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Duration;
import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

class UpdateTest {

    private static final Instant PUBLISHED = Instant.parse("2026-11-12T09:00:00Z");
    private static final Instant READ = Instant.parse("2026-11-13T09:00:00Z");
    private static final Vulnerability VULNERABILITY =
            new Vulnerability("CVE-2026-9000001", "", Optional.of(7.4), Optional.empty(), "");

    private static Advisory advisory(Optional<String> rating, List<Vulnerability> vulnerabilities) {
        return advisory(AdvisorySource.CSAF, "1", PUBLISHED, rating, vulnerabilities, List.of());
    }

    private static Advisory advisory(
            AdvisorySource source,
            String revision,
            Instant revised,
            Optional<String> rating,
            List<Vulnerability> vulnerabilities,
            List<Fix> fixes) {
        return new Advisory(
                source,
                updateId("LNT-1107"),
                source + " of LNT-1107",
                "Lantern",
                "",
                revision,
                "",
                PUBLISHED,
                revised,
                Optional.empty(),
                rating,
                vulnerabilities,
                fixes,
                Restarts.ofAll(Optional.of(RestartNeed.SERVICE)),
                Optional.empty(),
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                List.of(),
                Optional.empty());
    }

    private static UpdateNotice notice(String id) {
        Fix fix = new Fix(
                PackageReference.parse("pkg:generic/lantern-desktop").build(),
                List.of(AffectedRange.below("6.0.1107")));
        return new UpdateNotice(
                updateId(id),
                "Lantern Desktop 6.0.1107",
                "Lantern",
                "Cumulative update.",
                "3",
                PUBLISHED,
                Kind.CUMULATIVE,
                Optional.of(680_000_000L),
                Optional.of(RestartNeed.HOST),
                Removable.NOT_TOLD,
                updateIds("LNT-1104"),
                List.of(),
                List.of("Lantern Desktop 6"),
                List.of(),
                List.of(fix));
    }

    @Test
    void joinsAdvisoryAndNotice() {
        Update update = join(
                List.of(advisory(Optional.of("Important"), List.of(VULNERABILITY))), Optional.of(notice("LNT-1107")));
        assertThat(update.title()).isEqualTo("Lantern Desktop 6.0.1107");
        assertThat(update.summary()).isEqualTo("Cumulative update.");
        assertThat(update.kind()).isEqualTo(Kind.CUMULATIVE);
        assertThat(update.revision()).isEqualTo("1");
        assertThat(update.rating()).isEqualTo(Rating.HIGH);
        assertThat(update.vendorRating()).contains("Important");
        assertThat(update.fixes()).hasSize(1);
        assertThat(update.platforms()).containsExactly("Lantern Desktop 6");
        assertThat(update.highestBaseScore()).contains(7.4);
    }

    @Test
    void withoutNoticeTheKindFollowsFromCves() {
        assertThat(join(List.of(advisory(Optional.empty(), List.of(VULNERABILITY))), Optional.empty())
                        .kind())
                .isEqualTo(Kind.SECURITY);
        assertThat(join(List.of(advisory(Optional.empty(), List.of())), Optional.empty())
                        .kind())
                .isEqualTo(Kind.BUGFIX);
    }

    @Test
    void missingRatingComesFromTheBaseScoreAndElseIsUnrated() {
        assertThat(join(List.of(advisory(Optional.empty(), List.of(VULNERABILITY))), Optional.empty())
                        .rating())
                .isEqualTo(Rating.HIGH);
        assertThat(join(List.of(advisory(Optional.empty(), List.of())), Optional.empty())
                        .rating())
                .isEqualTo(Rating.UNRATED);
        assertThat(Rating.ofVendorWord("moderate")).isEqualTo(Rating.MEDIUM);
        assertThat(Rating.ofVendorWord("terrible")).isEqualTo(Rating.UNRATED);
        assertThat(List.of(0.0, 0.1, 4.0, 7.0, 9.0).stream().map(Rating::ofBaseScore))
                .containsExactly(Rating.NONE, Rating.LOW, Rating.MEDIUM, Rating.HIGH, Rating.CRITICAL);
    }

    @Test
    void refusesToJoinDifferentUpdates() {
        assertThatThrownBy(() -> join(List.of(advisory(Optional.empty(), List.of())), Optional.of(notice("LNT-9"))))
                .hasMessageContaining("LNT-1107")
                .hasMessageContaining("LNT-9");
        assertThatThrownBy(() -> join(List.of(), Optional.empty())).isInstanceOf(IllegalArgumentException.class);
    }

    private static Update join(List<Advisory> advisories, Optional<UpdateNotice> notice) {
        return Update.join(advisories, notice, Optional.empty(), READ);
    }

    @Test
    void theAdvisoryThatCanSayMoreIsBelievedFirst() {
        Update update = join(
                List.of(
                        advisory(
                                AdvisorySource.OSV,
                                "9",
                                PUBLISHED,
                                Optional.of("Low"),
                                List.of(VULNERABILITY),
                                List.of()),
                        advisory(AdvisorySource.CSAF, "2", PUBLISHED, Optional.empty(), List.of(), List.of())),
                Optional.empty());
        assertThat(update.title()).isEqualTo("CSAF of LNT-1107");
        assertThat(update.revision()).isEqualTo("2");
        assertThat(update.rating()).as("only the other one rates it").isEqualTo(Rating.LOW);
        assertThat(update.vulnerabilities()).containsExactly(VULNERABILITY);
        assertThat(update.restart()).isEqualTo(RestartNeed.SERVICE);
    }

    @Test
    void aRevisionOfWordsKeepsThePublicationAndOneWithOtherFixesIsNew() {
        Instant later = PUBLISHED.plus(Duration.ofDays(3));
        List<Fix> fixes = notice("LNT-1107").fixes();
        List<Fix> others = List.of(new Fix(fixes.get(0).build(), List.of(AffectedRange.below("6.0.1108"))));
        Update first = join(
                List.of(advisory(AdvisorySource.CSAF, "1", PUBLISHED, Optional.empty(), List.of(), fixes)),
                Optional.empty());
        Update words = Update.join(
                List.of(advisory(AdvisorySource.CSAF, "2", later, Optional.of("High"), List.of(VULNERABILITY), fixes)),
                Optional.empty(),
                Optional.of(first),
                later);
        assertThat(words.published()).isEqualTo(PUBLISHED);
        assertThat(words.firstRead()).isEqualTo(READ);
        assertThat(words.newFixesAfter(READ)).isEmpty();
        assertThat(words.revisedAfter(READ))
                .hasValueSatisfying(r -> assertThat(r.newFixes()).isFalse());
        Update fixed = Update.join(
                List.of(advisory(AdvisorySource.CSAF, "3", later, Optional.empty(), List.of(), others)),
                Optional.empty(),
                Optional.of(words),
                later);
        assertThat(fixed.published()).isEqualTo(later);
        assertThat(fixed.newFixesAfter(READ))
                .hasValueSatisfying(r -> assertThat(r.revision()).isEqualTo("3"));
        assertThat(fixed.revisions()).extracting(RevisionNote::revision).containsExactly("1", "2", "3");
        assertThat(fixed.newFixesAfter(later)).isEmpty();
    }

    @Test
    void theFirstDocumentThatTellsFixesCompletesTheUpdate() {
        Update bare = join(List.of(advisory(Optional.empty(), List.of(VULNERABILITY))), Optional.empty());
        Update whole = Update.join(
                List.of(advisory(Optional.empty(), List.of(VULNERABILITY))),
                Optional.of(notice("LNT-1107")),
                Optional.of(bare),
                READ.plusSeconds(60));
        assertThat(whole.newFixesAfter(READ)).isEmpty();
        assertThat(whole.revisions()).hasSize(1);
    }
}
