package lucid.formats.document;

/**
 * Something in a document that could not be taken.
 *
 * @param place where: a JSON pointer (RFC 6901) or a line number; empty for the whole document
 * @param reason what is wrong there, in words
 */
public record Problem(String place, String reason) {}
