import type { Schemas } from '../api/client';
import { count, dayTime, soon } from './dates';

type Suggestion = Schemas['SuggestionView'];
type Flip = Schemas['FlipView'];

/** Points with as many digits as matter: "633", "7.9", "0.12". */
export function points(value: number): string {
  if (value === 0) {
    return '0';
  }
  if (value < 0.001) {
    return '<0.001';
  }
  if (value >= 100) {
    return Math.round(value).toLocaleString('en-GB');
  }
  return value >= 10 ? value.toFixed(1) : value >= 0.095 ? value.toFixed(2) : value.toPrecision(1);
}

/** "as bad as losing 6 tier-1 hosts". */
export function inHosts(value: number, weights: number[]): string {
  const tier = weights.findIndex((weight) => weight > 0 && value / weight >= 1);
  if (tier < 0) {
    return 'less than losing one tier-4 host';
  }
  const hosts = Math.round(value / (weights[tier] ?? 1));
  return `as bad as losing ${count(hosts, `tier-${tier + 1} host`)}`;
}

export function percent(rate: number): string {
  const hundred = rate * 100;
  if (hundred > 0 && hundred < 0.01) {
    return '<0.01 %';
  }
  return `${hundred >= 10 || hundred === 0 ? hundred.toFixed(0) : hundred >= 1 ? hundred.toFixed(1) : hundred.toPrecision(2)} %`;
}

const TYPES: Record<Suggestion['type'], string> = {
  NONE: 'nothing: no host lacks it',
  WITHDRAWN: 'nothing: its vendor withdrew it',
  NOTHING_TO_INSTALL: 'nothing: no fixed version is known',
  CARRY_OVER: 'carry the block over',
  FORCE: 'force',
  BLOCK: 'block',
  PILOT: 'pilot',
  LET_GO: 'let it go now',
  LEAVE_TO_RULE: 'leave to the rule',
};

/** False where there is nothing that could be suggested. */
export const isSuggestion = (type: Suggestion['type'] = 'NONE') => !['NONE', 'WITHDRAWN', 'NOTHING_TO_INSTALL'].includes(type);

/** True where leaving it to the rule goes against what the numbers speak for. */
export const speaksAgainstTheRule = (type: Suggestion['type'] = 'NONE') => isSuggestion(type) && type !== 'LEAVE_TO_RULE';

/** What can be suggested, in the order in which it is asked for. */
export const SUGGESTIONS = ['CARRY_OVER', 'FORCE', 'BLOCK', 'PILOT', 'LET_GO', 'LEAVE_TO_RULE'] as const;

export const suggestionWord = (type: Suggestion['type']) => TYPES[type];

/** "block where reader = R2; the rest: let it go now". */
export function suggestionWords(suggestion: Suggestion): string {
  const where = suggestion.where.length === 0 ? '' : ` where ${suggestion.where.join(', or ')}`;
  return `${TYPES[suggestion.type]}${where}${suggestion.rest === undefined ? '' : `; the rest: ${TYPES[suggestion.rest]}`}`;
}

/** The same in few words, without the rest. */
export const briefSuggestion = ({ type, where }: Suggestion) => suggestionWords({ type, where });

/** "2 more failures → block"; only of the rest where the block stays the same. */
export function flipWords(flip: Flip, now: Suggestion): string {
  const sameBlock =
    flip.suggestion.where.length > 0 && flip.suggestion.type === now.type && flip.suggestion.where.join() === now.where.join();
  const then =
    sameBlock && flip.suggestion.rest !== undefined ? `the rest: ${TYPES[flip.suggestion.rest]}` : suggestionWords(flip.suggestion);
  return `${inputWords(flip)} → ${then}`;
}

function inputWords({ input, value }: Flip): string {
  switch (input) {
    case 'FAILURES':
      return count(value, 'more failure');
    case 'CLEAN_TRIES':
      return count(value, 'more clean try', 'more clean tries');
    case 'PROBABILITY':
      return `exploit probability ${value.toFixed(3)}`;
    case 'KNOWN_EXPLOITED':
      return value === 1 ? 'known to be exploited' : 'not known to be exploited';
    default:
      return `${value} times the hosts`;
  }
}

/** "reader = R2", "tried only between Tue 24 Nov 08:00 and 14:00": what failing hosts share. */
export function sharedWords(shared: Schemas['SharedView'], now: Date): string {
  const { where, after, until } = shared;
  const tried =
    after !== undefined && until !== undefined
      ? `tried only between ${dayTime(after, now)} and ${dayTime(until, now)}`
      : after !== undefined
        ? `tried only since ${soon(after, now)}`
        : until !== undefined
          ? `tried only until ${soon(until, now)}`
          : undefined;
  return [where, tried].filter((part) => part !== undefined).join(', ');
}

const CLASSES = { REFUSED: 'refused', DEGRADED: 'degraded', DOWN: 'down' } as const;

export const classWord = (failureClass: keyof typeof CLASSES) => CLASSES[failureClass];

const HARMS = {
  KNOWN_ISSUE: 'an open known issue touches hosts here',
  FAILURES_ABOVE_USUAL: 'it fails more than twice as often as usual',
  HOSTS_DOWN: 'hosts went down',
  HOSTS_DOWN_ELSEWHERE: 'hosts went down elsewhere, and few here have tried it',
} as const;

export const harmWords = (harm: keyof typeof HARMS) => HARMS[harm];
