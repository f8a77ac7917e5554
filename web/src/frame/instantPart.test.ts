import { describe, expect, it } from 'vitest';
import { instantOf, wordedAs } from './InstantPart';

describe('an instant as it is worded', () => {
  it('is told in the zone that is asked for', () => {
    expect(wordedAs(new Date('2026-12-13T23:30:00Z'), 'Europe/Oslo')).toEqual({ day: '2026-12-14', time: '00:30' });
    expect(wordedAs(new Date('2026-12-13T23:30:00Z'))).toEqual({ day: '2026-12-13', time: '23:30' });
  });

  it('is read back, in summer and in winter', () => {
    expect(instantOf({ day: '2026-12-14', time: '00:30' }, 'Europe/Oslo')).toBe('2026-12-13T23:30:00.000Z');
    expect(instantOf({ day: '2026-07-14', time: '2' }, 'Europe/Oslo')).toBe('2026-07-14T00:00:00.000Z');
    expect(instantOf({ day: '2026-12-14', time: '2:05' })).toBe('2026-12-14T02:05:00.000Z');
  });

  it('is none where it cannot be read', () => {
    for (const time of ['', 'noon', '25:00', '12:60', '1:2']) {
      expect(instantOf({ day: '2026-12-14', time })).toBeUndefined();
    }
    expect(instantOf({ day: 'someday', time: '12:00' })).toBeUndefined();
  });
});
