package lucid.core.update;

/**
 * An address at which a vendor says more.
 *
 * @param address http or https
 * @param title what the vendor calls it, empty where it has no name
 */
public record ReferenceLink(String address, String title) {}
