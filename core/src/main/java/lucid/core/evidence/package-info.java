/**
 * What is known of exploitation, known issues, failures and tries. Doors: {@link lucid.core.evidence.Evidence},
 * {@link lucid.core.evidence.TriedHosts}.
 */
package lucid.core.evidence;
