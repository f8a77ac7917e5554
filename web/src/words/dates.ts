/** Instants in words, in the time zone of the population that they concern. */

/** What stands for an instant that cannot be read; it must not keep the rest of the page from being drawn. */
const UNREADABLE = 'at an unreadable instant';

const isReadable = (instant: string | Date) => !Number.isNaN(new Date(instant).getTime());

const zoneOf = (zone: string) => (zone === 'Z' ? 'UTC' : zone);

function parts(instant: Date, zone: string): Record<string, string> {
  const format = new Intl.DateTimeFormat('en-GB', {
    timeZone: zoneOf(zone),
    weekday: 'short',
    day: 'numeric',
    month: 'short',
    year: 'numeric',
    hour: '2-digit',
    minute: '2-digit',
    hourCycle: 'h23',
  });
  return Object.fromEntries(format.formatToParts(instant).map((part) => [part.type, part.value]));
}

/** "Mon 14 Dec", with the year when it is another than that of {@code now}. */
export function day(instant: string | Date, now: Date, zone = 'Z'): string {
  if (!isReadable(instant)) {
    return UNREADABLE;
  }
  const p = parts(new Date(instant), zone);
  const year = parts(now, zone).year === p.year ? '' : ` ${p.year}`;
  return `${p.weekday} ${p.day} ${p.month.slice(0, 3)}${year}`;
}

/** "Wed 25 Nov 23:39". */
export function dayTime(instant: string | Date, now: Date, zone = 'Z'): string {
  if (!isReadable(instant)) {
    return UNREADABLE;
  }
  const p = parts(new Date(instant), zone);
  return `${day(instant, now, zone)} ${p.hour}:${p.minute}`;
}

/** As {@link dayTime}, but "today 23:39" and "tomorrow 23:39" where that is so. */
export function soon(instant: string | Date, now: Date, zone = 'Z'): string {
  if (!isReadable(instant)) {
    return UNREADABLE;
  }
  const on = isoDay(new Date(instant), 0, zone);
  const near = on === isoDay(now, 0, zone) ? 'today' : on === isoDay(now, 1, zone) ? 'tomorrow' : undefined;
  return near === undefined ? dayTime(instant, now, zone) : `${near} ${time(instant, zone)}`;
}

/** The last day of something that ends at {@code end}: an end at midnight belongs to the day before. */
export function lastDay(end: string | Date, now: Date, zone = 'Z'): string {
  return day(new Date(new Date(end).getTime() - 1), now, zone);
}

export function time(instant: string | Date, zone = 'Z'): string {
  if (!isReadable(instant)) {
    return UNREADABLE;
  }
  const p = parts(new Date(instant), zone);
  return `${p.hour}:${p.minute}`;
}

/** "2026-12-14": the local day, {@code days} from now. */
export function isoDay(now: Date, days: number, zone = 'Z'): string {
  return new Intl.DateTimeFormat('sv-SE', { timeZone: zoneOf(zone) }).format(new Date(now.getTime() + days * 86_400_000));
}

/** "6 days", "5 hours", "less than an hour". */
export function span(from: string | Date, to: string | Date): string {
  const hours = Math.floor((new Date(to).getTime() - new Date(from).getTime()) / 3_600_000);
  if (hours < 1) {
    return 'less than an hour';
  }
  const days = Math.floor(hours / 24);
  return days < 2 ? count(hours, 'hour') : count(days, 'day');
}

/** "1 host", "12 hosts", "1,204 hosts". */
export function count(number: number, noun: string, plural = `${noun}s`): string {
  return `${number.toLocaleString('en-GB')} ${number === 1 ? noun : plural}`;
}
