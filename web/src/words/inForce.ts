import type { Schemas } from '../api/client';
import { deliveredWords } from './answers';
import { dayTime } from './dates';
import { type MarkName, ruleMatchWords } from './sentences';

type InForceRow = Schemas['InForceRow'];

/** "blocked", and for whom. */
export function whatWords(row: Pick<InForceRow, 'kind' | 'number' | 'populations' | 'where' | 'begins' | 'delivery'>, now: Date): string {
  const populations = row.populations.join(', ');
  const where = row.where === undefined ? '' : ` where ${row.where}`;
  const how = deliveredWords(row.delivery);
  switch (row.kind) {
    case 'BLOCK':
      return `blocked for ${populations}${where}${how}`;
    case 'DEFER':
      return `deferred for ${populations}${where}${how}`;
    case 'PILOT':
      return `piloted for ${populations}${where}`;
    case 'FORCE':
      return `forced for ${populations}${where}${how}`;
    case 'FREEZE':
      return `frozen${row.begins === undefined ? '' : ` from ${dayTime(row.begins, now)}`}: ${populations || 'everything'}`;
    case 'CAUTION':
      return 'for what nobody has judged, in all populations';
    case 'EXCEPTION':
      return `exception no. ${row.number}${where}`;
    default:
      return `left to a rule that never offers it, for ${populations}`;
  }
}

/** What the end brings, for most of its hosts. */
export function thenWords(row: InForceRow, now: Date): string {
  if (row.kind === 'FORCE') {
    return row.overdue ? 'overdue until they carry it' : 'stands until they carry it';
  }
  if (row.kind === 'LOOK_AGAIN') {
    return 'comes back to be judged';
  }
  if (row.kind === 'FREEZE') {
    return 'everything goes on';
  }
  if (row.kind === 'CAUTION') {
    return 'standing rules offer as they say';
  }
  const [most] = row.then;
  if (row.update === undefined || most === undefined) {
    return row.update === undefined ? 'what else holds of each update' : '';
  }
  // Its own offer, which begins when it ends: that it has ended is not so yet.
  if (row.kind === 'DEFER' && most.match.source === row.number && most.match.clause === 'VERDICT') {
    return row.then.length > 1 ? `${most.hosts.count}: offered, and others` : 'offered';
  }
  const never = most.match.effect === 'WITHHELD' && most.match.end === undefined;
  const words =
    never && most.match.clause === 'STANDING_RULE'
      ? 'needs a verdict: the rule never offers it'
      : never && most.match.clause === 'TARGET_RELEASE'
        ? 'needs a verdict: it stays at its release'
        : ruleMatchWords(most.match, now, row.timeZone);
  return row.then.length > 1 ? `${most.hosts.count}: ${words}, and others` : words;
}

/** The mark of a decision. */
export const markOfRow = (row: Pick<InForceRow, 'kind'>): MarkName =>
  row.kind === 'LOOK_AGAIN' || row.kind === 'CAUTION' ? 'RULE_WAITS' : row.kind;
