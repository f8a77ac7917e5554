/** Hosts, their traits, predicates over them, and the ladder of populations. Door: {@link lucid.core.fleet.Fleet}. */
package lucid.core.fleet;
