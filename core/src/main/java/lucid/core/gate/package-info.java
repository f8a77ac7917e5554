/**
 * How sure tries make us that failures are rare. Doors: {@link lucid.core.gate.Gate}, and for a pilot
 * {@link lucid.core.gate.PilotGate}.
 */
package lucid.core.gate;
