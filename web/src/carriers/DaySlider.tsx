import { day } from '../words/dates';
import styles from './Matrix.module.css';

interface Props {
  /** Days that are kept, the earliest first. */
  days: string[];
  /** The day that is shown; none: now. */
  on: string | undefined;
  now: Date;
  change: (day: string | undefined) => void;
}

/** Back through the days that were kept; the last step is now. */
export function DaySlider({ days, on, now, change }: Props) {
  if (days.length === 0) {
    return <span className="mid">Now. Each day is kept from the first night on; none is yet.</span>;
  }
  const latest = days.filter((one) => on !== undefined && one <= on).length - 1;
  const at = on === undefined ? days.length : Math.max(0, latest);
  const words = on === undefined ? 'now' : `at the end of ${day(`${days[at]}T00:00:00Z`, now)}`;
  return (
    <label className={styles.slider}>
      <span className={styles.when}>As known {words}</span>
      <input
        type="range"
        aria-label="As known at the end of"
        aria-valuetext={words}
        min={0}
        max={days.length}
        value={at}
        onChange={(event) => change(days[Number(event.target.value)])}
      />
    </label>
  );
}
