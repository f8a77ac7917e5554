import { useSyncExternalStore } from 'react';
import type { Schemas } from '../api/client';

/** The ladder as a document of the format populations-1; see docs/formats.md. */
export interface Ladder {
  format: 'populations-1';
  fleetRule: Rule;
  populations: Population[];
  holidays?: HolidayCalendar[];
}

/** Holidays of a place, and for which populations they count; none: for all. */
export interface HolidayCalendar {
  name: string;
  populations?: string[];
  days?: { day: string; until?: string; name: string }[];
}

export interface Population {
  id: string;
  name: string;
  condition: string;
  includes?: string[];
  excludes?: string[];
  tier: number;
  owner?: string;
  protected?: string[];
  timeZone?: string;
  supply?: string;
  checkInHours?: number;
  /** Such as "mon-fri 06:00-23:00", as are the windows. */
  busyHours?: string[];
  windows?: string[];
  dueHour?: string;
  allowanceDays?: number;
  start?: Start;
  earlyRestart?: false;
  /** Per cent of charge under which a host on battery waits; none: 40. */
  leastBattery?: number;
  /** Over a line that is paid by what goes over it too; none: hosts wait. */
  overPaidLine?: true;
  staysAt?: Target[];
  rule: Rule;
}

/** A release of a platform that a population stays at. */
export interface Target {
  product: string;
  release: string;
  supportEnds?: string;
}

/** Per cent of charge that is asked for on battery where nothing else is said. */
export const USUAL_LEAST_BATTERY = 40;

/** How an offered update begins; none: by itself. */
export type Start = 'by person' | 'at shutdown' | 'by operator';

/** Days from publication to the offer. */
export type Offer = number | 'never';

export interface RuleLine {
  kinds?: string[];
  ratings?: string[];
  offerAfterDays: Offer;
  /** From the offer; none: never due. */
  dueAfterDays?: number;
  /** Condition: the line is for these hosts only. */
  where?: string;
  /** The days count from when the tries of this population have shown enough. */
  afterTriesOf?: string;
  /** From publication, after which it is offered although they have not. */
  latestAfterDays?: number;
}

export interface Rule {
  lines?: RuleLine[];
  otherwise: Offer;
  otherwiseDueAfterDays?: number;
}

const STARTS: Record<Exclude<Schemas['TimingView']['start'], 'BY_ITSELF'>, Start> = {
  BY_PERSON: 'by person',
  AT_SHUTDOWN: 'at shutdown',
  BY_OPERATOR: 'by operator',
};

const offerOf = (days: number | undefined): Offer => days ?? 'never';

export function ruleOf(view: Schemas['RuleView']): Rule {
  return {
    lines: view.lines.map((line) => ({
      kinds: line.kinds.map((kind) => kind.toLowerCase()),
      ratings: line.ratings.map((rating) => rating.toLowerCase()),
      offerAfterDays: offerOf(line.delayDays),
      dueAfterDays: line.dueDays,
      where: line.where,
      afterTriesOf: line.afterTriesOf,
      latestAfterDays: line.latestDays,
    })),
    otherwise: offerOf(view.otherwiseDays),
    otherwiseDueAfterDays: view.otherwiseDueDays,
  };
}

export function ladderOf(view: Schemas['LadderView']): Ladder {
  return {
    format: 'populations-1',
    fleetRule: ruleOf(view.fleetRule),
    populations: view.populations.map((p) => ({
      id: p.id,
      name: p.name,
      condition: p.condition,
      includes: p.includes,
      excludes: p.excludes,
      tier: p.tier,
      owner: p.owner,
      protected: p.protectedHosts,
      timeZone: p.timeZone === 'Z' ? undefined : p.timeZone,
      supply: p.supply,
      checkInHours: p.checkInHours,
      busyHours: p.timing.busyHours,
      windows: p.timing.windows,
      dueHour: p.timing.dueHour?.slice(0, 5),
      allowanceDays: p.timing.allowanceDays === 0 ? undefined : p.timing.allowanceDays,
      start: p.timing.start === 'BY_ITSELF' ? undefined : STARTS[p.timing.start],
      earlyRestart: p.timing.earlyRestart ? undefined : false,
      leastBattery: p.timing.leastBattery === USUAL_LEAST_BATTERY ? undefined : p.timing.leastBattery,
      overPaidLine: p.timing.overPaidLine ? true : undefined,
      staysAt: p.staysAt.map(({ product, release, supportEnds }) => ({ product, release, supportEnds })),
      rule: ruleOf(p.rule),
    })),
    holidays: view.holidays.map(({ name, populations, days }) => ({ name, populations, days: days.map(worded) })),
  };
}

