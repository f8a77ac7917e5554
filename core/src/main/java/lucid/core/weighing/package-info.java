/**
 * How bad it is to wait, and how bad to install. Doors: {@link lucid.core.weighing.Weigher},
 * {@link lucid.core.weighing.Weighing}. The failure rate: {@link lucid.core.weighing.FailureRate}; what is usual:
 * {@link lucid.core.weighing.BaselineRates}; when harm is in evidence: {@link lucid.core.weighing.HarmInEvidence}.
 */
package lucid.core.weighing;
