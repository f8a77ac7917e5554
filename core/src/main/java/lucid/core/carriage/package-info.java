/** Which hosts carry an update. Door: {@link lucid.core.carriage.Carriages}. */
package lucid.core.carriage;
