package lucid.core.update;

import static org.assertj.core.api.Assertions.assertThat;
import static org.assertj.core.api.Assertions.assertThatThrownBy;

import java.time.Instant;
import java.util.List;
import java.util.Optional;
import org.junit.jupiter.api.Test;

class UpdateTest {

    private static final Instant PUBLISHED = Instant.parse("2026-11-12T09:00:00Z");
    private static final Instant READ = Instant.parse("2026-11-13T09:00:00Z");
    private static final Vulnerability WEAKNESS = new Vulnerability("CVE-2026-9000001", "", Optional.of(7.4), Optional.empty());

    private static Advisory advisory(Optional<String> rating, List<Vulnerability> weaknesses) {
        return new Advisory("LNT-1107", "Weakness in sign-in", "Lantern", "", "1", PUBLISHED, PUBLISHED, rating, weaknesses, List.of(), List.of());
    }

    private static UpdateNotice notice(String id) {
        Fix fix = new Fix(PackageReference.parse("pkg:generic/lantern-desktop").build(), List.of(AffectedRange.below("6.0.1107")));
        return new UpdateNotice(id, "Lantern Desktop 6.0.1107", "Lantern", "Cumulative update.", "3", PUBLISHED, Kind.CUMULATIVE,
                Optional.of(680_000_000L), RestartNeed.HOST, Optional.empty(), List.of("LNT-1104"), List.of("Lantern Desktop 6"), List.of(fix));
    }

    @Test
    void joinsAdvisoryAndNotice() {
        Update update = Update.join(Optional.of(advisory(Optional.of("Important"), List.of(WEAKNESS))), Optional.of(notice("LNT-1107")), READ);
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
        assertThat(Update.join(Optional.of(advisory(Optional.empty(), List.of(WEAKNESS))), Optional.empty(), READ).kind()).isEqualTo(Kind.SECURITY);
        assertThat(Update.join(Optional.of(advisory(Optional.empty(), List.of())), Optional.empty(), READ).kind()).isEqualTo(Kind.BUGFIX);
    }

    @Test
    void missingRatingComesFromTheBaseScoreAndElseIsUnrated() {
        assertThat(Update.join(Optional.of(advisory(Optional.empty(), List.of(WEAKNESS))), Optional.empty(), READ).rating()).isEqualTo(Rating.HIGH);
        assertThat(Update.join(Optional.of(advisory(Optional.empty(), List.of())), Optional.empty(), READ).rating()).isEqualTo(Rating.UNRATED);
        assertThat(Rating.ofVendorWord("moderate")).isEqualTo(Rating.MEDIUM);
        assertThat(Rating.ofVendorWord("terrible")).isEqualTo(Rating.UNRATED);
        assertThat(List.of(0.0, 0.1, 4.0, 7.0, 9.0).stream().map(Rating::ofBaseScore))
                .containsExactly(Rating.NONE, Rating.LOW, Rating.MEDIUM, Rating.HIGH, Rating.CRITICAL);
    }

    @Test
    void refusesToJoinDifferentUpdates() {
        assertThatThrownBy(() -> Update.join(Optional.of(advisory(Optional.empty(), List.of())), Optional.of(notice("LNT-9")), READ))
                .hasMessageContaining("LNT-1107").hasMessageContaining("LNT-9");
        assertThatThrownBy(() -> Update.join(Optional.empty(), Optional.empty(), READ)).isInstanceOf(IllegalArgumentException.class);
    }
}
