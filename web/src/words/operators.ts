import type { Schemas } from '../api/client';
import { count, dayTime, lastDay, stretch } from './dates';

export type OperatorWork = Schemas['OperatorWorkView'];
export type HostWork = Schemas['HostWorkView'];

type Standing = HostWork['standing'];

/** In the order in which somebody should know of them. */
const STANDINGS: Standing[] = ['STILL_LACKS', 'SLOT_PAST', 'NO_SLOT', 'AGREED', 'SAID_DONE'];

/** True where it is not as it was asked for or said. */
export const isAmiss = ({ standing, late }: HostWork) => late || standing === 'SLOT_PAST' || standing === 'STILL_LACKS';

/** How far the operator is with one host, as far as that is known. */
export function standingWords({ standing, said, lastReport }: HostWork, now: Date, zone: string): string {
  const slot = said?.slot && stretch(said.slot.from, said.slot.until, now, zone);
  const done = said && dayTime(said.at, now, zone);
  switch (standing) {
    case 'AGREED':
      return `agreed for ${slot}`;
    case 'SLOT_PAST':
      return `the agreed slot is past: ${slot}`;
    case 'SAID_DONE':
      return `said to be done ${done}; no report since`;
    case 'STILL_LACKS':
      return `said to be done ${done}, and its report of ${dayTime(lastReport, now, zone)} lacks it`;
    default:
      return 'no slot yet';
  }
}

/** "1 lacks it though it was said to be done, 2 without a slot, 6 agreed, the first for Sun 13 Dec 02:00 to 05:00". */
export function tallyWords(hosts: HostWork[], now: Date, zone: string): string {
  const late = hosts.filter((host) => host.late).length;
  const tallies = STANDINGS.flatMap((standing) => {
    const some = hosts.filter((host) => host.standing === standing);
    return some.length === 0 ? [] : [`${some.length} ${tally(standing, some, now, zone)}`];
  });
  return [...(late === 0 ? [] : [`${late} past the day until which it is asked for`]), ...tallies].join(', ');
}

function tally(standing: Standing, hosts: HostWork[], now: Date, zone: string): string {
  switch (standing) {
    case 'STILL_LACKS':
      return `${hosts.length === 1 ? 'lacks' : 'lack'} it though it was said to be done`;
    case 'SLOT_PAST':
      return 'past the agreed slot';
    case 'SAID_DONE':
      return 'said to be done, not heard from since';
    case 'AGREED': {
      const first = hosts.flatMap((host) => host.said?.slot ?? []).sort((a, b) => a.from.localeCompare(b.from))[0];
      return `agreed${first === undefined ? '' : `, the first for ${stretch(first.from, first.until, now, zone)}`}`;
    }
    default:
      return 'without a slot';
  }
}

/** "asked for until Mon 14 Dec", "was asked for by Mon 14 Dec": a day on which nothing happens by itself. */
export function askedWords(hosts: HostWork[], now: Date, zone: string): string | undefined {
  const due = hosts.flatMap((host) => host.due ?? []).sort()[0];
  return due === undefined ? undefined : `${new Date(due) <= now ? 'was asked for by' : 'asked for until'} ${lastDay(due, now, zone)}`;
}

/** "2 updates on 12 hosts". */
export function workWords(all: OperatorWork[]): string {
  const updates = new Set(all.map((one) => one.update)).size;
  const hosts = new Set(all.flatMap((one) => one.hosts.map((host) => host.host))).size;
  return `${count(updates, 'update')} on ${count(hosts, 'host')}`;
}
