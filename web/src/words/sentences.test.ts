import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import {
  bytes,
  chainWords,
  cueWords,
  decidedWords,
  docketTitle,
  isRoutine,
  markOf,
  names,
  needsJudgement,
  ratingWords,
  reasonWords,
  ruleMatchWords,
  whyBrief,
  whyNow,
} from './sentences';

const now = new Date('2026-11-24T04:56:00Z');
const strip: Schemas['Strip'] = {
  id: 'TRN-2231',
  revision: '1',
  version: '"1"',
  title: 'Tarn libtls 3.2.9',
  kind: 'SECURITY',
  rating: 'CRITICAL',
  baseScore: 9.8,
  cues: [{ type: 'NEW', raised: '2026-11-18T04:00:00Z', about: '', hosts: 0, open: 35 }],
  published: '2026-11-18T00:00:00Z',
  lacking: 35,
  carrying: 17,
  unknown: 0,
  facingPublic: 9,
  marks: [],
  open: [],
  decided: [],
  routine: false,
  nextOffer: { population: 'Yard servers', at: '2026-11-24T23:56:00Z' },
  noise: false,
  withdrawn: false,
  contains: [],
  siblings: [],
  assignees: [],
  notAffected: 0,
  freshness: 1,
  worth: 10,
  beam: { exposure: 9, hazard: { middle: 1, low: 0.5, high: 2 }, usual: 0.5, others: 0, tilt: { middle: 2.2, low: 1.5, high: 2.8 } },
};

