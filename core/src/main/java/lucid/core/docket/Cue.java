package lucid.core.docket;

import java.time.Instant;
import java.util.Optional;
import lucid.core.update.UpdateId;

/**
 * One fact that makes a case need judgement ("why now"). It is about hosts, and is answered on a host by a verdict or
 * an answer that covers the host and is given after it; it stands while one host is unanswered. It goes when it is no
 * longer true.
 *
 * @param raised when it became true, or was learned here
 * @param about what it is about: a CVE, a known issue, another update, a failure code, a population, how many products,
 *     the words of a note, or the number of a verdict, a pilot or an exception; empty where it is the update itself
 * @param hosts how many it is about, 0 where it is about none in particular
 * @param when an instant that belongs to it: when something ends, is offered or was listed
 * @param open how many of its hosts nobody has answered for
 * @param of identifier of an earlier update whose cue it is, which this one contains and under whose case it is folded
 */
public record Cue(
        Type type, Instant raised, String about, int hosts, Optional<Instant> when, int open, Optional<UpdateId> of) {

    /** In the order in which they are told. */
    public enum Type {
        /** A vulnerability that it closes is listed as exploited. */
        KNOWN_EXPLOITED,
        /** What is forced is past due, and hosts still lack it. */
        OVERDUE,
        /** The owner of an exception objects to a force that goes over it. */
        OBJECTED,
        /** It fails more often than usual. */
        FAILURES_ABOVE_USUAL,
        /** Hosts have not reported since they installed it. */
        SILENT_AFTER_INSTALL,
        /** The gate of a pilot failed: it is withheld from everybody whom the pilot is for. */
        PILOT_FAILED,
        /** Nobody can tell which hosts have what it is for, or some of it. */
        PRODUCTS_NOT_READ,
        /** Its vendor has taken it back after it was answered, or before anybody judged it. */
        WITHDRAWN,
        /** A known issue was told. */
        ISSUE_OPENED,
        /** Hosts installed it although it is blocked for them. */
        BLOCKED_BUT_INSTALLED,
        /** It contains an update that is withheld. */
        SUPERSEDES_BLOCKED,
        /** A revision with other fixes came after it was answered. */
        REVISED_FIXES,
        /** The exploit probability crossed a flip point since it was answered. */
        PROBABILITY_CROSSED,
        /** A known issue was fixed or can be worked around. */
        ISSUE_FIXED,
        /** The day has come on which somebody wanted it looked at again. */
        LOOK_AGAIN,
        /** A force is due soon, and hosts still lack it. */
        DUE_AT_RISK,
        /** The gate of a pilot is met. */
        PILOT_MET,
        /** Every host of a pilot has answered, and that neither meets nor fails its gate. */
        PILOT_EXHAUSTED,
        /** The day on which a pilot was to have answered has gone by within the last days. */
        PILOT_ENDED,
        /** A block has ended within the last days. */
        BLOCK_ENDED,
        /** A deferral has ended within the last days: what it held back is offered. */
        DEFERRAL_ENDED,
        /** An exception has ended within the last days. */
        EXCEPTION_ENDED,
        /** The day comes near on which a pilot is to have answered. */
        PILOT_ENDS,
        /** A block ends soon. */
        BLOCK_ENDS,
        /** A deferral ends soon. */
        DEFERRAL_ENDS,
        /** An exception ends soon. */
        EXCEPTION_ENDS,
        /** The hosts of a verdict have become others. */
        POPULATION_CHANGED,
        /** It does matter now on hosts where it did not. */
        AFFECTED_NOW,
        /** The standing rule never offers it, and nothing else says what becomes of it. */
        NEEDS_VERDICT,
        /** A standing rule is about to offer it, and nobody has judged it. */
        OFFERED_SOON,
        /** First read, and hosts lack it. */
        NEW,
        /** A revision came after it was answered, in which only words changed. */
        REVISED_TEXT
    }
}
