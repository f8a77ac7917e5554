package lucid.core.update;

/**
 * The kind of document that an advisory came in. Of several about one update the earlier in this order is believed
 * first, since it can say more.
 */
public enum AdvisorySource {
    CSAF,
    UPDATEINFO,
    OSV
}
