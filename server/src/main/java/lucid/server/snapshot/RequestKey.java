package lucid.server.snapshot;

/**
 * Tells a request that is sent again from another one.
 *
 * @param caller by the name under which the record knows it
 * @param id the sender's {@code Idempotency-Key}, with the part of the request that it stands for
 * @param digest SHA-256 of what is asked
 */
public record RequestKey(String caller, String id, String digest) {}
