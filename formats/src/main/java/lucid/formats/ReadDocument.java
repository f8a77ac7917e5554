package lucid.formats;

import java.util.List;

/**
 * A document that was read.
 *
 * @param subject identifier of what it is about: an update, or how many hosts
 * @param revision the document's own, empty where the format has none
 * @param problems parts of it that were left out
 */
public record ReadDocument(Format format, String subject, String revision, Content content, List<Problem> problems) {}
