/**
 * Hosts that live: they check in, hear what they are told, download, install, fail, restart, go away and come back.
 * They know nothing but what they are told, and reckon hours by code of their own, so that forecasts can be checked
 * against what they do. Door: {@link lucid.simulator.living.LivingHost}.
 */
package lucid.simulator.living;
