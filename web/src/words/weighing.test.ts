import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { flipWords, inHosts, percent, points, suggestionWords } from './weighing';

describe('numbers of the weighing', () => {
  it.each([
    [0, '0'],
    [0.0049, '0.005'],
    [7e-13, '<0.001'],
    [0.12, '0.12'],
    [7.93, '7.93'],
    [41.04, '41.0'],
    [633.4, '633'],
    [12345, '12,345'],
  ])('%d points read %s', (value, words) => {
    expect(points(value)).toBe(words);
  });
  it('say how many hosts they are worth, of the costliest tier that they reach', () => {
    expect(inHosts(48, [8, 4, 2, 1])).toBe('as bad as losing 6 tier-1 hosts');
    expect(inHosts(2.4, [8, 4, 2, 1])).toBe('as bad as losing 1 tier-3 host');
    expect(inHosts(0.3, [8, 4, 2, 1])).toBe('less than losing one tier-4 host');
  });
  it('show rates with as many digits as matter', () => {
    expect([0, 2e-14, 0.001028, 0.0532, 0.731].map(percent)).toEqual(['0 %', '<0.01 %', '0.10 %', '5.3 %', '73 %']);
  });
});

describe('what the numbers speak for', () => {
  const block: Schemas['SuggestionView'] = { type: 'BLOCK', where: ['reader = R2'], rest: 'LET_GO' };
  it('is a sentence', () => {
    expect(suggestionWords(block)).toBe('block where reader = R2; the rest: let it go now');
    expect(suggestionWords({ type: 'LEAVE_TO_RULE', where: [] })).toBe('leave to the rule');
  });
  it('changes at flip points', () => {
    const flip = (input: Schemas['FlipView']['input'], value: number) =>
      flipWords({ input, value, suggestion: { type: 'PILOT', where: [] } }, { type: 'BLOCK', where: ['reader = R2'], rest: 'PILOT' });
    expect(flip('FAILURES', 1)).toBe('1 more failure → pilot');
    expect(flip('CLEAN_TRIES', 152)).toBe('152 more clean tries → pilot');
    expect(flip('PROBABILITY', 0.059)).toBe('exploit probability 0.059 → pilot');
    expect(flip('KNOWN_EXPLOITED', 0)).toBe('not known to be exploited → pilot');
    expect(flip('HOSTS', 1.5)).toBe('1.5 times the hosts → pilot');
    const block = (where: string, rest: 'PILOT' | 'LET_GO') => ({ type: 'BLOCK' as const, where: [where], rest });
    const clean = { input: 'CLEAN_TRIES' as const, value: 9, suggestion: block('reader = R2', 'LET_GO') };
    expect(flipWords(clean, block('reader = R2', 'PILOT'))).toBe('9 more clean tries → the rest: let it go now');
    expect(flipWords(clean, block('reader = R3', 'PILOT'))).toBe('9 more clean tries → block where reader = R2; the rest: let it go now');
  });
});
