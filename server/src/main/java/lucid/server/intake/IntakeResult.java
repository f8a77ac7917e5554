package lucid.server.intake;

import java.util.List;
import java.util.Optional;
import lucid.formats.document.Format;
import lucid.formats.document.Problem;

/**
 * How one document fared.
 *
 * @param number by which it is found again; none for a host report without any problem
 * @param subject the update's identifier, the host's name, or how many
 * @param problems what was left out, or why it was refused
 */
public record IntakeResult(
        Optional<Long> number,
        String name,
        Optional<Format> format,
        String subject,
        IntakeOutcome outcome,
        List<Problem> problems) {}
