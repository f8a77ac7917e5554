import { useId } from 'react';
import type { Schemas } from '../api/client';

type Counts = Schemas['StateCounts'];

/** A carriage cell: filled = carries, half-filled = partly, empty = lacks, hatched = unknown; its length is all hosts to which the update applies. */
export function CarriageBar({ counts, width = 96, height = 14 }: { counts: Counts; width?: number; height?: number }) {
  const hatch = useId();
  const total = counts.carries + counts.partly + counts.missing + counts.unknown;
  if (total === 0) {
    return null;
  }
  // A part that is there stays visible, however small.
  const length = (count: number) => (count === 0 ? 0 : Math.max(2, ((width - 1) * count) / total));
  const carries = Math.min(length(counts.carries), width - 1);
  const partly = length(counts.partly);
  const unknown = length(counts.unknown);
  const label = stateWords(counts);
  return (
    <svg className="carriage" width={width} height={height} viewBox={`0 0 ${width} ${height}`} role="img" aria-label={label}>
      <title>{label}</title>
      <defs>
        <pattern id={hatch} width="4" height="4" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
          <path d="M0 0V4" stroke="var(--mid)" strokeWidth="2" />
        </pattern>
      </defs>
      <rect x="0.5" y="0.5" width={width - 1} height={height - 1} fill="var(--sheet)" />
      <rect x="0.5" y="0.5" width={carries} height={height - 1} fill="var(--ink)" />
      <rect x={0.5 + carries} y={height / 2} width={partly} height={height / 2 - 0.5} fill="var(--ink)" />
      <rect x={width - 0.5 - unknown} y="0.5" width={unknown} height={height - 1} fill={`url(#${hatch})`} />
      <rect x="0.5" y="0.5" width={width - 1} height={height - 1} fill="none" stroke="var(--ink)" />
    </svg>
  );
}

/** The counts in words, those that are not 0. */
export function stateWords(counts: Counts): string {
  const parts = [
    [counts.carries, 'carry it'],
    [counts.partly, 'carry it in part'],
    [counts.missing, 'lack it'],
    [counts.unknown, 'unknown'],
    [counts.notApplicable, 'not applicable'],
  ] as const;
  return parts
    .filter(([count]) => count > 0)
    .map(([count, words]) => `${count} ${words}`)
    .join(', ');
}
