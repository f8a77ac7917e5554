import styles from './Timeline.module.css';

interface Point {
  at: string;
  value: number;
}

/**
 * A number over time as a stepped line from the first point to now, from 0 at the bottom to {@code most} at the top; where it may come
 * earlier, with a band up to that.
 */
export function Timeline({
  points,
  earliest = [],
  most,
  now,
  label,
  colour,
  width = 320,
  height = 46,
}: {
  points: Point[];
  earliest?: Point[];
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
  const right = width - 4;
  const line = (of: Point[]) => {
    const steps = of.map(
      (point, index) => `${index === 0 ? 'M' : 'H'}${x(point.at).toFixed(1)}${index === 0 ? ' ' : 'V'}${y(point.value).toFixed(1)}`,
    );
    return `${steps.join('')}H${right}`;
  };
  // From the earliest down to the line, and back along it.
  const back = points.map((point, index) => `H${x(points[index + 1]?.at ?? point.at).toFixed(1)}V${y(point.value).toFixed(1)}`);
  const last = points[points.length - 1] ?? first;
  return (
    <svg width={width} height={height} viewBox={`0 0 ${width} ${height}`} role="img" aria-label={label} className={styles.drawing}>
      <title>{label}</title>
      <path d={`M2 ${height - 3}H${right}`} stroke="var(--rule)" />
      {earliest.length > 0 && (
        <path
          d={`${line(earliest)}V${y((points[points.length - 1] ?? first).value).toFixed(1)}${back.reverse().join('')}Z`}
          fill={colour}
          opacity="0.16"
        />
      )}
      <path d={line(points)} fill="none" stroke={colour} strokeWidth="1.8" />
      <circle cx={right} cy={y(last.value)} r="3" fill={colour} />
    </svg>
  );
}
