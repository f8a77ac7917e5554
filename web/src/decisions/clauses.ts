import type { Schemas } from '../api/client';
import type { Changes } from '../frame/useAddress';

/** What of an address belongs to one answer of a sentence. */
const PARTS = [
  'verdict',
  'for',
  'where',
  'until',
  'over',
  'size',
  'soak',
  'limit',
  'tier1',
  'signed',
  'not',
  'met',
  'within',
  'away',
  'outside',
  'parts',
  'apart',
  'move',
  'who',
  'steps',
  'order',
  'remove',
] as const;

/** An answer of a sentence, as the address says it. */
export type Clause = Partial<Record<(typeof PARTS)[number], string>>;

const MOST = 20;

/** The answer that is being worded. */
export function clauseIn(search: URLSearchParams): Clause {
  return Object.fromEntries(PARTS.filter((name) => search.has(name)).map((name) => [name, search.get(name)]));
}

/** The answers of the sentence that are worded already; what cannot be read is none. */
export function wordedIn(search: URLSearchParams): Clause[] {
  try {
    const also: unknown = JSON.parse(search.get('also') ?? '[]');
    return Array.isArray(also)
      ? also
          .slice(0, MOST)
          .map((one: object) =>
            Object.fromEntries(Object.entries(one).filter(([name, value]) => PARTS.includes(name as never) && typeof value === 'string')),
          )
      : [];
  } catch {
    return [];
  }
}

const alsoOf = (clauses: Clause[]) => (clauses.length === 0 ? undefined : JSON.stringify(clauses));

/** What makes this answer the one that is being worded. */
export const onlyThis = (clause: Clause): Changes => Object.fromEntries(PARTS.map((name) => [name, clause[name]]));

export const populationsOf = (clause: Clause): string[] => clause.for?.split(',').filter((part) => part !== '' && part !== '-') ?? [];

/** The populations that lack it and have no answer for all of their hosts yet. */
export function others(page: Schemas['CaseView'], clauses: Clause[]): string[] {
  const answered = clauses.filter((clause) => (clause.where ?? '').trim() === '').flatMap(populationsOf);
  return page.populations.filter((row) => row.lacking > 0 && !answered.includes(row.id)).map((row) => row.id);
}

/** Keeps the answer that is worded, and begins the next one for the others. */
export function andAlso(page: Schemas['CaseView'], search: URLSearchParams, verdict: string): Changes {
  const clauses = [...wordedIn(search), clauseIn(search)];
  return { ...onlyThis({ verdict, for: others(page, clauses).join(',') || '-' }), also: alsoOf(clauses) };
}

/** Takes an answer up again; the one that is being worded is kept in its place. */
export function takeUp(search: URLSearchParams, place: number): Changes {
  const clauses = wordedIn(search);
  const chosen = clauses[place];
  return chosen === undefined
    ? {}
    : { ...onlyThis(chosen), also: alsoOf(clauses.map((one, at) => (at === place ? clauseIn(search) : one))) };
}

export function leaveOut(search: URLSearchParams, place: number): Changes {
  return { also: alsoOf(wordedIn(search).filter((_, at) => at !== place)) };
}

/** Leaves out the answer that is being worded, and takes up the one before it. */
export function dropThis(search: URLSearchParams): Changes {
  const clauses = wordedIn(search);
  return { ...onlyThis(clauses.at(-1) ?? {}), also: alsoOf(clauses.slice(0, -1)) };
}

/** Hosts that are to be in another part than the one they were drawn into. */
export const movedIn = (clause: Clause): Schemas['Moved'][] =>
  (clause.move ?? '')
    .split(',')
    .filter(Boolean)
    .map((one) => ({ host: one.slice(0, one.lastIndexOf(':')), part: Number(one.slice(one.lastIndexOf(':') + 1)) }));

/** With a host in another part. */
export const moving = (clause: Clause, host: string, part: number): Changes => ({
  move: [...movedIn(clause).filter((one) => one.host !== host), { host, part }].map((one) => `${one.host}:${one.part}`).join(','),
});

/** An answer as the address says it. */
export function clauseOf(answer: Schemas['AnswerDraft']): Clause {
  const over = [
    ...answer.overrides.map((number) => `v${number}`),
    ...answer.overriddenExceptions.map((number) => `e${number}`),
    ...answer.overriddenFreezes.map((number) => `f${number}`),
  ];
  const parts: Record<string, string | undefined> = {
    verdict: answer.type,
    for: answer.populations.join(','),
    where: answer.where || undefined,
    until: answer.until,
    over: over.join(',') || undefined,
    size: answer.pilot?.size?.toString(),
    soak: answer.pilot?.soakDays?.toString(),
    limit: answer.pilot?.limit === undefined ? undefined : String(100 * answer.pilot.limit),
    tier1: answer.pilot?.alsoTier1 ? 'yes' : undefined,
    signed: answer.pilot?.departments.join(',') || undefined,
    met: answer.pilot?.onceMet,
    within: answer.pilot?.onceMetDays?.toString(),
    away: answer.allowanceDays?.toString(),
    outside: answer.outsideWindows ? 'yes' : undefined,
    parts: answer.spread?.parts.toString(),
    apart: answer.spread?.daysApart.toString(),
    move: answer.spread?.moved.map((one) => `${one.host}:${one.part}`).join(',') || undefined,
    who: answer.byOperator === undefined ? undefined : 'operator',
    steps: answer.byOperator?.checklist.join('\n') || undefined,
    order: answer.byOperator?.order.join(',') || undefined,
    remove: answer.removes ? 'yes' : undefined,
  };
  return Object.fromEntries(Object.entries(parts).filter(([, value]) => value !== undefined)) as Clause;
}
