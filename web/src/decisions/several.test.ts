import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import {
  casesFor,
  casesIn,
  hindrance,
  lackingIn,
  populationsOfAll,
  sentencesOf,
  severalIn,
  severalWords,
  triedWords,
  watchWords,
} from './several';

const NOW = new Date('2026-11-24T05:00:00Z');
const LADDER = [
  { id: 'kiosks', name: 'Ticket kiosks' },
  { id: 'tablets', name: 'Crew tablets' },
];

function strip(id: string, lacking: Record<string, number>, all: number): Schemas['Strip'] {
  return {
    id,
    revision: '1',
    version: `"${id}"`,
    kind: 'SECURITY',
    lacking: all,
    marks: Object.entries(lacking).map(([population, hosts]) => ({ population, lacking: hosts, applicable: hosts, differently: 0 })),
  } as unknown as Schemas['Strip'];
}

const list = (...names: string[]) => ({ count: names.length, names });

function told(update: string, decided: string[], part: object = {}, consequence: object = {}): Schemas['OnCase'] {
  return {
    update,
    worded: [
      {
        populationName: 'Ticket kiosks',
        consequence: { decided: list(...decided), before: [], claimed: [], carrying: list(), otherSupply: list(), ...consequence },
        tooLate: list(),
        notOnSources: list(),
        prevented: [],
        broughtForward: [],
        grounds: [],
        ...part,
      },
    ],
  } as unknown as Schemas['OnCase'];
}

const asked = (address: string) => {
  const search = new URLSearchParams(address);
  return severalIn(search, (search.get('verdict') ?? 'BLOCK') as 'BLOCK', NOW);
};

describe('several cases', () => {
  it('stand in the address whatever their identifiers hold', () => {
    expect(casesIn(casesFor(['A,1', 'B/2', 'A,1', '50%']))).toEqual(['A,1', 'B/2', '50%']);
    expect(casesIn('A,%E0%A4%A,')).toEqual(['A', '%E0%A4%A']);
    expect(casesIn(null)).toEqual([]);
  });
  it('are each decided where hosts lack them, in no population too', () => {
    const some = strip('A', { kiosks: 3, tablets: 0 }, 5);
    expect(lackingIn(some)).toEqual(['kiosks', 'none']);
    expect(populationsOfAll([some, strip('B', { kiosks: 1, tablets: 2 }, 3)], LADDER).map((one) => one.id)).toEqual([
      'kiosks',
      'tablets',
      'none',
    ]);
    expect(sentencesOf([some, strip('B', { tablets: 2 }, 2)], asked('for=kiosks'), ['ROUTINE'], '')).toMatchObject([
      { update: 'A', populations: ['kiosks'], until: '2026-12-08', reasons: ['ROUTINE'] },
    ]);
  });
  it('are forced with time for hosts that were away, where that is said', () => {
    const [one] = sentencesOf([strip('A', { kiosks: 3 }, 3)], asked('verdict=FORCE&away=2&outside=yes'), [], '');
    expect(one).toMatchObject({ until: '2026-11-27', allowanceDays: 2, outsideWindows: true });
    const [other] = sentencesOf([strip('A', { kiosks: 3 }, 3)], asked('verdict=DEFER&away=2&outside=yes'), [], '');
    expect([other?.allowanceDays, other?.outsideWindows]).toEqual([undefined, undefined]);
  });
  it('are piloted on hosts that are drawn alike', () => {
    const both = sentencesOf([strip('A', { kiosks: 3 }, 3), strip('B', { kiosks: 3 }, 3)], asked('verdict=PILOT&size=2'), [], '');
    expect(both.map((one) => one.pilot)).toMatchObject([
      { size: 2, drawnLike: 'A' },
      { size: 2, drawnLike: 'A' },
    ]);
    const sample = (...names: string[]) => ({ pilot: { sample: names.map((name) => ({ name })) } });
    const same = [told('A', [], sample('k1', 'k2')), told('B', [], sample('k1', 'k2'))];
    expect(triedWords(same)).toBe('The same 2 hosts try all of them.');
    expect(triedWords([told('A', [], sample('k1', 'k2')), told('B', [], sample('k2', 'k3'))])).toBe(
      '3 hosts try one or more of them, 1 try all.',
    );
  });
  it('say why one of them cannot be decided with the others', () => {
    const one = strip('A', { kiosks: 3 }, 3);
    expect(hindrance(one, asked(''), undefined)).toBeUndefined();
    expect(hindrance(one, asked('for=tablets'), undefined)).toBe('no host of these populations lacks it');
    expect(hindrance(strip('A', {}, 0), asked(''), undefined)).toBe('no host lacks it');
    expect(hindrance(one, asked(''), told('A', ['k1'], { grounds: [{ type: 'FORCES', tier: 1 }] }))).toBe(
      'needs an approver, because it forces hosts of tier 1',
    );
    expect(hindrance(one, asked(''), told('A', []))).toContain('something else is in force');
    expect(hindrance(one, asked(''), { update: 'A', worded: [], refused: { field: 'until', reason: 'it is past' } })).toBe('it is past');
    expect(hindrance(one, asked(''), told('A', ['k1']))).toBeUndefined();
  });
  it('tell what is to be seen before, the gravest first, the same words once', () => {
    const claim = {
      match: { clause: 'VERDICT', verdict: 'BLOCK', effect: 'WITHHELD', end: '2026-12-06T00:00:00Z', source: 4 },
      hosts: list('a', 'b'),
    };
    const one = told('A', ['k1'], { tooLate: list('k9') }, { claimed: [claim, claim], before: [claim] });
    expect(watchWords(one.worded, asked(''), NOW)).toEqual([
      '1 host too late to stop (k9)',
      '4 hosts not reached: still blocked until Sat 5 Dec',
      '2 hosts now blocked until Sat 5 Dec: this takes its place',
    ]);
  });
  it('say on the button what they do', () => {
    expect(severalWords(asked('verdict=BLOCK'), 5, NOW)).toBe('Block 5 updates');
    expect(severalWords(asked('verdict=DEFER&until=2026-11-24'), 1, NOW)).toBe('Let 1 update go');
  });
});
