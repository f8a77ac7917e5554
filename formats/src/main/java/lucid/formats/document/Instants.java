package lucid.formats.document;

import java.time.DateTimeException;
import java.time.Instant;
import java.time.LocalDate;
import java.time.LocalDateTime;
import java.time.LocalTime;
import java.time.OffsetDateTime;
import java.time.ZoneOffset;
import java.time.format.DateTimeFormatter;
import java.util.Optional;

/** Instants as documents write them, and as revisions of documents that have no other. */
public final class Instants {

    private Instants() {}

    /**
     * A date, or a date and time with a T or a space between them, with an offset or in UTC; or seconds since 1970.
     * Empty for anything else, and for what is not {@link Texts#plausible}.
     */
    public static Optional<Instant> lenient(String text) {
        return parsed(text).filter(instant -> {
            try {
                return Texts.plausible(instant).equals(instant);
            } catch (IllegalArgumentException e) {
                return false;
            }
        });
    }

    private static Optional<Instant> parsed(String text) {
        String plain = text.strip().replaceFirst(" UTC$", "").replaceFirst("^(\\d{4}-\\d{2}-\\d{2}) (?=\\d)", "$1T");
        try {
            if (plain.matches("\\d{9,11}")) {
                return Optional.of(Instant.ofEpochSecond(Long.parseLong(plain)));
            }
            if (plain.matches("\\d{4}-\\d{2}-\\d{2}")) {
                return Optional.of(
                        LocalDate.parse(plain).atStartOfDay(ZoneOffset.UTC).toInstant());
            }
            return Optional.of(
                    plain.matches(".*(Z|[+-]\\d{2}:?\\d{2})$") && plain.contains("T")
                            ? OffsetDateTime.parse(plain).toInstant()
                            : LocalDateTime.parse(plain).toInstant(ZoneOffset.UTC));
        } catch (DateTimeException e) {
            return Optional.empty();
        }
    }

    /** An instant as dotted numbers, which are ordered as the instants are; midnight is left out. */
    public static String asRevision(Instant instant) {
        LocalDateTime utc = LocalDateTime.ofInstant(instant, ZoneOffset.UTC);
        return DateTimeFormatter.ofPattern(utc.toLocalTime().equals(LocalTime.MIDNIGHT) ? "uuuu.M.d" : "uuuu.M.d.H.m.s")
                .format(utc);
    }
}
