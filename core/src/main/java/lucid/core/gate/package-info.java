/** How sure tries make us that failures are rare. Door: {@link lucid.core.gate.Gate}. */
package lucid.core.gate;