/** A holiday as it stands in the document. */
export const worded = ({ first, last, name }: Schemas['Holiday']) => ({ day: first, until: last === first ? undefined : last, name });

/** The same holidays with those of a file: in the calendar of that name, or in a new one. */
export function withRead(ladder: Ladder, name: string, days: Schemas['Holiday'][]): Ladder {
  const known = ladder.holidays ?? [];
  const at = known.findIndex((calendar) => calendar.name === name);
  const before = known[at]?.days ?? [];
  const fresh = days.map(worded).filter((one) => !before.some((other) => other.day === one.day && other.name === one.name));
  const calendar = { ...known[at], name, days: [...before, ...fresh].sort((a, b) => a.day.localeCompare(b.day)) };
  return { ...ladder, holidays: at < 0 ? [...known, calendar] : known.map((other, place) => (place === at ? calendar : other)) };
}

/** What is still to be worded before the server can be asked. */
export function unfinished(
  ladder: Ladder,
): { index: number; field: 'name' | 'condition' | 'staysAt' | 'holidays'; words: string } | undefined {
  for (const [index, p] of ladder.populations.entries()) {
    if (p.name.trim() === '') {
      return { index, field: 'name', words: 'Give every population a name.' };
    }
    if (p.condition.trim() === '') {
      return { index, field: 'condition', words: `Which hosts belong to ${p.name}? Word its condition.` };
    }
    if (p.staysAt?.some((target) => target.release.trim() === '')) {
      return { index, field: 'staysAt', words: `At which release does ${p.name} stay?` };
    }
  }
  for (const calendar of ladder.holidays ?? []) {
    if (calendar.name.trim() === '') {
      return { index: -1, field: 'holidays', words: 'Give every calendar of holidays a name.' };
    }
    if (calendar.days?.some((holiday) => holiday.name.trim() === '')) {
      return { index: -1, field: 'holidays', words: `Give every holiday of ${calendar.name} a name.` };
    }
  }
  return undefined;
}

/** The document to send: what is empty is left out. */
export function documentOf(ladder: Ladder): string {
  return JSON.stringify(ladder, (_, value) => (value === '' || (Array.isArray(value) && value.length === 0) ? undefined : value));
}

export function changedAt(ladder: Ladder, index: number, part: Partial<Population>): Ladder {
  return { ...ladder, populations: ladder.populations.map((p, i) => (i === index ? { ...p, ...part } : p)) };
}

/** The population one place up or down; the same ladder if it stands at that end. */
export function movedBy(ladder: Ladder, index: number, by: 1 | -1): Ladder {
  const populations = [...ladder.populations];
  const [moved] = populations.splice(index, 1);
  if (moved === undefined || index + by < 0 || index + by > populations.length) {
    return ladder;
  }
  populations.splice(index + by, 0, moved);
  return { ...ladder, populations };
}

/** Without a population, and without the holidays that count for it alone: as those of nobody they would be everybody's. */
export function without(ladder: Ladder, index: number): Ladder {
  const gone = ladder.populations[index]?.id;
  const holidays = ladder.holidays
    ?.filter(({ populations }) => populations?.length !== 1 || populations[0] !== gone)
    .map((calendar) => ({ ...calendar, populations: calendar.populations?.filter((id) => id !== gone) }));
  return { ...ladder, populations: ladder.populations.filter((_, i) => i !== index), holidays };
}

/** With a new population below {@code index}, which owns nobody until its condition is worded. */
export function withNew(ladder: Ladder, index: number): Ladder {
  let number = ladder.populations.length + 1;
  while (ladder.populations.some((p) => p.id === `population-${number}` || p.name === `Population ${number}`)) {
    number++;
  }
  const fresh: Population = {
    id: `population-${number}`,
    name: `Population ${number}`,
    condition: '',
    tier: 3,
    rule: { otherwise: 'never' },
  };
  const populations = [...ladder.populations];
  populations.splice(index + 1, 0, fresh);
  return { ...ladder, populations };
}

/** A ladder that is being worded, and the version of the one from which it was made. */
export interface Draft {
  base: string;
  ladder: Ladder;
  /** Number of the document on Intake that proposed it. */
  proposal?: number;
}

const KEY = 'lucid.ladder-draft';
const listeners = new Set<() => void>();

