package lucid.core.update;

/**
 * What a vendor advises beside the fix itself.
 *
 * @param category the vendor's word, such as workaround, mitigation or no fix planned
 */
public record Remedy(String category, String words) {}
