import { useId } from 'react';
import { applicable, type StateCounts, stateWords } from '../words/states';

/**
 * A carriage cell: filled = carries, striped = carries but with a restart outstanding or not re-checked, half-filled = in part, empty = lacks,
 * hatched = unknown; its length is all hosts to which the update applies.
 */
export function CarriageBar({ counts, width = 96, height = 14 }: { counts: StateCounts; width?: number; height?: number }) {
  const id = useId();
  const total = applicable(counts);
  if (total === 0) {
    return null;
  }
  // A part that is there stays visible, however small.
  const length = (count: number) => (count === 0 ? 0 : Math.max(2, ((width - 1) * count) / total));
  const carries = Math.min(length(counts.carries), width - 1);
  const unsettled = Math.min(length(counts.restartOutstanding + counts.claimed), width - 1 - carries);
  const partly = length(counts.partly);
  const unknown = length(counts.unknown);
  const label = stateWords(counts);
  return (
    <svg className="carriage" width={width} height={height} viewBox={`0 0 ${width} ${height}`} role="img" aria-label={label}>
      <title>{label}</title>
      <defs>
        <pattern id={`${id}h`} width="4" height="4" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 0V4" stroke="var(--mid)" strokeWidth="2" />
        </pattern>
        <pattern id={`${id}s`} width="3" height="3" patternUnits="userSpaceOnUse">
          <path d="M1 0V3" stroke="var(--ink)" strokeWidth="2" />
        </pattern>
      </defs>
      <rect x="0.5" y="0.5" width={width - 1} height={height - 1} fill="var(--sheet)" />
      <rect x="0.5" y="0.5" width={carries} height={height - 1} fill="var(--ink)" />
      <rect x={0.5 + carries} y="0.5" width={unsettled} height={height - 1} fill={`url(#${id}s)`} />
      <rect x={0.5 + carries + unsettled} y={height / 2} width={partly} height={height / 2 - 0.5} fill="var(--ink)" />
      <rect x={width - 0.5 - unknown} y="0.5" width={unknown} height={height - 1} fill={`url(#${id}h)`} />
      <rect x="0.5" y="0.5" width={width - 1} height={height - 1} fill="none" stroke="var(--ink)" />
    </svg>
  );
}
