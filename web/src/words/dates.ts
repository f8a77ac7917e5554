/** Instants in words, in the time zone of the population that they concern. */

/** What stands for an instant that cannot be read; it must not keep the rest of the page from being drawn. */
const UNREADABLE = 'at an unreadable instant';

const isReadable = (instant: string | Date) => !Number.isNaN(new Date(instant).getTime());

/** As zones are named on screen, and as formats take them. */
export const zoneWords = (zone: string) => (zone === 'Z' ? 'UTC' : zone);

/** A format takes longer to make than to use a hundred times; there are as many as time zones on the screen. */
function once(made: (zone: string) => Intl.DateTimeFormat): (zone: string) => Intl.DateTimeFormat {
  const formats = new Map<string, Intl.DateTimeFormat>();
  return (zone) => {
    const format = formats.get(zone) ?? made(zoneWords(zone));
    formats.set(zone, format);
    return format;
  };
}

const inWords = once(
  (timeZone) =>
    new Intl.DateTimeFormat('en-GB', {
      timeZone,
      weekday: 'short',
      day: 'numeric',
      month: 'short',
      year: 'numeric',
      hour: '2-digit',
      minute: '2-digit',
      hourCycle: 'h23',
    }),
);
const asIsoDay = once((timeZone) => new Intl.DateTimeFormat('sv-SE', { timeZone }));

function parts(instant: Date, zone: string): Record<string, string> {
  return Object.fromEntries(
    inWords(zone)
      .formatToParts(instant)
      .map((part) => [part.type, part.value]),
  );
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

/** "tomorrow 23:00 to 06:00"; the time alone at its end, where nobody takes it for that of another day. */
export function stretch(from: string | Date, until: string | Date | undefined, now: Date, zone = 'Z'): string {
  if (until === undefined) {
    return `${soon(from, now, zone)} on`;
  }
  const near = new Date(until).getTime() - new Date(from).getTime() <= 12 * 3_600_000;
  return `${soon(from, now, zone)} to ${near ? time(until, zone) : soon(until, now, zone)}`;
}

/** The last day of something that ends at {@code end}: an end at midnight belongs to the day before. */
export function lastDay(end: string | Date, now: Date, zone = 'Z'): string {
  return day(new Date(new Date(end).getTime() - 1), now, zone);
}

/** "14 Jan", with the year where it is another: the last day before an instant, where there is little room. */
export function shortDay(end: string | Date, now: Date): string {
  return lastDay(end, now).replace(/^\w+ /, '');
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
  return asIsoDay(zone).format(new Date(now.getTime() + days * 86_400_000));
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

const WEEKDAYS = ['sun', 'mon', 'tue', 'wed', 'thu', 'fri', 'sat'];
const MONTHS = ['jan', 'feb', 'mar', 'apr', 'may', 'jun', 'jul', 'aug', 'sep', 'oct', 'nov', 'dec'];
const DAYS_OF: Record<string, number> = { day: 1, week: 7 };

/**
 * The day that somebody means, as "2026-12-14": written so, or "14 Dec", "Mon 14 Dec", "14 December 2027", "+14", "2 weeks", "Friday", "today" or
 * "tomorrow". A weekday is the next one after today, and a day without a year the next one of its kind. Undefined where it is none, or where
 * weekday and day disagree.
 */
export function dayOf(text: string, now: Date): string | undefined {
  const words = text.trim().toLowerCase().replace(/[.,]/g, '').replace(/\s+/g, ' ');
  const ahead = /^\+(\d{1,3})$/.exec(words) ?? /^(\d{1,3}) (day|week)s?$/.exec(words);
  if (ahead) {
    return isoDay(now, Number(ahead[1]) * (DAYS_OF[ahead[2] ?? 'day'] ?? 1));
  }
  if (words === 'today' || words === 'tomorrow') {
    return isoDay(now, words === 'today' ? 0 : 1);
  }
  const iso = /^(\d{4})-(\d{2})-(\d{2})$/.exec(words);
  if (iso) {
    return realDay(Number(iso[1]), Number(iso[2]) - 1, Number(iso[3]));
  }
  const named = /^(?:([a-z]{3,9}) )?(\d{1,2}) ([a-z]{3,9})(?: (\d{4}))?$/.exec(words);
  if (named) {
    const month = nameIn(MONTHS, named[3]);
    const weekday = named[1] === undefined ? undefined : nameIn(WEEKDAYS, named[1]);
    if (month === undefined || (named[1] !== undefined && weekday === undefined)) {
      return undefined;
    }
    const year = now.getUTCFullYear();
    const years = named[4] === undefined ? [year, year + 1] : [Number(named[4])];
    const days = years.map((one) => realDay(one, month, Number(named[2]))).filter((one) => one !== undefined);
    const meant = named[4] === undefined ? days.find((one) => one >= isoDay(now, 0)) : days[0];
    return meant !== undefined && (weekday === undefined || new Date(meant).getUTCDay() === weekday) ? meant : undefined;
  }
  const weekday = nameIn(WEEKDAYS, words);
  return weekday === undefined ? undefined : isoDay(now, ((weekday - now.getUTCDay() + 6) % 7) + 1);
}

/** Place of a name that is written out or as its first three letters. */
function nameIn(names: string[], word: string | undefined): number | undefined {
  const full = ['sunday', 'monday', 'tuesday', 'wednesday', 'thursday', 'friday', 'saturday'].concat([
    'january',
    'february',
    'march',
    'april',
    'may',
    'june',
    'july',
    'august',
    'september',
    'october',
    'november',
    'december',
  ]);
  const place = names.findIndex((name) => word === name || (full.includes(word ?? '') && word?.startsWith(name)));
  return place < 0 ? undefined : place;
}

function realDay(year: number, month: number, dayOfMonth: number): string | undefined {
  const date = new Date(Date.UTC(year, month, dayOfMonth));
  return date.getUTCMonth() === month && date.getUTCDate() === dayOfMonth ? date.toISOString().slice(0, 10) : undefined;
}
