import { describe, expect, it } from 'vitest';
import { pilot } from './pilotFixture';
import { outlook, percent } from './pilots';

describe('what would decide a pilot', () => {
  it('counts the hosts that are still to soak, and the failures that would be too many', () => {
    expect(outlook(pilot([30, 0, 20, 8]))).toBe('28 more hosts without failure would meet it; one host down would fail it.');
    expect(outlook(pilot([0, 1, 10, 47]))).toBe(
      '91 more hosts without failure would meet it, 34 more than the sample still has; one host down, or 1 more failed now, would fail it.',
    );
    expect(outlook(pilot([30, 1, 19, 8]))).toContain('one host down would fail it');
    expect(outlook(pilot([57, 0, 1, 0]))).toContain('1 more host without failure would meet it');
  });
  it('says what follows once it is decided', () => {
    expect(outlook(pilot([58, 0, 0, 0], { state: 'MET' }))).toContain('The gate is met');
    expect(outlook(pilot([2, 3, 9, 44], { state: 'FAILED' }))).toContain('withheld from everybody');
    expect(outlook(pilot([57, 1, 0, 0], { state: 'EXHAUSTED' }))).toContain('Extend the sample');
  });
});

describe('a share', () => {
  it('has no more digits than it needs', () => {
    expect(percent(0.05)).toBe('5 %');
    expect(percent(0.2058)).toBe('20.6 %');
  });
});
