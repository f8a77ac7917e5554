import type { Schemas } from '../api/client';
import { stretch } from '../words/dates';
import styles from './HoursBar.module.css';

type Timing = Schemas['TimingView'];

const DAYS = ['Mon', 'Tue', 'Wed', 'Thu', 'Fri', 'Sat', 'Sun'];
const WIDTH = 384;
const HALF = WIDTH / 48;
const ROW = 9;
const LEFT = 30;
const TOP = 12;

/** Stretches of a day in which a restart is allowed or not. */
function stretches(halves: string[]): { from: number; to: number; use: string }[] {
  const all: { from: number; to: number; use: string }[] = [];
  for (const [at, use] of halves.entries()) {
    const last = all[all.length - 1];
    if (last?.use === use) {
      last.to = at + 1;
    } else {
      all.push({ from: at, to: at + 1, use });
    }
  }
  return all;
}

/** The week of a population: white where a restart is allowed, hatched where it is not, framed where a window is open; and the next allowed hours in words. */
export function HoursBar({ timing, name, now, zone }: { timing: Timing; name: string; now: Date; zone: string }) {
  const words = nextWords(timing, now, zone);
  return (
    <div>
      <svg
        role="img"
        className={styles.bar}
        aria-label={`Hours of ${name}. ${words}`}
        viewBox={`0 0 ${LEFT + WIDTH + 2} ${TOP + 7 * ROW + 2}`}
        width={LEFT + WIDTH + 2}
      >
        <defs>
          <pattern id="not-allowed" width="4" height="4" patternUnits="userSpaceOnUse" patternTransform="rotate(45)">
            <path d="M0 0V4" className={styles.hatch} />
          </pattern>
        </defs>
        {[0, 6, 12, 18, 24].map((hour) => (
          <text
            key={hour}
            x={LEFT + hour * 2 * HALF}
            y={TOP - 3}
            textAnchor={hour === 0 ? 'start' : hour === 24 ? 'end' : 'middle'}
            className={styles.tick}
          >
            {hour}
          </text>
        ))}
        {timing.week.map((halves, day) => (
          <g key={DAYS[day]} transform={`translate(${LEFT} ${TOP + day * ROW})`}>
            <text x={-6} y={ROW - 2} textAnchor="end" className={styles.tick}>
              {DAYS[day]}
            </text>
            {stretches(halves).map(({ from, to, use }) => (
              <rect key={from} x={from * HALF} y={0.5} width={(to - from) * HALF} height={ROW - 1} className={styles[use.toLowerCase()]} />
            ))}
          </g>
        ))}
      </svg>
      <div className="rungfacts">
        <span className={styles.allowedKey} aria-hidden="true" /> restart allowed <span className={styles.busyKey} aria-hidden="true" /> not
        allowed. {words}
      </div>
    </div>
  );
}

/** "Next allowed: today 23:00 to 06:00, …". */
function nextWords({ nextAllowed }: Timing, now: Date, zone: string): string {
  if (nextAllowed.length === 0) {
    return 'No allowed hours are foreseen.';
  }
  return `Next allowed: ${nextAllowed.map(({ from, until }) => stretch(from, until, now, zone)).join(', ')}.`;
}
