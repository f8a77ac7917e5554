import { Input } from 'antd';
import dayjs from 'dayjs';
import timezone from 'dayjs/plugin/timezone';
import utc from 'dayjs/plugin/utc';
import { isoDay, time, zoneWords } from '../words/dates';
import { DayPart } from './DayPart';
import styles from './InstantPart.module.css';

dayjs.extend(utc);
dayjs.extend(timezone);

/** An instant as it is worded: a day and a time of the day. */
export interface Worded {
  day: string;
  time: string;
}

export const wordedAs = (at: Date, zone = 'Z'): Worded => ({ day: isoDay(at, 0, zone), time: time(at, zone) });

/** None where it cannot be read. */
export function instantOf({ day, time }: Worded, zone = 'Z'): string | undefined {
  const clock = /^(\d{1,2})(?::(\d{2}))?$/.exec(time.trim());
  const [hour, minute] = [Number(clock?.[1]), Number(clock?.[2] ?? 0)];
  if (clock === null || hour > 23 || minute > 59 || !/^\d{4}-\d{2}-\d{2}$/.test(day)) {
    return undefined;
  }
  const two = (number: number) => String(number).padStart(2, '0');
  const at = dayjs.tz(`${day}T${two(hour)}:${two(minute)}:00`, zoneWords(zone));
  return at.isValid() ? at.toDate().toISOString() : undefined;
}

/** A day and a time of the day in the running text. @param zone in which they are told */
export function InstantPart({
  label,
  value,
  now,
  zone = 'UTC',
  change,
}: {
  label: string;
  value: Worded;
  now: Date;
  zone?: string;
  change: (value: Worded) => void;
}) {
  return (
    <>
      <DayPart label={`${label}, day`} value={value.day} now={now} change={(day) => change({ ...value, day })} />{' '}
      <Input
        aria-label={`${label}, time of the day in ${zone}`}
        variant="borderless"
        className={styles.time}
        value={value.time}
        onChange={(event) => change({ ...value, time: event.target.value })}
      />
    </>
  );
}
