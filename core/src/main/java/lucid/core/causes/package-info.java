/** Which traits failing hosts share. Door: {@link lucid.core.causes.SuspectedCauses}. */
package lucid.core.causes;
