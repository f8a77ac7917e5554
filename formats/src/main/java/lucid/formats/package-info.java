/**
 * Readers of open formats and of our own, into core's types. Door: {@link lucid.formats.Documents}. A format is a folder with one
 * {@link lucid.formats.DocumentReader}; adding one touches that folder and the list in {@code Documents}.
 */
package lucid.formats;