describe('why a case is on the docket', () => {
  it('says since when, how many wait, who faces the public and what comes next', () => {
    expect(whyNow(strip, now)).toBe(
      'The standing rule offers it to Yard servers: today 23:56. New since Wed 18 Nov: 35 hosts have waited 6 days, 9 of them face the public.',
    );
  });
  it('says when nothing will happen by itself', () => {
    expect(whyNow({ ...strip, nextOffer: undefined, facingPublic: 0, lacking: 1 }, now)).toBe(
      'Nothing will change this without a verdict. New since Wed 18 Nov: 1 host has waited 6 days.',
    );
  });
  it('leaves whole sentences out where there is little room, and says how many', () => {
    expect(whyBrief(strip, now, 500)).toBe(whyNow(strip, now));
    expect(whyBrief(strip, now, 80)).toBe('The standing rule offers it to Yard servers: today 23:56. And 1 more.');
    expect(whyBrief(strip, now, 5)).toBe('The standing rule offers it to Yard servers: today 23:56. And 1 more.');
  });
  it('says how many of them are in no population', () => {
    const marks = [{ population: 'yard', lacking: 33, applicable: 50, differently: 0 }];
    expect(whyNow({ ...strip, marks }, now)).toContain('9 of them face the public, 2 in no population.');
  });
  it('says what changed after it was answered', () => {
    const words = (type: 'REVISED_FIXES' | 'REVISED_TEXT' | 'WITHDRAWN') =>
      whyNow(
        {
          ...strip,
          cues: [{ type, raised: '2026-11-23T04:00:00Z', about: '', hosts: 0, open: 35 }],
          nextOffer: undefined,
          withdrawn: type === 'WITHDRAWN',
        },
        now,
      );
    expect(words('REVISED_FIXES')).toBe('Revised Mon 23 Nov 04:00, after it was answered: other versions are fixed now.');
    expect(words('REVISED_TEXT')).toContain('only words changed');
    expect(words('WITHDRAWN')).toBe('Withdrawn by its vendor, read Mon 23 Nov 04:00. No rule offers it any longer.');
  });
  it('leaves noise, answered cases and those that a successor brings off the docket', () => {
    expect(needsJudgement(strip)).toBe(true);
    expect(needsJudgement({ ...strip, foldedUnder: 'TRN-2299' })).toBe(false);
    expect(needsJudgement({ ...strip, cues: [] })).toBe(false);
    expect(needsJudgement({ ...strip, noise: true })).toBe(false);
  });
  it.each([
    ['KNOWN_EXPLOITED', 'CVE-1', 4, 'CVE-1 is known to be exploited since yesterday; 4 hosts lack the fix.'],
    ['FAILURES_ABOVE_USUAL', 'E-1', 3, '3 hosts failed, most with E-1: more often than usual since today.'],
    ['SILENT_AFTER_INSTALL', '', 1, '1 host fell silent after it installed it, more often than hosts that did not.'],
    ['PRODUCTS_NOT_READ', '1200', 0, '1,200 products of it could not be read: nobody knows whether hosts here are affected.'],
    ['SUPERSEDES_BLOCKED', 'LNT-1', 9, 'Contains LNT-1, which is withheld from 9 hosts. Carry that over, lift it, or judge anew.'],
    ['OVERDUE', '7', 9, 'Overdue: forced until Sun 22 Nov, and 9 hosts still lack it.'],
    ['NEEDS_VERDICT', '', 1, 'Needs a verdict: the rule never offers it to 1 host that lacks it.'],
    ['BLOCK_ENDED', '7', 9, 'Its block no. 7 ended Sun 22 Nov; 9 hosts that lack it follow what is in force now.'],
    ['BLOCK_ENDS', '7', 9, 'Its block ends Sun 22 Nov; 9 hosts would be offered it then.'],
    [
      'OBJECTED',
      'T. Brevik: the certificate is lost',
      2,
      'Whoever answers for an exception objects to what goes over it since today, for 2 hosts: T. Brevik: the certificate is lost.',
    ],
    ['LOOK_AGAIN', 'ask for the\nlog', 0, 'To be looked at again since today: ask for the log.'],
    ['EXCEPTION_ENDS', '7', 1, 'Exception no. 7 ends Sun 22 Nov; it holds for 1 host that lacks it.'],
    ['BLOCKED_BUT_INSTALLED', '7', 2, '2 hosts carry it although block no. 7 covers them.'],
    ['AFFECTED_NOW', '2', 1, 'It does matter now on 1 host on which note no. 2 told that it did not.'],
    ['POPULATION_CHANGED', '7', 12, '12 hosts came to or left the hosts of verdict no. 7 since it was handed down.'],
  ] as const)('words the cue %s', (type, about, hosts, words) => {
    expect(cueWords({ type, about, hosts, open: hosts, raised: '2026-11-24T01:00:00Z', when: '2026-11-23T00:00:00Z' }, now)).toBe(words);
  });
  it('tells a routine case from one that wants a closer look', () => {
    expect(isRoutine({ ...strip, routine: true })).toBe(true);
    expect(isRoutine(strip)).toBe(false);
    expect(isRoutine({ ...strip, routine: true, cues: [] })).toBe(false);
  });
  it('names the case of an earlier update whose cue it is, and where it is still open', () => {
    const cue = { type: 'KNOWN_EXPLOITED' as const, about: 'CVE-1', hosts: 4, open: 4, of: 'TRN-1', raised: '2026-11-23T04:00:00Z' };
    expect(cueWords(cue, now)).toBe('TRN-1, which it contains: CVE-1 is known to be exploited since lately; 4 hosts lack the fix.');
    const open = [
      { population: 'dbs', name: 'Booking databases', hosts: 7 },
      { population: 'none', name: 'In no population', hosts: 1 },
    ];
    expect(whyNow({ ...strip, open }, now)).toContain('Still open: Booking databases, 7 hosts; In no population, 1 host.');
    expect(whyNow({ ...strip, open: [{ population: 'dbs', name: 'Booking databases', hosts: 35 }] }, now)).not.toContain('Still open');
  });
  it('says what was decided, by whom and until when', () => {
    const by = { populations: ['Ticket kiosks'], end: '2026-12-15T00:00:00Z', author: 'M. Aldane' };
    expect(decidedWords({ ...by, type: 'BLOCK', where: 'reader = R2' }, now)).toBe(
      'Blocked for Ticket kiosks where reader = R2 until Mon 14 Dec by M. Aldane.',
    );
    expect(decidedWords({ ...by, type: 'DEFER', end: '2026-11-23T00:00:00Z' }, now)).toBe('Let go for Ticket kiosks by M. Aldane.');
    expect(decidedWords({ ...by, type: 'FORCE' }, now)).toBe('Forced for Ticket kiosks, due Mon 14 Dec, by M. Aldane.');
    expect(decidedWords({ populations: [], author: 'M. Aldane' }, now)).toBe('Left to the rule by M. Aldane.');
  });
  it('titles the docket', () => {
    expect(docketTitle(0)).toBe('No cases need your judgement');
    expect(docketTitle(1)).toBe('One case needs your judgement');
    expect(docketTitle(41)).toBe('41 cases need your judgement');
  });
});

