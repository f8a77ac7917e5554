/**
 * Version orderings, each the one that the package system itself uses. Door:
 * {@link lucid.core.version.VersionOrdering}.
 */
package lucid.core.version;
