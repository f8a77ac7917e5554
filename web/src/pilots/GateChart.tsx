import type { Schemas } from '../api/client';
import styles from './GateChart.module.css';

const WIDTH = 720;
const HEIGHT = 250;
const LEFT = 46;
const RIGHT = 14;
const TOP = 8;
const BOTTOM = 42;
const FEWEST_ROWS = 4;

/**
 * The gate as a drawing: hosts that tried to the right, hosts that failed upwards. The line walks one step with each host that tries; the dot on it is how many
 * of them have answered. The line in the one region, or the dot in the other, decides; dotted is what would meet it.
 */
export function GateChart({ pilot }: { pilot: Schemas['PilotView'] }) {
  const { gate, path, tally } = pilot;
  const answered = tally.soaked + tally.failed;
  const tried = answered + tally.soaking;
  const rows = Math.max(FEWEST_ROWS, tally.failed + 2);
  const meets = gate.answeredToMeet[Math.min(tally.failed, gate.answeredToMeet.length - 1)] ?? 0;
  const most = Math.max(1.12 * meets, tried, gate.triedToFail[Math.min(rows, gate.triedToFail.length - 1)] ?? 0, 4);
  const x = (hosts: number) => LEFT + (hosts / most) * (WIDTH - LEFT - RIGHT);
  const y = (failed: number) => HEIGHT - BOTTOM - ((failed + 0.5) / (rows + 1)) * (HEIGHT - TOP - BOTTOM);
  const half = (y(0) - y(1)) / 2;
  const failing = Array.from({ length: rows + 1 }, (_, failed) => ({ failed, hosts: gate.triedToFail[failed] ?? 0 })).filter(
    (row) => row.hosts > 0,
  );
  const meeting = Array.from({ length: rows + 1 }, (_, failed) => ({ failed, hosts: gate.answeredToMeet[failed] ?? most })).filter(
    (row) => row.hosts < most,
  );
  const line = ['M', x(0), y(0), ...path.flatMap((step) => ['H', x(step.tried), 'V', y(step.failed)])].join(' ');
  const step = niceStep(most);
  const ticks = Array.from({ length: Math.floor(most / step) + 1 }, (_, index) => index * step);
  const open = pilot.state === 'SOAKING' || pilot.state === 'EXHAUSTED';
  const label =
    `${tried} hosts have tried it, ${answered} have answered, ${tally.failed} of them failed. With ${tally.failed} failed the gate is met by ${meets} that answered` +
    (failing.length > 0 ? `; it fails with ${failing.map((row) => `${row.failed} failed of at most ${row.hosts}`).join(', ')}.` : '.');
  return (
    <svg className={styles.chart} viewBox={`0 0 ${WIDTH} ${HEIGHT}`} role="img" aria-label={label}>
      <title>{label}</title>
      {failing.map((row) => (
        <rect key={row.failed} className={styles.failed} x={x(0)} y={y(row.failed) - half} width={x(row.hosts) - x(0)} height={2 * half} />
      ))}
      {meeting.map((row) => (
        <rect
          key={row.failed}
          className={styles.met}
          x={x(row.hosts)}
          y={y(row.failed) - half}
          width={x(most) - x(row.hosts)}
          height={2 * half}
        />
      ))}
      {Array.from({ length: rows + 1 }, (_, failed) => (
        <g key={failed}>
          <path className={styles.rule} d={`M${x(0)} ${y(failed)}H${x(most)}`} />
          <text className={styles.tick} x={LEFT - 10} y={y(failed) + 4} textAnchor="end">
            {failed}
          </text>
        </g>
      ))}
      {ticks.map((tick) => (
        <text key={tick} className={styles.tick} x={x(tick)} y={HEIGHT - BOTTOM + 16} textAnchor="middle">
          {tick}
        </text>
      ))}
      <text className={styles.tick} x={WIDTH - RIGHT} y={HEIGHT - 6} textAnchor="end">
        hosts that tried, ● of them answered
      </text>
      <text className={styles.tick} transform={`translate(12 ${HEIGHT - BOTTOM}) rotate(-90)`}>
        hosts that failed
      </text>
      {failing.length > 0 && (
        <text className={styles.region} x={x(0) + 8} y={y(rows) + 4}>
          failed: withheld from all
        </text>
      )}
      {meeting.length > 0 && (
        <text className={styles.region} x={x(most) - 8} y={y(0) + half - 6} textAnchor="end">
          met
        </text>
      )}
      <path className={styles.line} d={line} />
      {open && tried < meets && <path className={styles.dotted} d={`M${x(tried)} ${y(tally.failed)}H${x(meets)}`} />}
      <path className={styles.waiting} d={`M${x(answered)} ${y(tally.failed)}H${x(tried)}`} />
      <circle className={styles.point} cx={x(answered)} cy={y(Math.min(tally.failed, rows))} r="5" />
    </svg>
  );
}

/** 1, 2 or 5 times a power of ten, so that about ten of them fill the width. */
function niceStep(most: number): number {
  const power = 10 ** Math.floor(Math.log10(most / 10));
  return Math.max(1, [1, 2, 5, 10].map((of) => of * power).find((step) => most / step <= 13) ?? 1);
}