describe('what holds, in words', () => {
  const match = (part: Partial<Schemas['RuleMatchView']>): Schemas['RuleMatchView'] => ({ clause: 'VERDICT', effect: 'WITHHELD', ...part });
  const end = '2026-12-15T00:00:00Z';
  it.each([
    [match({ verdict: 'BLOCK', end, source: 3 }), 'blocked until Mon 14 Dec', 'BLOCK'],
    [match({ verdict: 'DEFER', end }), 'deferred until Mon 14 Dec', 'DEFER'],
    [match({ verdict: 'DEFER', effect: 'OFFERED' }), 'let go: offered since its deferral ended', 'DEFER'],
    [
      match({ verdict: 'DEFER', effect: 'OFFERED', due: end }),
      'let go: offered since its deferral ended, by the rule due Mon 14 Dec',
      'DEFER',
    ],
    [match({ verdict: 'FORCE', effect: 'OFFERED', end, due: end }), 'forced, due Mon 14 Dec', 'FORCE'],
    [match({ verdict: 'FORCE', effect: 'OFFERED', due: '2026-11-23T00:00:00Z' }), 'forced, overdue since Sun 22 Nov', 'FORCE'],
    [
      match({ clause: 'OVERRIDING_FORCE', verdict: 'FORCE', effect: 'OFFERED', end, due: end }),
      'forced, due Mon 14 Dec, over what else would hold',
      'FORCE',
    ],
    [match({ clause: 'EXCEPTION', effect: 'BY_OPERATOR', end }), 'by operator by exception until Mon 14 Dec', 'EXCEPTION'],
    [match({ clause: 'STANDING_RULE', effect: 'OFFERED' }), 'offered by the standing rule', 'RULE'],
    [match({ clause: 'STANDING_RULE', effect: 'OFFERED', due: end }), 'offered by the rule, due Mon 14 Dec', 'RULE'],
    [match({ clause: 'STANDING_RULE', effect: 'OFFERED', due: '2026-11-23T00:00:00Z' }), 'rule: overdue since Sun 22 Nov', 'RULE'],
    [match({ verdict: 'BLOCK', effect: 'REMOVE', end }), 'to be removed: blocked until Mon 14 Dec', 'BLOCK'],
    [match({ verdict: 'DEFER', effect: 'BY_OPERATOR' }), 'let go: by operator since its deferral ended', 'DEFER'],
    [match({ verdict: 'FORCE', effect: 'BY_OPERATOR', due: end }), 'by operator, asked for until Mon 14 Dec', 'FORCE'],
    [
      match({ verdict: 'FORCE', effect: 'WITHHELD', end: '2026-12-10T00:00:00Z', due: end }),
      'forced in a later part: withheld until Wed 9 Dec, due Mon 14 Dec',
      'FORCE',
    ],
    [
      match({ clause: 'SUPERSEDES_BLOCKED', end, source: 4 }),
      'withheld as what it contains, until judged, at most until Mon 14 Dec',
      'BLOCK',
    ],
    [match({ clause: 'STANDING_RULE', end: '2026-11-26T00:36:00Z' }), 'withheld by the standing rule until Thu 26 Nov 00:36', 'RULE_WAITS'],
    [match({ clause: 'STANDING_RULE' }), 'withheld: no offer without a verdict', 'RULE_WAITS'],
    [match({ clause: 'CARRIED_OR_NOT_APPLICABLE', effect: 'NOTHING_TO_DO' }), 'nothing to do', 'RULE_WAITS'],
  ] as const)('%o', (given, words, mark) => {
    expect(ruleMatchWords(given, now)).toBe(words);
    expect(markOf(given)).toBe(mark);
  });
  it('numbers the links of a chain', () => {
    expect(chainWords(match({ verdict: 'BLOCK', end, source: 3 }), now)).toBe('Verdict no. 3: blocked until Mon 14 Dec');
  });
});

describe('small words', () => {
  it('rates', () => {
    expect(ratingWords('UNRATED')).toBe('unrated');
    expect(ratingWords('HIGH', 7)).toBe('High 7.0');
  });
  it('gives reasons', () => {
    expect(reasonWords(['NO_DOWNTIME', 'UNTESTED'], 'season')).toBe('no downtime, untested; season');
    expect(reasonWords([], 'season')).toBe('season');
  });
  it('names hosts', () => {
    expect(names({ count: 2, names: ['a', 'b'] })).toBe('a, b');
    expect(names({ count: 900, names: ['a', 'b', 'c', 'd'] })).toBe('a, b, c and 897 more');
  });
  it('sizes', () => {
    expect([500, 3_100_000, 680_000_000, 4_200_000_000].map(bytes)).toEqual(['500 bytes', '3.1 MB', '680 MB', '4.2 GB']);
  });
});
