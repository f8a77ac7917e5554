/** Which cases need judgement, and why now. Door: {@link lucid.core.docket.Docket}. */
package lucid.core.docket;
