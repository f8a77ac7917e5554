import { describe, expect, it } from 'vitest';
import { fewThereWords, holidayWords } from './holidays';

const now = new Date('2026-12-01T09:00:00Z');

describe('days on which few are there', () => {
  it('are told by weekday, on the clock of the population', () => {
    expect(fewThereWords({ when: 'BEFORE_WEEKEND' }, '2026-12-04T12:00:00Z')).toBe('a Friday');
    expect(fewThereWords({ when: 'ON_WEEKEND' }, '2026-12-04T23:30:00Z', 'Asia/Tokyo')).toBe('a Saturday');
  });
  it('are told by the name of the holiday', () => {
    expect(fewThereWords({ when: 'ON_HOLIDAY', holiday: 'Quay Day' }, now)).toBe('Quay Day, a holiday');
    expect(fewThereWords({ when: 'BEFORE_HOLIDAY', holiday: 'Quay Day' }, now)).toBe('the day before Quay Day, a holiday');
  });
  it('have a first and a last', () => {
    expect(holidayWords({ first: '2026-12-16', last: '2026-12-16', name: 'Quay Day' }, now)).toBe('Quay Day Wed 16 Dec');
    expect(holidayWords({ first: '2027-06-01', last: '2027-06-02', name: 'Harbour Days' }, now)).toBe(
      'Harbour Days Tue 1 Jun 2027 to Wed 2 Jun 2027',
    );
  });
});
