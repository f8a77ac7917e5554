import type { Schemas } from '../api/client';
import { day, zoneWords } from './dates';

type Holiday = Schemas['Holiday'];

/** Why few are there to see what begins at an instant: "a Friday", "Quay Day, a holiday", "the day before Quay Day, a holiday". */
export function fewThereWords({ when, holiday }: Schemas['FewThere'], at: string | Date, zone = 'Z'): string {
  if (holiday !== undefined) {
    return `${when === 'BEFORE_HOLIDAY' ? 'the day before ' : ''}${holiday}, a holiday`;
  }
  return `a ${new Date(at).toLocaleDateString('en-GB', { weekday: 'long', timeZone: zoneWords(zone) })}`;
}

/** "Quay Day Fri 18 Dec", "Midwinter Fri 25 Dec to Sat 26 Dec". */
export function holidayWords({ first, last, name }: Holiday, now: Date): string {
  const on = (iso: string) => day(`${iso}T12:00:00Z`, now);
  return `${name} ${on(first)}${last === first ? '' : ` to ${on(last)}`}`;
}
