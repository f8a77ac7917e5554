/**
 * Readers of open formats and of our own, into core's types. Door: {@link lucid.formats.Documents}. A format is a
 * folder with one reader, of JSON a {@link lucid.formats.document.JsonReader}; adding one touches that folder and
 * {@code Documents}.
 */
package lucid.formats;
