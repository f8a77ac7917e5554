import type { Schemas } from '../api/client';
import type { Clause } from '../decisions/clauses';
import type { Changes } from '../frame/useAddress';
import { isoDay } from '../words/dates';

type Verdict = Schemas['VerdictView'];

/** Verdicts that were handed down as one sentence, together. */
export function sentences(verdicts: Verdict[]): Verdict[][] {
  const together = new Map<string, Verdict[]>();
  for (const verdict of verdicts) {
    const { number, population, ...same } = verdict;
    const key = JSON.stringify(same);
    together.set(key, [...(together.get(key) ?? []), verdict]);
  }
  return [...together.values()];
}

/** A pilot is extended or stopped where it is told how it goes; what was let go is done. */
export const isChangeable = (verdict: Verdict): boolean =>
  verdict.stands && verdict.type !== 'PILOT' && !(verdict.type === 'DEFER' && verdict.end <= verdict.createdAt);

const DAY = 86_400_000;

/** The last day of what ends at an instant. */
const lastDayOf = (end: string, zone: string) => isoDay(new Date(Date.parse(end) - 1), 0, zone);

/**
 * A verdict that stands, with those that were handed down with it, as a sentence that takes its place.
 *
 * @param until another day than its own
 */
export function changing(page: Schemas['CaseView'], number: number, until: string | null): Changes {
  const together = sentences(page.verdicts).find((some) => some.some((one) => one.number === number && isChangeable(one)));
  const [verdict] = together ?? [];
  if (together === undefined || verdict === undefined) {
    return { change: undefined, until: undefined };
  }
  const zone = page.populations.find((row) => row.id === verdict.population)?.timeZone ?? 'Z';
  const { ends, byOperator, allowanceDays, outsideWindows, removes } = verdict.delivery;
  const [first, second] = ends;
  const clause: Clause = {
    verdict: verdict.type,
    for: together.map((one) => one.population).join(','),
    where: verdict.where,
    until: until ?? lastDayOf(first ?? verdict.end, zone),
    away: allowanceDays > 0 ? String(allowanceDays) : undefined,
    outside: outsideWindows ? 'yes' : undefined,
    parts: first === undefined ? undefined : String(ends.length),
    apart: first !== undefined && second !== undefined ? String(Math.round((Date.parse(second) - Date.parse(first)) / DAY)) : undefined,
    who: byOperator === undefined ? undefined : 'operator',
    steps: byOperator?.checklist.join('\n') || undefined,
    order: byOperator?.order.join(',') || undefined,
    remove: removes ? 'yes' : undefined,
  };
  return {
    ...clause,
    because: verdict.reasons.join(',') || ' ',
    words: verdict.words || undefined,
    replaces: together.map((one) => one.number).join(','),
    change: undefined,
  };
}
