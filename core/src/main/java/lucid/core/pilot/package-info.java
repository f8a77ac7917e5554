/**
 * Some hosts try an update before the others. Doors: {@link lucid.core.pilot.Sampling} draws them,
 * {@link lucid.core.pilot.Progress} tells how it goes, {@link lucid.core.pilot.PilotStep} what follows from that.
 */
package lucid.core.pilot;
