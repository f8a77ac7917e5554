import type { Schemas } from '../api/client';

export type State = Schemas['CarrierHost']['state'];
export type StateCounts = Schemas['StateCounts'];

interface StateWords {
  value: State;
  /** Its count among the counts of a population. */
  count: keyof StateCounts;
  label: string;
  /** After a number: "12 carry it". */
  words: string;
  /** Its line of help. */
  term: 'carries' | 'restart outstanding' | 'claimed' | 'in part' | 'failed' | 'missing' | 'unknown' | 'not applicable';
}

/** How a host stands to an update, in the order in which the states are listed. */
export const STATES: StateWords[] = [
  { value: 'CARRIES', count: 'carries', label: 'carries', words: 'carry it', term: 'carries' },
  {
    value: 'RESTART_OUTSTANDING',
    count: 'restartOutstanding',
    label: 'restart outstanding',
    words: 'carry it, restart outstanding',
    term: 'restart outstanding',
  },
  { value: 'CLAIMED', count: 'claimed', label: 'not re-checked', words: 'told that they installed it', term: 'claimed' },
  { value: 'PARTLY', count: 'partly', label: 'carries in part', words: 'carry it in part', term: 'in part' },
  { value: 'FAILED', count: 'failed', label: 'failed', words: 'failed', term: 'failed' },
  { value: 'MISSING', count: 'missing', label: 'missing', words: 'lack it', term: 'missing' },
  { value: 'UNKNOWN', count: 'unknown', label: 'unknown', words: 'unknown', term: 'unknown' },
  { value: 'NOT_APPLICABLE', count: 'notApplicable', label: 'not applicable', words: 'not applicable', term: 'not applicable' },
];

export const stateWord = (state: State) => STATES.find((s) => s.value === state)?.label ?? state;

export const NO_HOSTS: StateCounts = {
  carries: 0,
  restartOutstanding: 0,
  claimed: 0,
  partly: 0,
  failed: 0,
  missing: 0,
  unknown: 0,
  notApplicable: 0,
};

/** Hosts to which the update applies. */
export const applicable = (counts: StateCounts) => STATES.reduce((sum, s) => sum + counts[s.count], 0) - counts.notApplicable;

/** The counts in words, those that are not 0. */
export function stateWords(counts: StateCounts): string {
  return STATES.filter((s) => counts[s.count] > 0)
    .map((s) => `${counts[s.count]} ${s.words}`)
    .join(', ');
}
