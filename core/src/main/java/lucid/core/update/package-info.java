/**
 * Released updates: what they fix, for which versions, and what their vendor says of them. Door:
 * {@link lucid.core.update.Update}.
 */
package lucid.core.update;
