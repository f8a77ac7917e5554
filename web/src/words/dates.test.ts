import { describe, expect, it } from 'vitest';
import { count, day, dayOf, dayTime, isoDay, lastDay, soon, span, time } from './dates';

const now = new Date('2026-11-24T04:56:00Z');

describe('an instant that cannot be read', () => {
  it('is said to be one and breaks nothing', () => {
    const now = new Date('2026-11-24T09:00:00Z');
    for (const text of ['-0500-01-01T00:00:00Z', 'nonsense', '']) {
      expect([day(text, now), dayTime(text, now), time(text), lastDay(text, now)]).toEqual(Array(4).fill('at an unreadable instant'));
    }
  });
});

describe('days in words', () => {
  it('names the year only when it is another', () => {
    expect(day('2026-12-14T10:00:00Z', now)).toBe('Mon 14 Dec');
    expect(day('2027-01-04T10:00:00Z', now)).toBe('Mon 4 Jan 2027');
  });
  it('uses the time zone of the population', () => {
    expect(dayTime('2026-12-14T23:30:00Z', now, 'Z')).toBe('Mon 14 Dec 23:30');
    expect(dayTime('2026-12-14T23:30:00Z', now, 'Asia/Tokyo')).toBe('Tue 15 Dec 08:30');
  });
  it('counts an end at midnight to the day before', () => {
    expect(lastDay('2026-12-15T00:00:00Z', now)).toBe('Mon 14 Dec');
    expect(lastDay('2026-12-14T15:00:00Z', now, 'Asia/Tokyo')).toBe('Mon 14 Dec');
  });
  it('says today and tomorrow', () => {
    expect(soon('2026-11-24T23:56:00Z', now)).toBe('today 23:56');
    expect(soon('2026-11-25T00:01:00Z', now)).toBe('tomorrow 00:01');
    expect(soon('2026-11-28T00:01:00Z', now)).toBe('Sat 28 Nov 00:01');
  });
  it('writes the local day for the server', () => {
    expect(isoDay(now, 14)).toBe('2026-12-08');
    expect(isoDay(new Date('2026-11-24T23:00:00Z'), 0, 'Asia/Tokyo')).toBe('2026-11-25');
  });
});

describe('numbers in words', () => {
  it('counts', () => {
    expect(count(1, 'host')).toBe('1 host');
    expect(count(1204, 'host')).toBe('1,204 hosts');
    expect(count(0, 'vulnerability', 'vulnerabilities')).toBe('0 vulnerabilities');
  });
  it('spans', () => {
    expect(span('2026-11-18T04:56:00Z', now)).toBe('6 days');
    expect(span('2026-11-24T02:00:00Z', now)).toBe('2 hours');
    expect(span('2026-11-24T04:50:00Z', now)).toBe('less than an hour');
  });
});

describe('a day as people write it', () => {
  const now = new Date('2026-11-28T14:00:00Z');
  it.each([
    ['2026-12-14', '2026-12-14'],
    ['14 Dec', '2026-12-14'],
    ['Mon 14 Dec', '2026-12-14'],
    ['monday, 14 december', '2026-12-14'],
    ['14 Dec 2027', '2027-12-14'],
    ['3 Jan', '2027-01-03'],
    ['28 Nov', '2026-11-28'],
    ['+14', '2026-12-12'],
    ['2 weeks', '2026-12-12'],
    ['1 day', '2026-11-29'],
    ['Friday', '2026-12-04'],
    ['sat', '2026-12-05'],
    ['today', '2026-11-28'],
    ['tomorrow', '2026-11-29'],
  ])('reads %s', (text, expected) => {
    expect(dayOf(text, now)).toBe(expected);
  });
  it.each(['', ' ', '31 Feb', '2026-02-30', 'Tue 14 Dec', 'soon', '14', '14/12', '12 14', 'mont 3', '+', '14 Decadence'])(
    'does not read %s',
    (text) => {
      expect(dayOf(text, now)).toBeUndefined();
    },
  );
});
