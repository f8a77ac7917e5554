import type { Schemas } from '../api/client';
import { NO_HOSTS } from '../words/states';

/** A case for tests: one update, two populations that lack it and one that carries it. */
export const NOW = new Date('2026-11-24T05:00:00Z');

const waits: Schemas['RuleMatchView'] = { clause: 'STANDING_RULE', effect: 'WITHHELD', end: '2026-11-26T00:36:00Z' };

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
    open: lacking,
    groups: lacking === 0 ? [] : [{ match: waits, hosts: { count: lacking, names: [] } }],
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
    createdAt: '2026-11-20T05:00:00Z',
    revision: '1',
    stands: true,
    delivery: { ends: [], allowanceDays: 0, outsideWindows: false, removes: false },
    ...part,
  };
}

const range = (middle: number) => ({ middle, low: middle / 2, high: middle * 2 });

const rate = (count: number, of: number) => ({ count, of, rate: of === 0 ? 0 : count / of, low: 0, high: 1 });

export function evidence(part: Partial<Schemas['EvidenceView']> = {}): Schemas['EvidenceView'] {
  return {
    vulnerabilities: [
      {
        id: 'CVE-2026-9000001',
        likelihood: 0.031,
        from: 'PROBABILITY',
        vector: 'LOCAL',
        vectorFactor: 0.5,
        base: 7.4,
        baseGiven: true,
        risk: 0.01147,
        exploitedWords: '',
        asked: '',
        ransomware: false,
        scores: [{ scored: '2026-11-24', probability: 0.031, percentile: 0.6, model: 'v1', read: '2026-11-24T04:00:00Z' }],
      },
    ],
    tries: {
      failed: rate(11, 200),
      waiting: hosts(),
      dismissed: hosts(),
      codes: [{ code: '0x1107-28', failureClass: 'REFUSED', rate: rate(11, 200), hosts: hosts('k1', 'k2') }],
      usualRate: 0.003,
      usualTries: 0,
      usualFailures: 0,
      aboveUsual: 0.99,
      days: [{ day: '2026-11-20', tried: 200, failed: 11 }],
    },
    causes: [
      {
        shared: { where: 'reader = R2 and spool_free_mb ≤ 297' },
        alike: [{ shared: { where: 'reader = R2 and site = s4' }, inside: rate(9, 13), outside: rate(2, 187), p: 4e-11, overlap: 0.92 }],
        code: '0x1107-28',
        inside: rate(9, 12),
        outside: rate(2, 188),
        p: 1e-11,
        adjusted: 1e-7,
        lacking: 23,
      },
    ],
    issues: [],
    reports: [],
    notes: [],
    caseNotes: [],
    notAffected: hosts(),
    dismissedFailures: [],
    removable: true,
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
          from: [],
          restart: 'HOST',
          affected: [{ introduced: '6.0', afterIntroduced: false, end: '6.0.1107', endIncluded: false }],
        },
      ],
      restart: 'HOST',
      supersedes: ['LNT-1101'],
      brings: [],
      broughtBy: [],
      supersededBy: ['LNT-1114'],
      circular: [],
      statements: [],
      remedies: [],
      revisions: [{ revision: '1', revised: '2026-11-12T00:36:00Z', read: '2026-11-12T05:36:00Z', newFixes: true, words: '' }],
      platforms: ['Lantern Desktop 6'],
      references: [],
      unread: [],
      notes: [],
    },
    version: '"v1"',
    contains: [],
    siblings: [],
    beam: { exposure: 2, hazard: range(4), usual: 1, others: 0, tilt: range(-0.7) },
    evidence: evidence(),
    cues: [{ type: 'NEW', raised: '2026-11-12T05:36:00Z', about: '', hosts: 0, open: 7 }],
    routine: false,
    populations: [
      population('kiosks', 'Ticket kiosks', 5),
      population('tablets', 'Crew tablets', 2),
      population('bench', 'Proving bench', 0),
    ],
    alike: [],
    verdicts: [],
    exceptions: [],
    acknowledgements: [],
    traits: [
      { name: 'reader', type: 'TEXT', values: [] },
      { name: 'spool_free_mb', type: 'NUMBER', values: [] },
    ],
    ...part,
  };
}

export function worded(part: Partial<Schemas['ConsequenceView']> = {}): Schemas['WordedView'] {
  return {
    answer: 0,
    grounds: [],
    parts: [],
    population: 'kiosks',
    populationName: 'Ticket kiosks',
    end: '2026-12-09T00:00:00Z',
    broughtForward: [],
    tooLate: { count: 0, names: [] },
    notOnSources: { count: 0, names: [] },
    prevented: [],
    consequence: {
      named: 8,
      carrying: hosts('k6', 'k7', 'k8'),
      notApplicable: 0,
      decided: hosts('k1', 'k2', 'k3', 'k4', 'k5'),
      before: [{ match: waits, hosts: hosts('k1', 'k2', 'k3', 'k4', 'k5') }],
      claimed: [],
      unknown: hosts('k5'),
      otherSupply: hosts(),
      ...part,
    },
  };
}
