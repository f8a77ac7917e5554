package lucid.core.update;

/**
 * What a vendor says when it takes an advisory back.
 *
 * @param reason in the vendor's words, empty where it gives none
 */
public record Retraction(Type type, String reason) {

    public enum Type {
        /** It no longer stands behind the update or the advisory. */
        WITHDRAWN,
        /** Another advisory has taken its place. */
        SUPERSEDED
    }
}
