import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { andAlso, type Clause, clauseIn, clauseOf, dropThis, leaveOut, others, takeUp, wordedIn } from '../decisions/clauses';
import { suggestedClauses, wordingOf } from '../decisions/suggested';
import { changed } from '../frame/useAddress';
import { caseView, population } from './fixtures';

const NOW = new Date('2026-11-24T05:00:00Z');

type Suggestion = Schemas['SuggestionView'];

function suggesting(id: string, suggestion: Suggestion): Schemas['PopulationRow'] {
  return population(id, id, 5, { weighing: { suggestion } as Schemas['WeighingView'] });
}

const page = caseView({ populations: [population('gates', 'Gates', 4), population('kiosks', 'Kiosks', 5), population('yard', 'Yard', 0)] });

const after = (search: URLSearchParams, changes: Record<string, string | undefined>) =>
  new URLSearchParams(changed(search.toString(), changes));

describe('several answers in one address', () => {
  const block = new URLSearchParams('verdict=BLOCK&for=gates&until=2026-12-14&because=UNTESTED');

  it('keeps what is worded and begins the next one for those that lack an answer', () => {
    const next = after(block, andAlso(page, block, 'PILOT'));
    expect(clauseIn(next)).toEqual({ verdict: 'PILOT', for: 'kiosks' });
    expect(wordedIn(next)).toEqual([{ verdict: 'BLOCK', for: 'gates', until: '2026-12-14' }]);
    expect(next.get('because')).toBe('UNTESTED');
  });

  it('knows who is left: who carries it, or has an answer for all of its hosts, is not', () => {
    expect(others(page, [{ verdict: 'BLOCK', for: 'gates' }])).toEqual(['kiosks']);
    expect(others(page, [{ verdict: 'BLOCK', for: 'gates', where: 'model = K2' }])).toEqual(['gates', 'kiosks']);
    expect(others(page, [{ for: 'gates' }, { for: 'kiosks' }])).toEqual([]);
  });

  it('takes an answer up again, and leaves one out', () => {
    const two = after(block, andAlso(page, block, 'PILOT'));
    const again = after(two, takeUp(two, 0));
    expect(clauseIn(again)).toEqual({ verdict: 'BLOCK', for: 'gates', until: '2026-12-14' });
    expect(wordedIn(again)).toEqual([{ verdict: 'PILOT', for: 'kiosks' }]);
    expect(wordedIn(after(two, leaveOut(two, 0)))).toEqual([]);
    const dropped = after(two, dropThis(two));
    expect(clauseIn(dropped)).toEqual({ verdict: 'BLOCK', for: 'gates', until: '2026-12-14' });
    expect(wordedIn(dropped)).toEqual([]);
  });

  it.each(['not json', '{"verdict":"BLOCK"}', '[null, 3, {"verdict": 4, "constructor": "x"}]'])(
    'reads %s as nothing that does harm',
    (also) => {
      expect(wordedIn(new URLSearchParams({ also })).flatMap((clause) => Object.keys(clause))).toEqual([]);
    },
  );

  it('says an answer that was sent as the address says it', () => {
    expect(
      clauseOf({
        type: 'FORCE',
        populations: ['gates', 'yard'],
        until: '2026-12-01',
        where: '',
        overrides: [4],
        overriddenExceptions: [2],
        overriddenFreezes: [],
        allowanceDays: 2,
        outsideWindows: true,
      }),
    ).toEqual({ verdict: 'FORCE', for: 'gates,yard', until: '2026-12-01', over: 'v4,e2', away: '2', outside: 'yes' } satisfies Clause);
  });
});

describe('what is suggested, as a sentence', () => {
  it('gives populations with the same suggestion one answer, what holds back first', () => {
    const suggested = suggestedClauses(
      caseView({
        populations: [
          suggesting('bench', { type: 'LET_GO', where: [] }),
          suggesting('kiosks', { type: 'BLOCK', where: ['reader = R2'], rest: 'LET_GO' }),
          suggesting('gates', { type: 'PILOT', where: [] }),
          suggesting('tablets', { type: 'LEAVE_TO_RULE', where: [] }),
          suggesting('desks', { type: 'PILOT', where: [] }),
        ],
      }),
      NOW,
    );
    expect(suggested).toEqual([
      { verdict: 'BLOCK', where: 'reader = R2', for: 'kiosks' },
      { verdict: 'DEFER', until: '2026-11-24', for: 'bench,kiosks' },
      { verdict: 'PILOT', for: 'gates,desks' },
    ]);
    const words = new URLSearchParams(changed('', wordingOf(suggested)));
    expect(words.get('verdict')).toBe('PILOT');
    expect(wordedIn(words)).toHaveLength(2);
    expect(words.get('because')).toBe('FAILURES_SEEN');
  });

  it('joins several causes, and words nothing where all is left to the rule', () => {
    expect(suggestedClauses(caseView({ populations: [suggesting('kiosks', { type: 'BLOCK', where: ['a = 1', 'b = 2'] })] }), NOW)).toEqual([
      { verdict: 'BLOCK', where: '(a = 1) or (b = 2)', for: 'kiosks' },
    ]);
    expect(suggestedClauses(caseView({ populations: [suggesting('kiosks', { type: 'LEAVE_TO_RULE', where: [] })] }), NOW)).toEqual([]);
  });
});
