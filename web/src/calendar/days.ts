import type { Schemas } from '../api/client';
import { isoDay } from '../words/dates';

type InForceRow = Schemas['InForceRow'];

/** How many days the calendar shows, today first. */
export const DAYS = 35;

/** The lane of what is for no population alone: exceptions, and what is for all of them. */
export const ELSEWHERE = 'Everywhere';

/** What falls on one day of one lane. */
export interface Cell {
  rows: InForceRow[];
  /** What else ends there: "support of lantern-desktop 6 ends". */
  notes: string[];
  /** A freeze holds on that day. */
  frozen: boolean;
}

/** A day of one lane on which something ends that nobody decided here. */
export interface Note {
  lane: string;
  day: string;
  words: string;
}

/** Until when the releases are supported at which populations stay. */
export const supportEnds = (populations: Schemas['PopulationView'][]): Note[] =>
  populations.flatMap((one) =>
    one.staysAt.flatMap(({ product, release, supportEnds: day }) =>
      day === undefined ? [] : [{ lane: one.name, day, words: `support of ${product.replace(/^.*\//, '')} ${release} ends` }],
    ),
  );

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
  for (const { lane, day, words } of notes.filter((note) => days.includes(note.day))) {
    cell(lane, day).notes.push(words);
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
