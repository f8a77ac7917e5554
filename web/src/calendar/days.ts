import type { Schemas } from '../api/client';
import { count, isoDay, stretch } from '../words/dates';
import type { OperatorWork } from '../words/operators';
import { type MarkName, markOf } from '../words/sentences';

type InForceRow = Schemas['InForceRow'];

/** Decisions on one update that have an end, but for pilots, which are extended. */
export const isMovable = ({ kind, update }: InForceRow) =>
  update !== undefined && (kind === 'BLOCK' || kind === 'DEFER' || kind === 'FORCE');

/** Where what stands is worded anew, to end as it does or on another day. */
export function changeAddress({ update, number }: InForceRow, until?: string): string {
  const asked = new URLSearchParams({ change: String(number), ...(until === undefined ? {} : { until }) });
  return `/cases/${encodeURIComponent(update ?? '')}?${asked}`;
}

/** How many days the calendar shows, today first. */
export const DAYS = 35;

/** The lane of what is for no population alone: exceptions, and what is for all of them. */
export const ELSEWHERE = 'Everywhere';

/** What falls on one day of one lane. */
export interface Cell {
  rows: InForceRow[];
  /** What else ends or happens there. */
  notes: Note[];
  /** A freeze holds on that day. */
  frozen: boolean;
  /** Name of the holiday on that day. */
  holiday?: string;
}

/** A holiday of one lane. */
export interface HolidayThere {
  lane: string;
  day: string;
  name: string;
}

/** The holidays that are shown, day by day: of the populations for which they count, and of everybody. */
export function holidaysOf({ holidays, populations }: Schemas['LadderView'], now: Date): HolidayThere[] {
  const days = daysFrom(now);
  return holidays.flatMap((calendar) => {
    const some = populations.filter(({ id }) => calendar.populations.length === 0 || calendar.populations.includes(id));
    const lanes = [...some.map(({ name }) => name), ...(calendar.populations.length === 0 ? [ELSEWHERE] : [])];
    return calendar.days.flatMap(({ first, last, name }) =>
      days.filter((day) => day >= first && day <= last).flatMap((day) => lanes.map((lane) => ({ lane, day, name }))),
    );
  });
}

/** A day of one lane on which something ends or happens that is no end of a decision: "support of lantern-desktop 6 ends". */
export interface Note {
  lane: string;
  day: string;
  words: string;
  mark: MarkName;
  /** The place that tells more. */
  place?: 'Populations' | 'By operator';
  /** The cases that it is about, some of them where they are many. */
  cases?: { update: string; title: string; hosts: number }[];
  /** How many they are in all. */
  updates?: number;
}

const BY_RULE: Record<Schemas['RuleDayView']['what'], [string, string]> = {
  OFFERED: ['is offered by the rule', 'are offered by the rule'],
  OFFERED_TO_OPERATOR: ['is offered to operators by the rule', 'are offered to operators by the rule'],
  DUE: ['falls due by the rule', 'fall due by the rule'],
};

/** What the standing rules do by themselves, those of no lane elsewhere. */
export const ruleDays = (days: Schemas['RuleDayView'][], lanes: string[]): Note[] =>
  days.map(({ populationName, day, what, updates, first }) => {
    const known = lanes.includes(populationName);
    const words = `${count(updates, 'update')} ${BY_RULE[what][updates === 1 ? 0 : 1]}`;
    return {
      lane: known ? populationName : ELSEWHERE,
      day,
      words: known ? words : `${words}, ${populationName.toLowerCase()}`,
      mark: 'RULE',
      cases: first,
      updates,
    };
  });

/** Until when the releases are supported at which populations stay. */
export const supportEnds = (populations: Schemas['PopulationView'][]): Note[] =>
  populations.flatMap((one) =>
    one.staysAt.flatMap(({ product, release, supportEnds: day }) =>
      day === undefined
        ? []
        : [
            {
              lane: one.name,
              day,
              words: `support of ${product.replace(/^.*\//, '')} ${release} ends`,
              mark: 'RULE_WAITS' as const,
              place: 'Populations' as const,
            },
          ],
    ),
  );

