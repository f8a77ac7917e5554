import { describe, expect, it } from 'vitest';
import { changedAt, documentOf, type Ladder, movedBy, ruleOf, ruleWords, timingWords, unfinished, withNew, without } from './ladder';

const ladder: Ladder = {
  format: 'populations-1',
  fleetRule: { otherwise: 30 },
  populations: [
    { id: 'a', name: 'A', condition: 'role = a', includes: [], owner: '', tier: 1, rule: { lines: [], otherwise: 0 } },
    { id: 'b', name: 'B', condition: 'role = b', includes: ['h1'], tier: 2, rule: { otherwise: 'never' } },
  ],
};

const order = (of: Ladder) => of.populations.map((p) => p.id).join(' ');

describe('a ladder that is worded', () => {
  it('is sent without what is empty', () => {
    expect(JSON.parse(documentOf(ladder))).toEqual({
      format: 'populations-1',
      fleetRule: { otherwise: 30 },
      populations: [
        { id: 'a', name: 'A', condition: 'role = a', tier: 1, rule: { otherwise: 0 } },
        { id: 'b', name: 'B', condition: 'role = b', includes: ['h1'], tier: 2, rule: { otherwise: 'never' } },
      ],
    });
  });
  it('changes order and stops at its ends', () => {
    expect(order(movedBy(ladder, 0, 1))).toBe('b a');
    expect(order(movedBy(ladder, 1, -1))).toBe('b a');
    expect(order(movedBy(ladder, 0, -1))).toBe('a b');
    expect(order(movedBy(ladder, 1, 1))).toBe('a b');
    expect(order(ladder)).toBe('a b');
  });
  it('gains and loses populations', () => {
    const more = withNew(withNew(ladder, 0), 0);
    expect(order(more)).toBe('a population-4 population-3 b');
    expect(order(without(more, 1))).toBe('a population-3 b');
  });
  it('says what is still to be worded', () => {
    expect(unfinished(ladder)).toBeUndefined();
    expect(unfinished(withNew(ladder, 1))).toEqual({
      index: 2,
      field: 'condition',
      words: 'Which hosts belong to Population 3? Word its condition.',
    });
    expect(unfinished(changedAt(ladder, 1, { name: ' ' }))?.field).toBe('name');
  });
});

describe('a standing rule', () => {
  const rule = ruleOf({
    lines: [
      { kinds: ['UPGRADE'], ratings: [] },
      { kinds: [], ratings: ['CRITICAL', 'HIGH'], delayDays: 5 },
    ],
    otherwiseDays: 1,
  });
  it('reads as a sentence', () => {
    expect(ruleWords(rule)).toBe(
      'A platform upgrade is never offered without a verdict; an update rated Critical or High is offered 5 days after publication; every other one is offered 1 day after publication.',
    );
    expect(ruleWords({ otherwise: 0 })).toBe('An update is offered at once.');
  });
  it('says when it is due', () => {
    expect(
      ruleWords({ lines: [{ kinds: ['security'], offerAfterDays: 5, dueAfterDays: 4 }], otherwise: 0, otherwiseDueAfterDays: 1 }),
    ).toBe(
      'A security update is offered 5 days after publication and due 4 days later; every other one is offered at once and due 1 day later.',
    );
  });
});

describe('when hosts may be disturbed', () => {
  const p = ladder.populations[0] as Ladder['populations'][0];
  it('reads as sentences', () => {
    expect(timingWords(p)).toBe('Installs and restarts at any hour.');
    expect(timingWords({ ...p, busyHours: ['mon-fri 06:00-23:00'], dueHour: '12:00', allowanceDays: 3, earlyRestart: false })).toBe(
      'Nothing is installed or restarted in busy hours (mon-fri 06:00-23:00) before it is due; restarts only when it is due; falls due at 12:00; a host that was away has 3 days after its return.',
    );
    expect(timingWords({ ...p, leastBattery: 60, overPaidLine: true })).toBe(
      'Installs and restarts at any hour; waits on battery under 60 %; goes on over a paid line.',
    );
    expect(timingWords({ ...p, windows: ['sun 02:00-05:00'], start: 'by operator' })).toBe(
      'Installs and restarts only in its windows (sun 02:00-05:00), also past due; an operator begins it, never the host by itself.',
    );
  });
});