/** The draft of this tab; it outlives a reload, so that nothing worded is lost. */
export function useDraft(): Draft | undefined {
  const text = useSyncExternalStore(
    (listener) => {
      listeners.add(listener);
      return () => listeners.delete(listener);
    },
    () => sessionStorage.getItem(KEY),
  );
  return text === null ? undefined : (JSON.parse(text) as Draft);
}

export function keepDraft(draft: Draft | undefined) {
  if (draft === undefined) {
    sessionStorage.removeItem(KEY);
  } else {
    sessionStorage.setItem(KEY, JSON.stringify(draft));
  }
  for (const listener of listeners) {
    listener();
  }
}

/** "A security update rated Critical or High is offered 7 days after publication; every other one after 14 days." */
export function ruleWords(rule: Rule, nameOf: (population: string) => string = (id) => id): string {
  const days = (number: number) => `${number} ${number === 1 ? 'day' : 'days'}`;
  const after = (offer: Offer, due: number | undefined) =>
    offer === 'never'
      ? 'is never offered without a verdict'
      : `is offered ${offer === 0 ? 'at once' : `${days(offer)} after publication`}${due === undefined ? '' : ` and due ${due === 0 ? 'then' : `${days(due)} later`}`}`;
  const list = (words: string[]) => words.join(' or ');
  const capital = (word: string) => `${word.charAt(0).toUpperCase()}${word.slice(1)}`;
  const lines = (rule.lines ?? []).map((line) => {
    const kinds = line.kinds ?? [];
    const ratings = line.ratings ?? [];
    const kind =
      kinds.length === 0 ? 'update' : kinds.length === 1 && kinds[0] === 'upgrade' ? 'platform upgrade' : `${list(kinds)} update`;
    const rated = ratings.length === 0 ? '' : ` rated ${list(ratings.map(capital))}`;
    const article = /^[aeiou]/.test(kind) ? 'an' : 'a';
    const where = (line.where ?? '').trim() === '' ? '' : `, where ${line.where},`;
    const waits =
      line.afterTriesOf === undefined || line.offerAfterDays === 'never'
        ? after(line.offerAfterDays, line.dueAfterDays)
        : `is offered ${line.offerAfterDays === 0 ? 'as soon as' : `${days(line.offerAfterDays)} after`} the tries of ${nameOf(line.afterTriesOf)} have shown enough, at the latest ${days(line.latestAfterDays ?? 0)} after publication${line.dueAfterDays === undefined ? '' : `, and due ${days(line.dueAfterDays)} later`}`;
    return `${article} ${kind}${rated}${where} ${waits}`;
  });
  return `${capital([...lines, `${lines.length === 0 ? 'an update' : 'every other one'} ${after(rule.otherwise, rule.otherwiseDueAfterDays)}`].join('; '))}.`;
}

/** Whether it is said when its hosts may be disturbed. */
export const hasHours = (p: Population) => (p.busyHours?.length ?? 0) + (p.windows?.length ?? 0) > 0;

/** "Nothing is installed or restarted in busy hours (mon-fri 06:00-23:00) before it is due." */
export function timingWords(p: Population): string {
  const parts = [];
  if ((p.windows?.length ?? 0) > 0) {
    parts.push(`Installs and restarts only in its windows (${p.windows?.join('; ')}), also past due`);
  } else if ((p.busyHours?.length ?? 0) > 0) {
    parts.push(`Nothing is installed or restarted in busy hours (${p.busyHours?.join('; ')}) before it is due`);
  } else {
    parts.push('Installs and restarts at any hour');
  }
  if (p.start !== undefined) {
    parts.push(
      {
        'by person': 'whoever uses a host may start it until it is due',
        'at shutdown': 'begins as a host is shut down, and when it is due',
        'by operator': 'an operator begins it, never the host by itself',
      }[p.start],
    );
  }
  if (p.earlyRestart === false) {
    parts.push('restarts only when it is due');
  }
  if (p.leastBattery !== undefined) {
    parts.push(p.leastBattery === 0 ? 'installs on battery however far it is charged' : `waits on battery under ${p.leastBattery} %`);
  }
  if (p.overPaidLine) {
    parts.push('goes on over a paid line');
  }
  if (p.dueHour !== undefined) {
    parts.push(`falls due at ${p.dueHour}`);
  }
  if (p.allowanceDays !== undefined && p.allowanceDays > 0) {
    parts.push(`a host that was away has ${p.allowanceDays} ${p.allowanceDays === 1 ? 'day' : 'days'} after its return`);
  }
  return `${parts.join('; ')}.`;
}
