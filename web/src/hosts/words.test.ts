import { describe, expect, it } from 'vitest';
import type { Schemas } from '../api/client';
import { placeOf } from '../frame/Search';
import { buildName, differenceWords, history } from './words';

const now = new Date('2026-11-25T05:00:00Z');
const row = { lastReport: '2026-11-16T02:00:00Z', supply: 'vendor', expectedSupply: 'mirror' };

describe('how a host differs', () => {
  it('is a sentence for each way', () => {
    const words = (way: Schemas['DifferenceView']['way'], ...updates: string[]) => differenceWords({ way, updates }, row, now);
    expect(words('LACKS_FORCED', 'A-1')).toBe('Lacks A-1, which is forced.');
    expect(words('PAST_RULE_DUE', 'A-1')).toBe('Lacks A-1, past due by the rule of its population.');
    expect(words('LACKS_FORCED', 'A-1', 'A-2')).toBe('Lacks A-1, A-2, which are forced.');
    expect(words('UNKNOWN')).toBe('Not heard from since Mon 16 Nov.');
    expect(words('LONG_SILENT')).toBe('Gone for good? Retire it on its page, so that it counts nowhere.');
    expect(words('RESTART_OUTSTANDING', 'A-1')).toBe('Restart outstanding for A-1.');
    expect(words('RESTART_OUTSTANDING')).toBe('It asks for a restart itself.');
    expect(words('ANOTHER_SUPPLY')).toBe('Takes updates from vendor instead of mirror.');
    expect(words('IN_NO_POPULATION')).toContain('fleet’s rule');
  });
});

describe('the history of a host', () => {
  it('puts changes, outcomes and silences in one order, the newest first', () => {
    const host = {
      firstReport: '2026-08-27T02:00:00Z',
      changes: [
        { build: 'pkg:deb/fathom/libtls for amd64', fromVersion: '1', toVersion: '2', at: '2026-11-03T02:00:00Z' },
        { build: 'pkg:deb/fathom/shell', toVersion: '5', at: '2026-11-01T02:00:00Z' },
        { build: 'pkg:deb/fathom/old', fromVersion: '3', at: '2026-10-01T02:00:00Z' },
      ],
      outcomes: [
        { update: 'A-1', what: 'INSTALLED', at: '2026-11-02T02:00:00Z' },
        { update: 'A-2', what: 'FAILED', at: '2026-11-04T02:00:00Z', code: '0x7', failureClass: 'REFUSED' },
      ],
      absences: [{ from: '2026-09-01T00:00:00Z', to: '2026-09-20T00:00:00Z' }],
    } as unknown as Schemas['HostView'];
    expect(history(host).map((line) => line.words)).toEqual([
      'Told: it failed to install A-2 with 0x7, refused.',
      'Reported: libtls from 1 to 2.',
      'Told: it installed A-1.',
      'Reported: shell 5 is new.',
      'Reported: old 3 is gone.',
      'Heard from again after a silence since 2026-09-01.',
      'First report.',
    ]);
  });
  it('calls a build by the last part of its name', () => {
    expect(buildName('pkg:rpm/tarn/kernel on tarn-4 for x86_64')).toBe('kernel');
  });
});

describe('where what was found is shown', () => {
  const found = (type: Schemas['Found']['type'], id: string) => ({ type, id, name: id, note: '' });
  it('is the case for who judges, and who carries it for the others', () => {
    expect(placeOf(found('UPDATE', 'TRN-2026:0001'), true)).toBe('/cases/TRN-2026%3A0001');
    expect(placeOf(found('UPDATE', 'TRN-2026:0001'), false)).toBe('/carriers/TRN-2026%3A0001');
  });
  it('is the list of hosts for a CVE, a product and a population, and the page of a host', () => {
    expect(placeOf(found('CVE', 'CVE-2026-9000001'), true)).toBe('/hosts?show=ALL&lacks=CVE-2026-9000001');
    expect(placeOf(found('PRODUCT', 'pkg:generic/desk@1.0'), true)).toBe('/hosts?show=ALL&has=pkg%3Ageneric%2Fdesk%401.0');
    expect(placeOf(found('POPULATION', 'kiosks'), true)).toBe('/hosts?show=ALL&population=kiosks');
    expect(placeOf(found('HOST', 'ksk-1'), true)).toBe('/hosts/ksk-1');
  });
});
