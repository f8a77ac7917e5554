import type { Schemas } from '../api/client';
import { day } from '../words/dates';

type Row = Pick<Schemas['HostRow'], 'lastReport' | 'supply' | 'expectedSupply'>;
export type Difference = Schemas['DifferenceView'];
export type Way = Difference['way'];

/** The ways in which hosts differ, in the order in which they are listed, with the words of their choice. */
export const WAYS: { way: Way; label: string }[] = [
  { way: 'LACKS_FORCED', label: 'Lack what is forced' },
  { way: 'PAST_RULE_DUE', label: 'Past due by rule' },
  { way: 'NOT_OBEYING', label: 'Not as ordered' },
  { way: 'UNKNOWN', label: 'Unknown' },
  { way: 'LONG_SILENT', label: 'Silent 180 days' },
  { way: 'RESTART_OUTSTANDING', label: 'Restart outstanding' },
  { way: 'ANOTHER_SUPPLY', label: 'Another supply' },
  { way: 'IN_NO_POPULATION', label: 'In no population' },
];

/** How a host differs, as a sentence. */
export function differenceWords(difference: Difference, row: Row, now: Date): string {
  const updates = difference.updates.join(', ');
  switch (difference.way) {
    case 'LACKS_FORCED':
      return `Lacks ${updates}, which ${difference.updates.length === 1 ? 'is' : 'are'} forced.`;
    case 'PAST_RULE_DUE':
      return `Lacks ${updates}, past due by the rule of its population.`;
    case 'NOT_OBEYING':
      return 'It says that not everything is in force as ordered: why stands under its orders.';
    case 'LONG_SILENT':
      return 'Gone for good? Retire it on its page, so that it counts nowhere.';
    case 'RESTART_OUTSTANDING':
      return updates === '' ? 'It asks for a restart itself.' : `Restart outstanding for ${updates}.`;
    case 'ANOTHER_SUPPLY':
      return `Takes updates from ${row.supply ?? 'elsewhere'} instead of ${row.expectedSupply ?? 'where it should'}.`;
    case 'IN_NO_POPULATION':
      return 'In no population: the fleet’s rule holds for it.';
    default:
      return `Not heard from since ${day(row.lastReport, now)}.`;
  }
}

/** A build as the history names it: "pkg:deb/fathom/libtls for amd64" becomes "libtls". */
export function buildName(build: string): string {
  return (build.split(' ')[0] ?? build).replace(/^.*\//, '');
}

interface Dated {
  at: string;
  words: string;
}

const WHAT: Record<Schemas['Happened']['what'], string> = {
  OFFERED: 'was offered',
  DOWNLOADED: 'downloaded',
  INSTALLED: 'installed',
  FAILED: 'failed',
  REMOVED: 'removed',
  RESTARTED: 'restarted',
};

/** Everything that happened on a host, the newest first. */
export function history(host: Schemas['HostView']): Dated[] {
  const changes = host.changes.map((change) => {
    const name = buildName(change.build);
    const words =
      change.fromVersion === undefined
        ? `${name} ${change.toVersion} is new`
        : change.toVersion === undefined
          ? `${name} ${change.fromVersion} is gone`
          : `${name} from ${change.fromVersion} to ${change.toVersion}`;
    return { at: change.at, words: `Reported: ${words}.` };
  });
  const outcomes = host.outcomes.map((outcome) => {
    const failed = outcome.what === 'FAILED';
    const code = outcome.code === undefined ? '' : ` with ${outcome.code}`;
    const how = outcome.failureClass === undefined ? '' : `, ${outcome.failureClass.toLowerCase()}`;
    const words = failed ? `failed to install ${outcome.update}${code}${how}` : `${WHAT[outcome.what]} ${outcome.update}`;
    return { at: outcome.at, words: `Told: it ${words}.` };
  });
  const absences = host.absences.map((absence) => ({
    at: absence.to,
    words: `Heard from again after a silence since ${absence.from.slice(0, 10)}.`,
  }));
  return [...changes, ...outcomes, ...absences, { at: host.firstReport, words: 'First report.' }].sort((a, b) => b.at.localeCompare(a.at));
}
