import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { answerWords, groundWords } from './answers';

const NOW = new Date('2026-11-24T05:00:00Z');

function answer(part: Partial<Schemas['AnswerDraft']>): Schemas['AnswerDraft'] {
  return {
    type: 'BLOCK',
    populations: ['gates'],
    until: '2026-12-14',
    overrides: [],
    overriddenExceptions: [],
    overriddenFreezes: [],
    ...part,
  };
}

describe('an answer in words', () => {
  it.each([
    [answer({}), 'Block for Gates until Mon 14 Dec'],
    [answer({ where: 'model = K2' }), 'Block for Gates where model = K2 until Mon 14 Dec'],
    [answer({ type: 'DEFER', until: '2026-11-24' }), 'Let it go now for Gates'],
    [
      answer({ type: 'DEFER', until: '2026-11-24', spread: { parts: 3, daysApart: 1, moved: [] } }),
      'Defer for Gates until Tue 24 Nov, in 3 parts',
    ],
    [answer({ byOperator: { checklist: [], order: [] }, type: 'FORCE' }), 'Force for Gates due Mon 14 Dec, by operator'],
    [answer({ removes: true }), 'Block for Gates until Mon 14 Dec, removed where it is'],
    [answer({ type: 'PILOT' }), 'Pilot for Gates answer by Mon 14 Dec'],
    [
      answer({ type: 'PILOT', pilot: { departments: [], without: [], onceMet: 'FORCE', onceMetDays: 4 } }),
      'Pilot for Gates answer by Mon 14 Dec, once it is met force it within 4 days',
    ],
    [
      answer({ type: 'FORCE', allowanceDays: 1, outsideWindows: true }),
      'Force for Gates due Mon 14 Dec, hosts that were away 1 day after they return, also outside windows',
    ],
    [answer({ until: 'some day' }), 'Block for Gates until some day'],
  ])('%#', (given, words) => {
    expect(answerWords(given, ['Gates'], NOW)).toBe(words);
  });

  it('says why it needs an approver', () => {
    expect(groundWords([{ type: 'FORCES', tier: 1 }, { type: 'OVERRIDES_EXCEPTION' }])).toBe(
      'it forces hosts of tier 1 and it overrides an exception of somebody else',
    );
  });
});
