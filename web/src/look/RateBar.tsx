import type { Schemas } from '../api/client';
import { percent } from '../words/weighing';

/** A rate from 0 to 100 % with its 95 % interval drawn, and the baseline rate as a tick where it is known. */
export function RateBar({
  rate,
  usual,
  width = 220,
  faint = false,
}: {
  rate: Schemas['RateView'];
  usual?: number;
  width?: number;
  faint?: boolean;
}) {
  const x = (share: number) => 4 + share * (width - 8);
  const colour = faint ? 'var(--faint)' : 'var(--violet)';
  const label = `${percent(rate.rate)}, likely ${percent(rate.low)} to ${percent(rate.high)}${usual === undefined ? '' : `; baseline ${percent(usual)}`}`;
  return (
    <svg width={width} height={14} viewBox={`0 0 ${width} 14`} role="img" aria-label={label}>
      <title>{label}</title>
      <path d={`M4 7H${width - 4}`} stroke="var(--rule)" strokeWidth="2" />
      <path d={`M${x(rate.low)} 7H${x(rate.high)}`} stroke={colour} strokeWidth="3" />
      <circle cx={x(rate.rate)} cy="7" r="4" fill={colour} />
      {usual !== undefined && <path d={`M${x(usual)} 1V13`} stroke="var(--ink)" strokeWidth="1.2" />}
    </svg>
  );
}
