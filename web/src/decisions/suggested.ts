import type { Schemas } from '../api/client';
import type { Changes } from '../frame/useAddress';
import { isoDay } from '../words/dates';
import { type Clause, onlyThis } from './clauses';

type Suggestion = Schemas['SuggestionView'];

/** The answer that a suggestion stands for; none: it is left to the rule, or there is nothing to decide. */
function answerTo(type: Suggestion['type'] | undefined, now: Date): Clause | undefined {
  switch (type) {
    case 'BLOCK':
    case 'CARRY_OVER':
      return { verdict: 'BLOCK' };
    case 'FORCE':
    case 'PILOT':
      return { verdict: type };
    case 'LET_GO':
      return { verdict: 'DEFER', until: isoDay(now, 0) };
    default:
      return undefined;
  }
}

/**
 * What the numbers suggest, as answers to be looked at and changed: populations with the same suggestion share one. What holds back comes first.
 *
 * @returns none where everything is to be left to the rule
 */
export function suggestedClauses(page: Schemas['CaseView'], now: Date): Clause[] {
  const together = new Map<string, { clause: Clause; populations: string[] }>();
  const add = (clause: Clause | undefined, population: string) => {
    if (clause !== undefined) {
      const key = JSON.stringify(clause);
      const known = together.get(key) ?? { clause, populations: [] };
      known.populations.push(population);
      together.set(key, known);
    }
  };
  for (const { id, lacking, weighing } of page.populations) {
    const suggestion = weighing?.suggestion;
    if (lacking > 0 && suggestion !== undefined) {
      const where = suggestion.where.length > 1 ? suggestion.where.map((one) => `(${one})`).join(' or ') : suggestion.where[0];
      const answer = answerTo(suggestion.type, now);
      add(answer && (where === undefined ? answer : { ...answer, where }), id);
      add(answerTo(suggestion.rest, now), id);
    }
  }
  return [...together.values()]
    .map(({ clause, populations }) => ({ ...clause, for: populations.join(',') }))
    .sort((a, b) => Number(b.verdict === 'BLOCK') - Number(a.verdict === 'BLOCK'));
}

/** Words what is suggested; the last of its answers is the one to be changed first. */
export function wordingOf(clauses: Clause[]): Changes {
  const before = clauses.slice(0, -1);
  return {
    ...onlyThis(clauses.at(-1) ?? {}),
    also: before.length === 0 ? undefined : JSON.stringify(before),
    because: clauses[0]?.verdict === 'BLOCK' ? 'FAILURES_SEEN' : undefined,
    except: undefined,
  };
}
