import type { Schemas } from '../api/client';
import { count, day, lastDay, span } from './dates';
import { type MarkName, ruleMatchWords } from './sentences';

export type ExceptionRow = Schemas['ExceptionRow'];

export const EFFECTS: Record<ExceptionRow['effect'], string> = {
  WITHHELD: 'Withhold',
  OFFERED: 'Offer',
  BY_OPERATOR: 'Leave to the operator',
  NOTHING_TO_DO: 'Leave',
  REMOVE: 'Remove',
};

/** "Withhold". */
export const effectWord = (row: ExceptionRow) => EFFECTS[row.effect];

/** "libtls", "every update of kind driver": what it is about, without its update's name. */
export function aboutWords(row: Pick<ExceptionRow, 'update' | 'title' | 'about'>): string {
  if (row.update !== undefined) {
    return row.title || row.about;
  }
  return row.about.startsWith('kind ') ? `every update of ${row.about}` : `every update of ${row.about.split('/').pop()}`;
}

export const markOfException = (row: ExceptionRow): MarkName => (row.ended === undefined ? 'EXCEPTION' : 'RULE_WAITS');

/** How near its end is: "in 6 days", "ended 3 days ago". */
export function endWords(row: ExceptionRow, now: Date): string {
  if (row.ended !== undefined) {
    const ago = `${span(row.ended, now)} ago`;
    return row.state === 'CLOSED' ? `taken back ${ago}` : row.end < row.until ? `ended early, ${ago}` : `lapsed ${ago}`;
  }
  return `in ${span(now.toISOString(), new Date(row.end))}`;
}

/** What else ends it: "or when a successor is released". */
export function earlyWords(row: ExceptionRow): string {
  return row.endsWhen === undefined
    ? ''
    : row.endsWhen.type === 'SUCCESSOR'
      ? 'or when a successor is released'
      : `or when the known issue ${row.endsWhen.issue} is fixed`;
}

/** What its end brings, or has brought, an update and an answer a line. */
export function thenLines(row: ExceptionRow, now: Date): string[] {
  if (row.state === 'CLOSED') {
    return ['what else holds'];
  }
  if (row.updates.length === 0) {
    return [row.ended === undefined ? 'nothing: none of its hosts lacks it now' : 'nothing: none of its hosts lacks it'];
  }
  return row.updates.flatMap((of) =>
    of.after.map((group) => {
      const never = group.match.effect === 'WITHHELD' && group.match.end === undefined && group.match.clause === 'STANDING_RULE';
      const words = never ? 'needs a verdict, the rule never offers it' : ruleMatchWords(group.match, now, row.timeZone);
      return `${row.update === undefined ? `${of.update}, ` : ''}${count(group.hosts.count, 'host')}: ${words}`;
    }),
  );
}

/** What asks somebody to do something about it, the most urgent first. */
export function asks(row: ExceptionRow, now: Date): string[] {
  const standing = row.ended === undefined;
  return [
    ...(row.exploitedSince.length > 0 ? [`${row.exploitedSince.join(', ')} known to be exploited since it was made`] : []),
    ...row.overriding.map(
      (force) =>
        `force no. ${force.number} on ${force.update} by ${force.author} goes over it, due ${lastDay(force.end, now, row.timeZone)}`,
    ),
    ...(standing && row.ownerLeft ? [`its owner, ${row.owner}, has left`] : []),
    ...(standing && row.renewedOften ? [`renewed ${row.renewals} times: is it still an exception?`] : []),
    ...(standing && row.hosts.count === 0 && row.overriding.length === 0 ? ['it does nothing any more: it can be ended'] : []),
    ...row.mostlyExcepted.map((name) => `more than half of ${name} is excepted from it`),
  ];
}

/** "certified for the old one, until Sun 6 Dec; then because …": how it went on. */
export function historyLines(row: ExceptionRow, now: Date): string[] {
  return row.history.map(
    (one, place) =>
      `${day(one.createdAt, now)}, ${becameWords(one, row.history[place - 1], row, now)}${one.takenBack ? ' (taken back)' : ''}`,
  );
}

/** "M. Aldane: until Sun 6 Dec, because …", "handed over to H. Marsh". */
function becameWords(
  one: ExceptionRow['history'][number],
  before: ExceptionRow['history'][number] | undefined,
  row: ExceptionRow,
  now: Date,
) {
  return before !== undefined && before.owner !== one.owner && before.until === one.until
    ? `handed over to ${one.owner}`
    : `${one.author}: until ${lastDay(one.until, now, row.timeZone)}, because ${one.reason}`;
}

/** Host-days as people say them: "84", "3.5", "less than one". */
export function hostDays(value: number): string {
  return value === 0 ? 'none' : value < 1 ? 'less than one' : value < 10 ? value.toFixed(1) : Math.round(value).toLocaleString('en-GB');
}
