import type { Schemas } from '../api/client';
import { NO_HOSTS } from '../words/states';

/** A case for tests: one update, two populations that lack it and one that carries it. */
export const NOW = new Date('2026-11-24T05:00:00Z');

const waits: Schemas['FindingView'] = { clause: 'STANDING_RULE', answer: 'WITHHELD', end: '2026-11-26T00:36:00Z' };

export function hosts(...names: string[]): Schemas['HostList'] {
  return { count: names.length, names };
}

export function population(
  id: string,
  name: string,
  lacking: number,
  part: Partial<Schemas['PopulationRow']> = {},
): Schemas['PopulationRow'] {
  return {
    id,
    name,
    tier: 2,
    timeZone: 'Z',
    hosts: lacking + 3,
    states: { ...NO_HOSTS, carries: 3, missing: lacking },
    lacking,
    lackingUnknown: 0,
    holdings: lacking === 0 ? [] : [{ finding: waits, hosts: { count: lacking, names: [] } }],
    ...part,
  };
}

export function verdict(number: number, part: Partial<Schemas['VerdictView']> = {}): Schemas['VerdictView'] {
  return {
    number,
    type: 'BLOCK',
    population: 'kiosks',
    end: '2026-12-09T00:00:00Z',
    reasons: ['COMPATIBILITY'],
    words: 'printer',
    author: 'M. Aldane',
    handedDown: '2026-11-20T05:00:00Z',
    revision: '1',
    stands: true,
    ...part,
  };
}

export function caseView(part: Partial<Schemas['CaseView']> = {}): Schemas['CaseView'] {
  return {
    update: {
      id: 'LNT-1107',
      title: 'Lantern Desktop 6.0.1107',
      vendor: 'Lantern',
      summary: 'Closes a bypass.',
      kind: 'CUMULATIVE',
      revision: '1',
      published: '2026-11-12T00:36:00Z',
      revised: '2026-11-12T00:36:00Z',
      firstRead: '2026-11-12T05:36:00Z',
      rating: 'HIGH',
      vulnerabilities: [{ id: 'CVE-2026-9000001', title: '', baseScore: 7.4, exploitation: '' }],
      fixes: [
        {
          product: 'pkg:generic/lantern-desktop',
          distro: '',
          arch: '',
          affected: [{ introduced: '6.0', afterIntroduced: false, end: '6.0.1107', endIncluded: false }],
        },
      ],
      restart: 'HOST',
      supersedes: ['LNT-1101'],
      supersededBy: ['LNT-1114'],
      circular: [],
      statements: [],
      remedies: [],
      revisions: [{ revision: '1', revised: '2026-11-12T00:36:00Z', read: '2026-11-12T05:36:00Z', newFixes: true, words: '' }],
      platforms: ['Lantern Desktop 6'],
      references: [],
    },
    version: '"v1"',
    contains: [],
    cues: [{ type: 'NEW', raised: '2026-11-12T05:36:00Z' }],
    populations: [
      population('kiosks', 'Ticket kiosks', 5),
      population('tablets', 'Crew tablets', 2),
      population('bench', 'Proving bench', 0),
    ],
    verdicts: [],
    exceptions: [],
    answers: [],
    traits: [
      { name: 'reader', type: 'TEXT' },
      { name: 'spool_free_mb', type: 'NUMBER' },
    ],
    ...part,
  };
}

export function worded(part: Partial<Schemas['ConsequenceView']> = {}): Schemas['WordedView'] {
  return {
    population: 'kiosks',
    populationName: 'Ticket kiosks',
    end: '2026-12-09T00:00:00Z',
    consequence: {
      named: 8,
      carrying: hosts('k6', 'k7', 'k8'),
      notApplicable: 0,
      decided: hosts('k1', 'k2', 'k3', 'k4', 'k5'),
      before: [{ finding: waits, hosts: hosts('k1', 'k2', 'k3', 'k4', 'k5') }],
      claimed: [],
      unknown: hosts('k5'),
      ...part,
    },
  };
}