/** The slots that operators have agreed, those of one stretch together; one that is past and not done stands on today. */
export function slotsOf(work: OperatorWork[], now: Date): Note[] {
  return work.flatMap(({ update, population: lane, zone, match, hosts }) => {
    const stretches = new Map<string, { from: string; until: string; hosts: number }>();
    for (const { standing, said } of hosts) {
      if (said?.slot !== undefined && (standing === 'AGREED' || standing === 'SLOT_PAST')) {
        const { from, until } = said.slot;
        const known = stretches.get(`${from} ${until}`);
        stretches.set(`${from} ${until}`, { from, until, hosts: (known?.hosts ?? 0) + 1 });
      }
    }
    return [...stretches.values()].map(({ from, until, hosts: some }) => {
      const past = new Date(until) <= now;
      const agreed = past ? 'whose slot is past' : 'as agreed';
      return {
        lane,
        day: past ? isoDay(now, 0) : isoDay(new Date(from), 0, zone),
        words: `${update} by operator on ${count(some, 'host')}, ${agreed}: ${stretch(from, until, now, zone)}`,
        mark: markOf(match),
        place: 'By operator' as const,
      };
    });
  });
}

/** The days that are shown, as "2026-12-14". */
export function daysFrom(now: Date): string[] {
  return Array.from({ length: DAYS }, (_, days) => isoDay(now, days));
}

/** The last day of something that ends at an instant, on the clock of its population; what is past due stands on today. */
export function dayOfEnd(row: InForceRow, now: Date, end = row.end): string {
  const last = isoDay(new Date(new Date(end).getTime() - 1), 0, row.timeZone);
  const today = isoDay(now, 0);
  return last < today ? today : last;
}

/** What comes in parts ends, or falls due, on several days. */
const daysOfEnds = (row: InForceRow, now: Date): string[] => [
  ...new Set([...(row.delivery?.ends ?? []), row.end].map((end) => dayOfEnd(row, now, end))),
];

/** What falls on the days of each lane. Whatever ends after the last day is counted in {@code later}. */
export function cellsOf(
  rows: InForceRow[],
  lanes: string[],
  now: Date,
  notes: Note[] = [],
  holidays: HolidayThere[] = [],
): { cells: Map<string, Map<string, Cell>>; later: number } {
  const days = daysFrom(now);
  const cells = new Map([...lanes, ELSEWHERE].map((lane) => [lane, new Map<string, Cell>()]));
  const cell = (lane: string, day: string): Cell => {
    const ofLane = cells.get(lane) ?? new Map<string, Cell>();
    const known = ofLane.get(day) ?? { rows: [], notes: [], frozen: false };
    ofLane.set(day, known);
    return known;
  };
  let later = 0;
  for (const note of notes.filter(({ day }) => days.includes(day))) {
    cell(note.lane, note.day).notes.push(note);
  }
  for (const { lane, day, name } of holidays) {
    cell(lane, day).holiday = name;
  }
  for (const row of rows) {
    const known = row.populations.filter((name) => cells.has(name));
    const ofAll = row.kind === 'FREEZE' && row.populations.length === 0;
    const where = ofAll ? [...lanes, ELSEWHERE] : known.length > 0 ? known : [ELSEWHERE];
    const end = dayOfEnd(row, now);
    if (end > (days[days.length - 1] ?? '')) {
      later++;
    }
    for (const lane of ofAll ? [ELSEWHERE] : where) {
      for (const one of daysOfEnds(row, now).filter((day) => days.includes(day))) {
        cell(lane, one).rows.push(row);
      }
    }
    if (row.kind === 'FREEZE') {
      const from = row.begins === undefined ? (days[0] ?? '') : isoDay(new Date(row.begins), 0, row.timeZone);
      for (const lane of where) {
        for (const day of days.filter((one) => one >= from && one <= end)) {
          cell(lane, day).frozen = true;
        }
      }
    }
  }
  return { cells, later };
}
