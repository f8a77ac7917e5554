/**
 * How bad it is to wait, and how bad to install. Doors: {@link lucid.core.weighing.Weigher},
 * {@link lucid.core.weighing.Weighing}.
 */
package lucid.core.weighing;
