import { describe, expect, it } from 'vitest';
import { askedWords, type HostWork, isAmiss, standingWords, tallyWords } from './operators';

const now = new Date('2026-12-10T09:00:00Z');
const slot = { from: '2026-12-13T02:00:00Z', until: '2026-12-13T05:00:00Z' };

function host(standing: HostWork['standing'], other: Partial<HostWork> = {}): HostWork {
  const said =
    standing === 'NO_SLOT'
      ? undefined
      : {
          number: 1,
          author: 'B. Tove',
          words: '',
          at: '2026-12-08T04:00:00Z',
          slot: standing === 'AGREED' || standing === 'SLOT_PAST' ? slot : undefined,
        };
  return { host: 'bdb-01', standing, late: false, lastReport: '2026-12-09T08:00:00Z', said, ...other };
}

describe('what an operator said', () => {
  it('is told with what the host reported since, and no more', () => {
    const words = (standing: HostWork['standing']) => standingWords(host(standing), now, 'Z');
    expect(words('NO_SLOT')).toBe('no slot yet');
    expect(words('AGREED')).toBe('agreed for Sun 13 Dec 02:00 to 05:00');
    expect(words('SLOT_PAST')).toBe('the agreed slot is past: Sun 13 Dec 02:00 to 05:00');
    expect(words('SAID_DONE')).toBe('said to be done Tue 8 Dec 04:00; no report since');
    expect(words('STILL_LACKS')).toBe('said to be done Tue 8 Dec 04:00, and its report of Wed 9 Dec 08:00 lacks it');
  });

  it('adds up, what somebody should know of first', () => {
    const hosts = [host('AGREED'), host('NO_SLOT', { late: true }), host('STILL_LACKS'), host('AGREED')];
    expect(tallyWords(hosts, now, 'Z')).toBe(
      '1 past the day until which it is asked for, 1 lacks it though it was said to be done, 1 without a slot, 2 agreed, the first for Sun 13 Dec 02:00 to 05:00',
    );
    expect(hosts.filter(isAmiss)).toHaveLength(2);
  });

  it('names the first day until which it is asked for, as a wish', () => {
    const due = (day: string) => host('NO_SLOT', { due: `2026-12-${day}T00:00:00Z` });
    expect(askedWords([due('15'), due('14')], now, 'Z')).toBe('asked for until Sun 13 Dec');
    expect(askedWords([due('09')], now, 'Z')).toBe('was asked for by Tue 8 Dec');
    expect(askedWords([host('NO_SLOT')], now, 'Z')).toBeUndefined();
  });
});
