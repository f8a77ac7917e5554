import styles from './Timeline.module.css';
/**
 * A number over time as a stepped line from the first point to now, from 0 at the bottom to {@code most} at the top.
 */
export function Timeline({
  points,
  most,
  now,
  label,
  colour,
  width = 320,
  height = 46,
}: {
  points: { at: string; value: number }[];
  most: number;
  now: Date;
  label: string;
  colour: string;
  width?: number;
  height?: number;
}) {
  const first = points[0];
  if (first === undefined) {
    return null;
  }
  const from = new Date(first.at).getTime();
  const span = Math.max(now.getTime() - from, 86_400_000);
  const x = (at: string) => 2 + ((new Date(at).getTime() - from) / span) * (width - 6);
  const y = (value: number) => height - 4 - (Math.min(value, most) / most) * (height - 10);
  const steps = points.map(
    (point, index) =>
      `${index === 0 ? 'M' : 'H'}${x(point.at).toFixed(1)}${index === 0 ? ` ${y(point.value).toFixed(1)}` : `V${y(point.value).toFixed(1)}`}`,
  );
  const last = points[points.length - 1] ?? first;
  return (
    <svg width={width} height={height} viewBox={`0 0 ${width} ${height}`} role="img" aria-label={label} className={styles.drawing}>
      <title>{label}</title>
      <path d={`M2 ${height - 3}H${width - 4}`} stroke="var(--rule)" />
      <path d={`${steps.join('')}H${width - 4}`} fill="none" stroke={colour} strokeWidth="1.8" />
      <circle cx={width - 4} cy={y(last.value)} r="3" fill={colour} />
    </svg>
  );
}
