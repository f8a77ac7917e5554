/** Hosts, their traits, conditions over them, and the ladder of populations. Door: {@link lucid.core.fleet.Fleet}. */
package lucid.core.fleet;
