package lucid.server.exceptions;

import java.time.LocalDate;
import java.util.Optional;
import lucid.core.ruling.Effect;
import lucid.core.ruling.ExceptionGrant;
import lucid.core.update.UpdateId;
import lucid.server.exceptions.ExceptionMapper.ScopeType;

/**
 * An exception as it is worded.
 *
 * @param update the case on which it is made; its consequence is shown for this update
 * @param scope about this update, about one product of it, or about its kind
 * @param product package URL, where the scope is a product
 * @param hosts condition
 * @param effect what is in force instead; none: withheld
 * @param endsWhen what ends it before its day; only where it is about one update
 * @param endsIssue identifier of the known issue that must be fixed, where that ends it
 */
record ExceptionDraft(
        UpdateId update,
        ScopeType scope,
        Optional<String> product,
        String hosts,
        Optional<Effect> effect,
        Optional<LocalDate> until,
        String reason,
        String owner,
        String measure,
        Optional<ExceptionGrant.EndsWhen.Type> endsWhen,
        Optional<String> endsIssue) {}
