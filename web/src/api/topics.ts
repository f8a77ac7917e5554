/** What a change was about, as the server tells it. */
export type Topic = 'UPDATES' | 'HOSTS' | 'POPULATIONS' | 'DECISIONS' | 'EVIDENCE' | 'WEIGHTS' | 'RECORD';

const FLEET: Topic[] = ['UPDATES', 'HOSTS', 'POPULATIONS'];
const RULED: Topic[] = [...FLEET, 'DECISIONS'];
const JUDGED: Topic[] = [...RULED, 'EVIDENCE', 'WEIGHTS'];

/** What each question hangs on, by the first part of its key. What stands nowhere here is stored beside the snapshot, and hangs on the record. */
const QUESTIONS: Record<string, Topic[]> = {
  asks: ['HOSTS', 'RECORD'],
  docket: JUDGED,
  case: JUDGED,
  ruling: RULED,
  'in force': RULED,
  'by rule': RULED,
  exceptions: [...RULED, 'EVIDENCE', 'WEIGHTS', 'RECORD'],
  'asking exceptions': ['DECISIONS', 'RECORD'],
  'proposed exceptions': ['UPDATES', 'RECORD'],
  responsibilities: ['DECISIONS', 'POPULATIONS', 'EVIDENCE', 'RECORD'],
  objection: [...RULED, 'EVIDENCE'],
  freezes: ['DECISIONS', 'POPULATIONS'],
  cautions: ['DECISIONS'],
  'not obeyed': [...RULED, 'RECORD'],
  'operator work': [...RULED, 'RECORD'],
  pilots: [...RULED, 'EVIDENCE'],
  pilot: [...RULED, 'EVIDENCE'],
  hosts: RULED,
  host: RULED,
  'host updates': RULED,
  carriers: [...RULED, 'EVIDENCE'],
  digest: [...JUDGED, 'RECORD'],
  report: JUDGED,
  sheet: JUDGED,
  'carrier days': ['UPDATES'],
  'carrier changes': ['UPDATES', 'POPULATIONS'],
  'carriers of': FLEET,
  'carrier hosts': FLEET,
  'past carriers': FLEET,
  search: FLEET,
  sources: FLEET,
  populations: ['HOSTS', 'POPULATIONS'],
  'ladder versions': ['POPULATIONS'],
  weights: ['WEIGHTS'],
  'unread products': ['UPDATES', 'HOSTS'],
};

/** The key of a preview begins so: it is asked for as something is worded, and never again by itself. */
export const PREVIEW = 'preview';

/**
 * True if the answer to a question may be another after a change.
 *
 * @param topics none: anything may have changed
 */
export function mayHaveChanged(key: readonly unknown[], topics?: readonly Topic[]): boolean {
  const question = String(key[0]);
  return question !== PREVIEW && (topics === undefined || (QUESTIONS[question] ?? ['RECORD']).some((topic) => topics.includes(topic)));
}
