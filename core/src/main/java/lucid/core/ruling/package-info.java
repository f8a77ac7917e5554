/** What holds for a host and an update, and why. Door: {@link lucid.core.ruling.Timeline}. */
package lucid.core.ruling;
